package keenfold.io.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.split.Holdout;
import keenfold.core.split.KFold;
import keenfold.core.split.LeaveGroupOut;
import keenfold.core.split.LeaveOneOut;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;

/** Reads the keys {@code splits} and {@code holdout} of a plan. */
final class DivisionReader {
    private final PlanNode node;
    private final Map<String, PlanNode> map;

    private DivisionReader(PlanNode node) {
        this.node = node;
        this.map = node.map(PlanReader.names(PlanKeys.SPLITS));
    }

    static Division read(Optional<PlanNode> splits, Optional<PlanNode> holdout) {
        Optional<Division.SetAside> aside = holdout.map(DivisionReader::setAside);
        if (splits.isEmpty()) {
            return new Division(Division.DEFAULT.source(), false, aside);
        }
        DivisionReader reader = new DivisionReader(splits.get());
        SplitSource source = reader.source();
        boolean bind = Optional.ofNullable(reader.map.get("bind-equal"))
                .map(PlanNode::truth)
                .orElse(false);
        return new Division(source, bind, aside);
    }

    private SplitSource source() {
        String scheme =
                Optional.ofNullable(map.get("scheme")).map(PlanNode::text).orElse("k-fold");
        List<String> schemes = PlanKeys.schemes();
        if (!schemes.contains(scheme)) {
            throw map.getOrDefault("scheme", node)
                    .wrong("scheme \"" + scheme + "\" is not known" + Suggestion.hint(scheme, schemes));
        }
        checkKeys(scheme);
        return node.check(() -> source(scheme));
    }

    /** A key that belongs to another scheme would do nothing here. */
    private void checkKeys(String scheme) {
        List<String> own = new ArrayList<>(PlanKeys.keysOf(scheme));
        own.add("scheme");
        own.add("bind-equal");
        map.forEach((key, value) -> {
            if (!own.contains(key)) {
                throw value.wrong("\"" + key + "\" says nothing to scheme " + scheme + ", whose keys are "
                        + String.join(", ", own));
            }
        });
    }

    private SplitSource source(String scheme) {
        return switch (scheme) {
            case "leave-one-out" -> new SplitSource.Made(new LeaveOneOut());
            case "leave-group-out" -> new SplitSource.Made(new LeaveGroupOut());
            case "monte-carlo" -> {
                MonteCarlo preset = MonteCarlo.DEFAULT;
                yield new SplitSource.Made(new MonteCarlo(
                        number("share", preset.share()),
                        repeats(preset.repeats()),
                        truth("stratified", preset.stratified())));
            }
            case "out-of-bag" -> {
                OutOfBag preset = OutOfBag.DEFAULT;
                yield new SplitSource.Made(
                        new OutOfBag(repeats(preset.repeats()), truth("stratified", preset.stratified())));
            }
            case "rolling-origin" -> {
                RollingOrigin preset = RollingOrigin.DEFAULT;
                boolean all = !map.containsKey("window") || map.get("window").as(t -> t.equals("all"));
                yield new SplitSource.Made(new RollingOrigin(
                        number("first", preset.first()),
                        number("step", preset.step()),
                        number("gap", preset.gap()),
                        all ? OptionalDouble.empty() : OptionalDouble.of(number("window", 0))));
            }
            case "given" -> given();
            case "apart" ->
                new SplitSource.Apart(PlanReader.required(map, node, "test").text());
            default -> {
                KFold preset = KFold.DEFAULT;
                yield new SplitSource.Made(new KFold(
                        whole("folds", preset.folds()),
                        repeats(preset.repeats()),
                        truth("stratified", preset.stratified())));
            }
        };
    }

    private SplitSource given() {
        boolean column = map.containsKey("column");
        Checks.that(
                column != map.containsKey("file"),
                "given splits stand in a column: or in a file: of folds; name one of the two");
        return column
                ? new SplitSource.GivenColumn(
                        PlanReader.required(map, node, "column").text())
                : new SplitSource.GivenFile(
                        PlanReader.required(map, node, "file").text());
    }

    private int repeats(int preset) {
        return PlanLimits.most("repeats", whole("repeats", preset), PlanLimits.REPEATS);
    }

    private int whole(String key, int preset) {
        return Optional.ofNullable(map.get(key)).map(PlanNode::whole).orElse(preset);
    }

    private double number(String key, double preset) {
        return Optional.ofNullable(map.get(key)).map(PlanNode::number).orElse(preset);
    }

    private boolean truth(String key, boolean preset) {
        return Optional.ofNullable(map.get(key)).map(PlanNode::truth).orElse(preset);
    }

    private static Division.SetAside setAside(PlanNode node) {
        Map<String, PlanNode> map = node.map(PlanReader.names(PlanKeys.HOLDOUT));
        if (map.containsKey("file")) {
            if (map.size() > 1) {
                throw node.wrong("a holdout is a file: or a part of the rows, not both");
            }
            return new Division.SetAside(
                    Optional.empty(), Optional.of(map.get("file").text()));
        }
        if (map.isEmpty()) {
            throw node.wrong("expected {share: 0.2}, {rows: last} or {file: other.csv}");
        }
        boolean last = Optional.ofNullable(map.get("rows"))
                .map(n -> n.as(t -> {
                    Checks.that(t.equals("last"), "rows: %s: expected last", t);
                    return true;
                }))
                .orElse(false);
        double share =
                Optional.ofNullable(map.get("share")).map(PlanNode::number).orElse(Holdout.DEFAULT_SHARE);
        return new Division.SetAside(Optional.of(node.check(() -> new Holdout(share, last))), Optional.empty());
    }
}
