package keenfold.io.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnRange;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.split.RollingOrigin;
import keenfold.core.survey.ColumnProfile;
import keenfold.core.survey.Suspicion;
import keenfold.io.InputException;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;

/**
 * Writes a first plan for a table: splits, metrics and candidates that suit what is seen in it, each with its reason.
 *
 * <p>Few rows get more repeats; columns that look like groups or dates get the scheme that respects them; imbalance gets a
 * metric that the majority guess does not win; what another value in each row names is left out.
 */
public final class Drafter {
    private static final double IMBALANCED = 0.75;

    /** Up to this share of the rows, equal ones are taken for copies; beyond it, columns just have few values. */
    private static final double MOST_COPIES = 0.2;

    /** What a comment begins with until all are aligned: no value can hold a control character. */
    private static final String COMMENT = "\u0001# ";

    /** Longer lines are followed by their comment at once, and do not push those of others to the right. */
    private static final int WIDEST = 36;

    private static final int LINE = 98;

    /** The share of the rows that classes too rare for every fold may hold. */
    private static final double LET_GO = 0.05;

    private static final int FEW_ROWS = 300;
    private static final int MANY_ROWS = 5_000;
    private static final int VERY_MANY_ROWS = 50_000;

    /** Up to how many rows ten times ten fits of a kind are a matter of minutes; kinds that are not here have no limit. */
    private static final Map<String, Integer> MOST_ROWS =
            Map.of("nearest", 30_000, "forest", 30_000, "network", 30_000, "svm", 8_000);

    private final ReadTable table;
    private final DataSpec asked;
    private final long seed;
    private final StringBuilder out = new StringBuilder();

    private Drafter(ReadTable table, DataSpec asked, long seed) {
        this.table = table;
        this.asked = asked;
        this.seed = seed;
    }

    /**
     * Returns a plan as commented YAML.
     *
     * @param asked file and target, and whatever else the user said
     * @param scored what the splits allow
     * @param seen what differences can be expected to be seen, in a sentence; empty for none
     */
    public static String draft(ReadTable table, DataSpec asked, long seed, Scored scored, String seen) {
        return new Drafter(table, asked, seed).draft(scored, seen);
    }

    /** What the test sides of splits allow to be scored. */
    public enum Scored {
        /** Every metric. */
        ALL,
        /** Not those that compare rows of one fold, since folds are too small. */
        NO_RANKS,
        /** Only means over rows: splits are scored each by itself, and some test no row of some class. */
        ROWS
    }

    /** Returns whether a classifier suits a first comparison of so many rows: others would take hours. */
    public static boolean suits(String kind, int rows) {
        return rows <= MOST_ROWS.getOrDefault(kind, Integer.MAX_VALUE);
    }

    /** A column of some role, and why. */
    private record Role(String column, String reason) {}

    private String draft(Scored scored, String seen) {
        Categories ofRows = column(asked.target()).match(n -> Categories.of(n.name()), c -> c);
        Categories target = asked.weights().map(w -> cases(ofRows, column(w))).orElse(ofRows);
        int[] counts = Arrays.stream(target.counts()).filter(c -> c > 0).toArray();
        int rows = Arrays.stream(counts).sum();
        double most = Arrays.stream(counts).max().orElse(0) / (double) Math.max(1, rows);
        List<ColumnProfile> profiles =
                table.columns().stream().map(c -> ColumnProfile.of(c.column())).toList();
        List<String> dates = table.columns().stream()
                .filter(c -> c.kind() == ReadColumn.Kind.DATE)
                .map(c -> c.column().name())
                .toList();
        List<Suspicion> suspicions = Suspicion.in(table.table(), profiles, dates, Optional.of(ofRows)).stream()
                .filter(s -> !s.column().equals(asked.weights().orElse(""))
                        || s.column().isEmpty())
                .toList();
        Optional<Role> groups = role(
                asked.groups(),
                // A row without a group is refused, so that such a column is left to whoever knows what it means.
                suspicions.stream().filter(s -> whole(profiles, s.column())).toList(),
                Suspicion.Kind.GROUP_LIKE,
                s -> s.count() + " values that recur like names of groups: kept whole");
        Optional<Role> order = role(
                asked.order(),
                suspicions.stream().filter(s -> dates.contains(s.column())).toList(),
                Suspicion.Kind.TIME_LIKE,
                s -> "dates: rows have an order in time");
        List<String> ids = suspicions.stream()
                .filter(s -> s.kind() == Suspicion.Kind.UNIQUE || s.kind() == Suspicion.Kind.CONSTANT)
                .map(Suspicion::column)
                .filter(c -> groups.filter(g -> g.column().equals(c)).isEmpty())
                .filter(c -> order.filter(o -> o.column().equals(c)).isEmpty())
                .toList();
        out.append(String.format(
                Locale.ROOT,
                """
                # Drafted by Keen Fold for %s (%d rows with a class). Read it, change what you know better, then:
                #   keenfold folds PLAN            see the splits before anything is fitted
                #   keenfold run PLAN -o LEDGER    every fit; then keenfold scores, contrast, pick
                """,
                visible(asked.name()),
                rows));
        out.append("keenfold: 1\n");
        data(target, groups, order, ids, suspicions);
        out.append("# holdout: {share: 0.2}\u0001# sets rows aside before anything else, to be scored at the end\n");
        int repeated = suspicions.stream()
                .filter(s -> s.kind() == Suspicion.Kind.DUPLICATES)
                .mapToInt(Suspicion::count)
                .sum();
        boolean copies = repeated > 0 && repeated <= MOST_COPIES * rows;
        if (repeated > 0 && !copies) {
            out.append("# ").append(repeated);
            out.append(" rows repeat an earlier one, as they will where columns have few values;\n");
            out.append("# if they are copies of the same cases, add bind-equal: true to splits\n");
        }
        splits(rows, counts, groups, order, copies);
        comment(seen);
        out.append("seed: ").append(seed).append("\u0001# all randomness derives from it\n");
        metrics(counts.length, most, scored);
        candidates(rows);
        out.append(
                "evidence: {draws: 5000, level: 0.95, margin: 0}\u0001# margin: differences that would not matter to you\n");
        out.append("pick: {rule: one-se}\u0001# the simplest within one standard error of the best\n");
        return aligned(out.toString());
    }

