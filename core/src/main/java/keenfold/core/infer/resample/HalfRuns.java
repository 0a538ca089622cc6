package keenfold.core.infer.resample;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;

/** The runs of all candidates on halves of the rows of one data set, as far as they are there. */
public final class HalfRuns {
    private final Map<List<Integer>, Outcomes> whole = new HashMap<>();
    private final int halves;

    /**
     * Joins the folds of each repeat of each half.
     *
     * @param fits of one data set, in any order; a repeat with a fold that failed, or is not there, is left out
     * @param folds how many folds a repeat has
     */
    HalfRuns(List<HalfFit> fits, int folds) {
        Map<List<Integer>, List<Fit>> byRun = new HashMap<>();
        int most = 0;
        for (HalfFit one : fits) {
            byRun.computeIfAbsent(
                            key(one.half(), one.fit().candidate(), one.fit().repeat()), k -> new ArrayList<>())
                    .add(one.fit());
            most = Math.max(most, one.half() + 1);
        }
        byRun.forEach((key, own) -> {
            if (own.size() == folds && own.stream().noneMatch(Fit::failed)) {
                whole.put(
                        key,
                        Outcomes.join(own.stream()
                                .sorted(Comparator.comparingInt(Fit::fold))
                                .flatMap(f -> f.result().stream())
                                .map(Fit.Result::outcomes)
                                .toList()));
            }
        });
        this.halves = most;
    }

    private static List<Integer> key(int half, int candidate, int repeat) {
        return List.of(half, candidate, repeat);
    }

    /** Returns how many halves there are fits of, or more if some between have none. */
    public int halves() {
        return halves;
    }

    /** Returns a candidate's outcomes in one repeat of a half, if all of its folds are there; rows are those of the whole. */
    public Optional<Outcomes> of(int half, int candidate, int repeat) {
        return Optional.ofNullable(whole.get(key(half, candidate, repeat)));
    }
}
