package keenfold.study.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.pick.Rule;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.table.Stated;
import keenfold.results.table.NumberFormats;

/**
 * What was settled before the first fit, and what only afterwards: a comparison that was named after the results could be
 * seen has no smaller family, and a margin that was set then is marked.
 */
public final class Beforehand {
    private final LedgerContent content;
    private final InferenceSettings asked;

    /** @param asked how differences are to be tested */
    public Beforehand(LedgerContent content, InferenceSettings asked) {
        this.content = content;
        this.asked = asked;
    }

    /** Whether everything that was stated before the first fit says so; of shards each has its own first fit. */
    private boolean stated(Predicate<InferenceSettings> what) {
        List<Stated> first =
                content.stated().stream().filter(Stated::beforehand).toList();
        return first.isEmpty()
                ? what.test(content.plan().evidence())
                : first.stream().map(Stated::evidence).allMatch(what);
    }

    private boolean againstAfterwards() {
        return asked.against().isPresent() && !stated(e -> e.against().equals(asked.against()));
    }

    private boolean marginAfterwards() {
        return asked.margin() > 0 && !stated(e -> e.margin() == asked.margin());
    }

    /** Returns how differences are tested, given what was settled when. */
    public InferenceSettings heeded() {
        InferenceSettings heeded = againstAfterwards() ? asked.withAgainst(Optional.empty()) : asked;
        return marginAfterwards() ? heeded.withMarginAfterwards() : heeded;
    }

    /** Returns what a reader of calls must know of it. */
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>();
        if (againstAfterwards()) {
            String name = asked.against().orElseThrow();
            notices.add(Notice.of(
                            "against-afterwards",
                            "that candidates are compared with %s was said %s, so that p-values are adjusted for all pairs",
                            name,
                            when(e -> e.against().equals(asked.against())))
                    .with("against", name));
        }
        if (marginAfterwards()) {
            notices.add(Notice.of(
                            "margin-afterwards",
                            "the margin of %s was set %s; equivalence by it is marked so",
                            NumberFormats.shortest(asked.margin()),
                            when(e -> e.margin() == asked.margin()))
                    .with("margin", asked.margin()));
        }
        return notices;
    }

    /** When the plan first said something after its first fit. */
    private String when(Predicate<InferenceSettings> what) {
        return content.stated().stream()
                .filter(s -> !s.beforehand() && what.test(s.evidence()))
                .findFirst()
                .map(s -> "after " + Plural.of(s.fits(), "fit was made", "fits were made") + " ("
                        + s.at().replace("T", " ").replace("Z", " UTC") + ")")
                .orElse("after the fits were made");
    }

    /** Returns what a reader of a pick must know of the rule. */
    public List<Notice> notices(Rule rule) {
        List<Notice> notices = new ArrayList<>(notices());
        List<String> before = content.stated().stream()
                .filter(Stated::beforehand)
                .map(s -> s.choosing().rule().label())
                .distinct()
                .toList();
        if (!before.isEmpty() && !before.equals(List.of(rule.label()))) {
            notices.add(Notice.of(
                            "rule-afterwards",
                            "before the first fit the rule was %s; to pick by %s was said afterwards",
                            String.join(" or ", before),
                            rule.label())
                    .with("rule", rule.label())
                    .with("rules_before", before));
        }
        return notices;
    }
}