    /** A row that counts for several cases stands there as often; what cannot be a count is refused where data are read. */
    private static Categories cases(Categories target, Column weights) {
        double[] counts = weights.match(Numbers::toArray, k -> new double[0]);
        double all = Arrays.stream(counts).sum();
        return all >= 1 && all <= DataReader.MOST_CASES
                ? target.select(IntStream.range(0, counts.length)
                        .flatMap(i -> IntStream.generate(() -> i).limit((long) Math.max(0, counts[i])))
                        .toArray())
                : target;
    }

    private static boolean whole(List<ColumnProfile> profiles, String column) {
        return profiles.stream().anyMatch(p -> p.name().equals(column) && p.missing() == 0);
    }

    /** Comments behind neighbouring lines begin below each other. */
    private static String aligned(String text) {
        List<String> lines = text.lines().toList();
        StringBuilder all = new StringBuilder();
        int from = 0;
        while (from < lines.size()) {
            int to = from;
            int width = 0;
            while (to < lines.size() && lines.get(to).contains(COMMENT)) {
                int at = lines.get(to++).indexOf(COMMENT);
                width = at > WIDEST ? width : Math.max(width, at);
            }
            for (int i = from; i < to; i++) {
                int at = lines.get(i).indexOf(COMMENT);
                all.append(lines.get(i), 0, at)
                        .append(" ".repeat(Math.max(0, width - at)))
                        .append("   # ")
                        .append(lines.get(i).substring(at + COMMENT.length()))
                        .append('\n');
            }
            if (to == from) {
                all.append(lines.get(to++)).append('\n');
            }
            from = to;
        }
        return all.toString();
    }

    private Column column(String name) {
        return table.table()
                .column(name)
                .orElseThrow(() -> new InputException(
                        asked.file(), "there is no column \"" + name + "\"" + Suggestion.hint(name, table.names())));
    }

    private static Optional<Role> role(
            Optional<String> said,
            List<Suspicion> suspicions,
            Suspicion.Kind kind,
            java.util.function.Function<Suspicion, String> reason) {
        return said.map(s -> new Role(s, "as you said")).or(() -> suspicions.stream()
                .filter(s -> s.kind() == kind)
                .findFirst()
                .map(s -> new Role(s.column(), reason.apply(s))));
    }

