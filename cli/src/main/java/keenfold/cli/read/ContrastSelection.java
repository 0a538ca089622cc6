package keenfold.cli.read;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.InputException;
import keenfold.io.Suggestion;

/**
 * Which contrasts are shown: all with one candidate, or every pair.
 *
 * @param title in words
 * @param contrasts in the order of showing
 * @param single whether all are with the same candidate
 */
public record ContrastSelection(String title, List<Contrast> contrasts, boolean single) {
    public static final String BEST = "best";
    static final String ALL = "all";

    public static ContrastSelection of(String ledger, Inference inference, MetricInference metric, String against) {
        List<String> names =
                inference.panel().candidates().stream().map(Candidate::name).toList();
        if (against.equals(ALL)) {
            List<Contrast> all = metric.contrasts().stream()
                    .map(c -> metric.metric().turned(c.difference()) >= 0 ? c : c.flipped())
                    .sorted(Comparator.comparingDouble(Contrast::pAdjusted).thenComparingDouble(Contrast::p))
                    .toList();
            return new ContrastSelection(metric.metric().name() + ": every pair, the better mean first", all, false);
        }
        Optional<Integer> named = against.equals(BEST)
                ? best(inference, metric)
                : IntStream.range(0, names.size())
                        .filter(c -> names.get(c).equals(against))
                        .boxed()
                        .findFirst();
        if (named.isEmpty() && !against.equals(BEST)) {
            throw new InputException(
                    ledger, "no candidate is called \"" + against + "\"" + Suggestion.hint(against, names));
        }
        if (named.isEmpty() || !metric.compared().contains(named.get())) {
            return new ContrastSelection("", List.of(), true);
        }
        int opponent = named.get();
        List<Contrast> contrasts = metric.compared().stream()
                .filter(c -> c != opponent)
                .flatMap(c -> metric.contrast(c, opponent).stream())
                .sorted(Comparator.comparingDouble(c -> -metric.metric().turned(c.difference())))
                .toList();
        String title = metric.metric().name() + ": each candidate against " + names.get(opponent)
                + (against.equals(BEST) ? ", which has the best mean" : "");
        return new ContrastSelection(title, contrasts, true);
    }

    private static Optional<Integer> best(Inference inference, MetricInference metric) {
        return Picker.best(metric, Simplicity.of(inference.panel()));
    }
}
