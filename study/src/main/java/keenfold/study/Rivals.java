package keenfold.study;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.TwoResults;
import keenfold.io.InputException;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Plan;
import keenfold.io.table.DataSpec;
import keenfold.results.Versus;

/** Sets the candidates of one ledger against those of another. */
final class Rivals {
    private final Study one;
    private final Study other;
    private final InferenceSettings evidence;

    /** @param evidence how differences are tested; no candidate is named to compare with */
    Rivals(Study one, Study other, InferenceSettings evidence) {
        this.one = one;
        this.other = other;
        // Runs on halves are of one ledger's candidates; of two there are none together.
        this.evidence =
                evidence.method() == Method.HALVES ? evidence.withMethod(Method.PIVOT, Optional.empty()) : evidence;
    }

    /**
     * Compares what both have.
     *
     * @param metrics by which
     * @throws InputException if they have no data set or no candidate in common
     */
    Versus versus(List<MetricName> metrics) {
        List<Versus.Part> parts = new ArrayList<>();
        List<String> only = new ArrayList<>();
        Results mine = results(one, metrics);
        Results theirs = results(other, metrics);
        List<String> sets = mine.tasks().stream().map(t -> t.data().name()).toList();
        List<String> otherSets =
                theirs.tasks().stream().map(t -> t.data().name()).toList();
        boolean single = sets.size() == 1 && otherSets.size() == 1;
        for (int t = 0; t < sets.size(); t++) {
            int at = single ? 0 : otherSets.indexOf(sets.get(t));
            if (at >= 0) {
                parts.addAll(parts(mine.only(t), theirs.only(at), metrics));
            }
        }
        if (!single) {
            only("data set", sets, otherSets, only);
        }
        only("candidate", names(mine), names(theirs), only);
        if (parts.isEmpty() || parts.get(0).pairs().isEmpty()) {
            throw new InputException(
                    one.ledger() + " and " + other.ledger(),
                    "have no " + (parts.isEmpty() ? "data set" : "candidate")
                            + " of the same name; keenfold rename gives one another name");
        }
        return new Versus(
                one.ledger().toString(), other.ledger().toString(), evidence.level(), parts, only, notices(parts));
    }

    private Results results(Study study, List<MetricName> metrics) {
        return InputException.at(study.ledger().toString(), () -> Rescored.of(study.chosen(), metrics));
    }

    private static List<String> names(Results results) {
        return results.candidates().stream().map(Candidate::name).toList();
    }

    private void only(String what, List<String> mine, List<String> theirs, List<String> only) {
        Set<String> here = new TreeSet<>(mine);
        theirs.forEach(here::remove);
        Set<String> there = new TreeSet<>(theirs);
        mine.forEach(there::remove);
        if (!here.isEmpty()) {
            only.add(what + " in " + one.ledger() + " alone: " + String.join(", ", here));
        }
        if (!there.isEmpty()) {
            only.add(what + " in " + other.ledger() + " alone: " + String.join(", ", there));
        }
    }

    private List<Versus.Part> parts(Results mine, Results theirs, List<MetricName> metrics) {
        TwoResults two = new TwoResults(mine, theirs);
        String apart = two.whyApart();
        boolean paired = apart.isEmpty();
        Inference first = inference(paired ? two.joined() : mine, one.plan());
        Inference second = paired ? first : inference(theirs, other.plan());
        List<Versus.Part> parts = new ArrayList<>();
        for (MetricName metric : metrics) {
            MetricInference here = first.metric(metric.text());
            MetricInference there = second.metric(metric.text());
            parts.add(new Versus.Part(
                    mine.tasks().get(0).data().name(),
                    theirs.tasks().get(0).data().name(),
                    metric.text(),
                    here.metric().higherIsBetter(),
                    mine.tasks().get(0).data().rows(),
                    theirs.tasks().get(0).data().rows(),
                    paired ? two.repeats() : 0,
                    fingerprint(one, mine).equals(fingerprint(other, theirs)),
                    apart,
                    pairs(two.pairs(), mine, theirs, here, there, paired)));
        }
        return parts;
    }

    /** The fingerprint of the one data set of some results; empty of one that is not in the plan any more. */
    private static String fingerprint(Study study, Results results) {
        String name = results.tasks().get(0).data().name();
        List<String> names = study.plan().data().stream().map(DataSpec::name).toList();
        List<String> all = LedgerReader.fingerprints(study.ledger());
        int at = names.indexOf(name);
        return at >= 0 && at < all.size() ? all.get(at) : "";
    }

    private Inference inference(Results results, Plan plan) {
        return Inference.of(
                AlignedPredictions.of(results, 0, plan.choosing().failedAllowed()),
                evidence,
                one.watcher().watched(one.parallel()));
    }

    private List<Versus.Pair> pairs(
            List<int[]> pairs,
            Results mine,
            Results theirs,
            MetricInference here,
            MetricInference there,
            boolean paired) {
        int first = mine.candidates().size();
        Map<Integer, Contrast> contrasts = new HashMap<>();
        if (paired) {
            List<int[]> compared = pairs.stream()
                    .filter(p ->
                            here.compared().contains(p[0]) && here.compared().contains(p[1]))
                    .toList();
            here.contrasts(compared).forEach(c -> contrasts.put(c.candidate(), c));
        }
        List<Versus.Pair> all = new ArrayList<>();
        for (int[] pair : pairs) {
            Candidate candidate = mine.candidates().get(pair[0]);
            MeanScore mean = here.means().get(pair[0]);
            MeanScore otherMean = there.means().get(paired ? pair[1] : pair[1] - first);
            Optional<Contrast> contrast = Optional.ofNullable(contrasts.get(pair[0]));
            boolean alike = FitIdentity.of(candidate)
                    .equals(FitIdentity.of(theirs.candidates().get(pair[1] - first)));
            List<String> notes = new ArrayList<>();
            if (!alike) {
                notes.add("other settings");
            }
            contrast.map(Contrast::note)
                    .filter(n -> !n.isEmpty())
                    .map(n -> n.equals(Contrast.IDENTICAL) ? "identical" : n)
                    .ifPresent(notes::add);
            if (paired && contrast.isEmpty()) {
                notes.add("failed, or undefined, in one of them");
            }
            all.add(new Versus.Pair(candidate.name(), mean, otherMean, contrast, String.join("; ", notes)));
        }
        return all;
    }

    private List<Notice> notices(List<Versus.Part> parts) {
        List<Notice> notices = new ArrayList<>();
        String apart = parts.stream()
                .filter(p -> !p.paired())
                .map(p -> p.dataset() + " (" + p.apart() + ")")
                .distinct()
                .collect(Collectors.joining(", "));
        if (!apart.isEmpty()) {
            notices.add(Notice.of(
                    "not-paired",
                    "%s: the two ledgers were not made on the same rows in the same folds, so that their means differ by"
                            + " that too; differences are shown, and none is tested",
                    apart));
        }
        String here = one.content().program();
        String there = other.content().program();
        if (!here.equals(there)) {
            notices.add(Notice.of(
                    "other-version", "%s was made by %s, %s by %s", one.ledger(), here, other.ledger(), there));
        }
        return notices;
    }
}