    private void data(
            Categories target,
            Optional<Role> groups,
            Optional<Role> order,
            List<String> ids,
            List<Suspicion> suspicions) {
        out.append("data:\n  - file: ").append(PlanWriter.scalar(asked.file())).append('\n');
        line("target", PlanWriter.scalar(asked.target()), classes(target));
        positive(target).ifPresent(p -> line("positive", PlanWriter.scalar(p.column()), p.reason()));
        groups.ifPresent(g -> line("groups", PlanWriter.scalar(g.column()), g.reason()));
        order.ifPresent(o -> line("order", PlanWriter.scalar(o.column()), o.reason()));
        asked.weights().ifPresent(w -> line("weights", PlanWriter.scalar(w), "for how many cases a row counts"));
        List<String> left = new ArrayList<>(asked.leaveOut());
        List<String> leftOut = ColumnRange.expanded(
                left, table.columns().stream().map(c -> c.column().name()).toList());
        ids.stream().filter(i -> !leftOut.contains(i)).forEach(left::add);
        if (!left.isEmpty()) {
            line(
                    "leave-out",
                    list(left),
                    ids.isEmpty() ? "as you said" : "differs in every row, or in none: teaches nothing");
        }
        if (!asked.format().text().isEmpty()) {
            line("text", list(asked.format().text().stream().sorted().toList()), "read as categories");
        }
        if (!asked.format().number().isEmpty()) {
            line("number", list(asked.format().number().stream().sorted().toList()), "read as numbers");
        }
        if (!asked.format().missing().equals(Set.copyOf(TableFormat.MISSING))) {
            line("missing", list(asked.format().missing().stream().sorted().toList()), "stands for a missing value");
        }
        asked.format().separator().ifPresent(s -> line("separator", s == '\t' ? "tab" : PlanWriter.scalar("" + s), ""));
        if (asked.format().decimal() != '.') {
            line("decimal", PlanWriter.scalar(Character.toString(asked.format().decimal())), "");
        }
        asked.format().encoding().ifPresent(e -> line("encoding", PlanWriter.scalar(e.name()), ""));
        for (Suspicion s : suspicions) {
            boolean known = left.contains(s.column())
                    || leftOut.contains(s.column())
                    || groups.filter(g -> g.column().equals(s.column())).isPresent()
                    || order.filter(o -> o.column().equals(s.column())).isPresent();
            if (!known) {
                remark(s).ifPresent(r -> out.append(" \u0001# ").append(r).append('\n'));
            }
        }
    }

    private static Optional<String> remark(Suspicion s) {
        String column = PlanWriter.scalar(s.column());
        return switch (s.kind()) {
            case TELLS_CLASS ->
                Optional.of(column + " tells the class nearly by itself; if it is not known before the class"
                        + " is, add it to leave-out");
            case GROUP_LIKE ->
                Optional.of(
                        column + " looks like groups too; if new rows come from new ones of these, name it in groups");
            case TIME_LIKE ->
                Optional.of(column + " rises from row to row; if it says which rows came first, name it in order");
            default -> Optional.empty();
        };
    }

    private void line(String key, String value, String comment) {
        out.append("    ").append(key).append(": ").append(value);
        out.append(comment.isEmpty() ? "" : COMMENT + comment).append('\n');
    }

    private static String list(List<String> texts) {
        return texts.stream().map(PlanWriter::scalar).collect(Collectors.joining(", ", "[", "]"));
    }

    private static String visible(String text) {
        return text.replaceAll("\\p{Cntrl}", "?");
    }

    private static String classes(Categories target) {
        int[] counts = target.counts();
        List<String> parts = new ArrayList<>();
        for (int c = 0; c < counts.length && parts.size() < 6; c++) {
            if (counts[c] > 0) {
                parts.add(counts[c] + " " + visible(target.levels().get(c)));
            }
        }
        return String.join(", ", parts) + (counts.length > parts.size() ? ", ..." : "");
    }

    private Optional<Role> positive(Categories target) {
        if (asked.positive().isPresent()) {
            return Optional.of(new Role(asked.positive().get(), "as you said"));
        }
        Categories used = target.withoutUnused();
        return used.levels().size() == 2
                ? Optional.of(new Role(used.levels().get(Classes.rarest(used.counts())), "the rarer class"))
                : Optional.empty();
    }

    /** Writes a sentence as lines of comment. */
    private void comment(String sentence) {
        StringBuilder line = new StringBuilder("#");
        for (String word : sentence.split(" ", -1)) {
            if (line.length() + 1 + word.length() > LINE) {
                out.append(line).append('\n');
                line = new StringBuilder("#");
            }
            line.append(' ').append(word);
        }
        out.append(sentence.isEmpty() ? "" : line + "\n");
    }

    private void splits(int rows, int[] counts, Optional<Role> groups, Optional<Role> order, boolean copies) {
        String bind = copies ? ", bind-equal: true" : "";
        String also = copies ? "; equal rows stay together" : "";
        if (order.isPresent() && groups.isEmpty()) {
            RollingOrigin suiting =
                    RollingOrigin.suiting(rows, IntStream.of(counts).min().orElse(0));
            out.append("splits: {scheme: rolling-origin, first: ")
                    .append(suiting.first())
                    .append(", step: ")
                    .append(suiting.step())
                    .append(bind);
            out.append("}\u0001# each split trains only on what came before")
                    .append(also)
                    .append('\n');
            out.append(
                    "# splits: {scheme: k-fold, folds: 10, repeats: 10}\u0001# if time does not matter to new rows\n");
            return;
        }
        int units =
                groups.map(g -> ColumnProfile.of(column(g.column())).distinct()).orElse(rows);
        if (groups.isPresent() && units <= 10) {
            out.append("splits: {scheme: leave-group-out")
                    .append(bind)
                    .append("}\u0001# each of the ")
                    .append(units);
            out.append(" groups is tested alone").append(also).append('\n');
            return;
        }
        int most = rows >= VERY_MANY_ROWS ? 5 : 10;
        int rarest = rarestToDivideBy(counts, most);
        int folds = Math.max(2, Math.min(Math.min(most, rarest), units));
        int repeats = rows < FEW_ROWS ? 20 : rows < MANY_ROWS ? 10 : 3;
        String why = rows < FEW_ROWS
                ? "few rows: more repeats"
                : rows < MANY_ROWS ? "every row is tested " + repeats + " times" : "many rows: fewer repeats will do";
        if (folds < 10 && folds == rarest) {
            why = "the rarest class has " + rarest + " rows, so no more folds than that";
        }
        int rarer = Arrays.stream(counts).min().orElse(0);
        if (rarer < folds && rarer < rarest) {
            why += "; a class of " + rarer + (rarer == 1 ? " row is" : " rows is") + " not in every fold";
        }
        out.append("splits: {scheme: k-fold, folds: ")
                .append(folds)
                .append(", repeats: ")
                .append(repeats);
        out.append(", stratified: true")
                .append(bind)
                .append("}\u0001# ")
                .append(why)
                .append(also)
                .append('\n');
        if (order.isPresent()) {
            out.append(
                    "# splits: {scheme: rolling-origin}\u0001# if new rows will be later ones: trains on what came before\n");
        }
    }

    /**
     * The size of the rarest class that every fold is to test: of three or more classes, those too small for that are let go
     * as long as they hold few of the rows.
     */
    private static int rarestToDivideBy(int[] counts, int folds) {
        int[] rising = counts.clone();
        Arrays.sort(rising);
        int total = Arrays.stream(rising).sum();
        int let = 0;
        int rows = 0;
        while (rising.length - let > 2 && rising[let] < folds && rows + rising[let] <= LET_GO * total) {
            rows += rising[let];
            let++;
        }
        return rising.length == 0 ? 0 : rising[let];
    }

    private void metrics(int classes, double most, Scored scored) {
        if (scored == Scored.ROWS) {
            out.append("metrics: [log-loss, accuracy, brier]\n");
            out.append(
                    "primary: log-loss\u0001# some splits test no row of some class: means over rows alone exist on all\n");
            return;
        }
        boolean ranks = scored == Scored.ALL;
        boolean imbalanced = most >= IMBALANCED;
        List<String> metrics = new ArrayList<>();
        String why;
        if (imbalanced || most > 1.5 / classes) {
            metrics.add(ranks && classes == 2 ? "auc" : "balanced-accuracy");
            metrics.addAll(classes == 2 ? List.of("recall", "precision") : List.of("recall:shares"));
            why = String.format(Locale.ROOT, "uneven classes: guessing the largest has an accuracy of %.2f", most);
        } else {
            metrics.add("accuracy");
            why = "classes are about even";
        }
        for (String more : List.of("auc", "balanced-accuracy", "accuracy", "log-loss")) {
            if (!metrics.contains(more) && (ranks || !more.equals("auc"))) {
                metrics.add(more);
            }
        }
        String list = metrics.stream()
                .map(m -> m.indexOf(':') < 0 ? m : '"' + m + '"')
                .collect(Collectors.joining(", ", "[", "]"));
        out.append("metrics: ").append(list).append('\n');
        out.append("primary: ").append(metrics.get(0)).append("\u0001# ").append(why);
        out.append(ranks ? "" : "; folds are too small for auc").append('\n');
    }

    private void candidates(int rows) {
        out.append("candidates:\u0001# from a guess to what is flexible\n");
        out.append("  majority: {classifier: majority}\u0001# what every other candidate has to beat\n");
        out.append("  naive-bayes: {classifier: naive-bayes}\n");
        out.append(
                "  logistic: {classifier: logistic, strength: {vary: [1, 30, 300]}}\u0001# a stronger penalty is simpler\n");
        if (suits("nearest", rows)) {
            String neighbours = rows < 60 ? "[1, 3, 7]" : "[1, 5, 15, 45]";
            out.append("  nearest: {classifier: nearest, neighbours: {vary: ")
                    .append(neighbours)
                    .append("}}\n");
        }
        out.append("  tree: {classifier: tree}\u0001# cut back as far as inner folds allow\n");
        if (suits("forest", rows)) {
            out.append("  forest: {classifier: forest, trees: 100}\u0001# more trees: steadier, slower\n");
        }
        out.append("  boosting: {classifier: boosting, depth: 3, rounds: {vary: [25, 100]}}\u0001# one run for both\n");
        if (suits("svm", rows)) {
            out.append("  svm: {classifier: svm}\u0001# a curved border between the classes, kept wide\n");
        }
        if (suits("network", rows)) {
            out.append("  network: {classifier: network}\n");
        }
    }
}
