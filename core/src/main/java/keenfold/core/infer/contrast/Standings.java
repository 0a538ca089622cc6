package keenfold.core.infer.contrast;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.metric.Metric;
import keenfold.core.run.Parallel;

/**
 * Which candidates may be the best, and the ranks that each may have.
 *
 * <p>Definition: means are turned so that higher is better. T_i = max over j of (θ_j − θ_i)/√V_ij; M_ib = max over j of the
 * signed T*_b of j against i; c_i the quantile of M_ib at {@code level}. Candidate i may be the best when T_i ≤ c_i;
 * p_best = (1 + #{b: M_ib ≥ T_i})/(B + 1). Its rank lies between 1 + the number of j shown to be better and K less the
 * number shown to be worse, both by the quantile of max over j of |T*_b|. Where a method has no such draws, Holm over the
 * comparisons of i takes their place, one-sided and two-sided. Pairs that differ on fewer than 6 rows show nothing.
 *
 * <p>The set of those that may be the best holds the truly best one with probability {@code level}: that one alone must not
 * be lost, so that nothing is adjusted over i.
 *
 * <p>References: Gupta (1965), Technometrics 7(2), doi:10.1080/00401706.1965.10490251; Hsu (1984), Ann. Statist. 12(3),
 * doi:10.1214/aos/1176346732; Hansen, Lunde and Nason (2011), Econometrica 79(2), doi:10.3982/ECTA5771; Mogstad, Romano,
 * Shaikh and Wilhelm (2024), Rev. Econ. Stud. 91(1), doi:10.1093/restud/rdad006, for ranks.
 */
public final class Standings {
    private final List<Standing> all;
    /** By candidate and opponent: how far the opponent's mean may lie above without being shown to be better. */
    private final Map<List<Integer>, Double> reaches;

    private Standings(List<Standing> all, Map<List<Integer>, Double> reaches) {
        this.all = List.copyOf(all);
        this.reaches = reaches;
    }

    /**
     * Derives standings from all pairs.
     *
     * @param compared the candidates, rising
     * @param found every pair of them
     * @param level such as 0.95
     * @param draws B, of methods that have draws
     */
    static Standings of(
            List<Integer> compared, List<PairResult> found, Metric metric, double level, int draws, Parallel parallel) {
        double sign = metric.higherIsBetter() ? 1 : -1;
        List<PairResult> tested = found.stream().filter(PairResult::tested).toList();
        boolean drawn = tested.stream().allMatch(f -> f.pivot().isPresent());
        List<OfCandidate> each = parallel.map(compared.size(), i -> {
            List<Opponent> own = Opponent.of(compared.get(i), tested, sign);
            return drawn
                    ? byDraws(compared.get(i), own, compared.size(), level, draws)
                    : byHolm(compared.get(i), own, compared.size(), level);
        });
        Map<List<Integer>, Double> reaches = new HashMap<>();
        each.forEach(o -> reaches.putAll(o.reaches));
        return new Standings(each.stream().map(OfCandidate::standing).toList(), reaches);
    }

    /**
     * Another candidate, seen from one.
     *
     * @param pair the two
     * @param other its index
     * @param sign by which differences of the pair become the other's lead
     */
    private record Opponent(PairResult pair, int other, double sign) {
        /** Those of one candidate in tested pairs; {@code sign} is that by which differences are turned. */
        static List<Opponent> of(int candidate, List<PairResult> tested, double sign) {
            List<Opponent> opponents = new ArrayList<>();
            for (PairResult f : tested) {
                if (f.candidate() == candidate) {
                    opponents.add(new Opponent(f, f.against(), -sign));
                } else if (f.against() == candidate) {
                    opponents.add(new Opponent(f, f.candidate(), sign));
                }
            }
            return opponents;
        }

        /** By how much the other's turned mean is higher. */
        double lead() {
            return sign * pair.difference();
        }

        double statistic() {
            return lead() / pair.variance().standardError();
        }

        double drawn(int b) {
            return sign * pair.pivot().orElseThrow().value(b);
        }
    }

    private record OfCandidate(Standing standing, Map<List<Integer>, Double> reaches) {}

    private static OfCandidate byDraws(int candidate, List<Opponent> opponents, int count, double level, int draws) {
        double[] signed = new double[draws];
        double[] sizes = new double[draws];
        Arrays.fill(signed, Double.NEGATIVE_INFINITY);
        for (Opponent o : opponents) {
            for (int b = 0; b < draws; b++) {
                double value = o.drawn(b);
                signed[b] = Math.max(signed[b], value);
                sizes[b] = Math.max(sizes[b], Math.abs(value));
            }
        }
        double most = opponents.stream().mapToDouble(Opponent::statistic).max().orElse(Double.NEGATIVE_INFINITY);
        double p = opponents.isEmpty() ? 1 : Pivot.p(signed, most);
        double oneSided = Pivot.quantile(signed, level);
        double twoSided = Pivot.quantile(sizes, level);
        return standing(
                candidate,
                opponents,
                count,
                p,
                !Pivot.significant(p, level, draws),
                o -> Math.abs(o.statistic()) > twoSided,
                o -> oneSided * o.pair.variance().standardError());
    }

    private static OfCandidate byHolm(int candidate, List<Opponent> opponents, int count, double level) {
        int comparisons = Math.max(1, opponents.size());
        double least = opponents.stream()
                .mapToDouble(o -> o.lead() > 0 ? o.pair.p() / 2 : 1 - o.pair.p() / 2)
                .min()
                .orElse(1);
        double p = Math.min(1, comparisons * least);
        double[] adjusted =
                Adjust.holm(opponents.stream().mapToDouble(o -> o.pair.p()).toArray());
        double alone = 1 - 2 * (1 - level) / comparisons;
        return standing(
                candidate,
                opponents,
                count,
                p,
                p >= 1 - level - 1e-12,
                o -> adjusted[opponents.indexOf(o)] < 1 - level - 1e-12,
                o -> {
                    double[] ends = o.pair.bounds().at(alone);
                    return (ends[1] - ends[0]) / 2;
                });
    }

    private interface Shown {
        boolean differs(Opponent opponent);
    }

    private interface Reach {
        double of(Opponent opponent);
    }

    private static OfCandidate standing(
            int candidate, List<Opponent> opponents, int count, double p, boolean mayBeBest, Shown shown, Reach reach) {
        int better = 0;
        int worse = 0;
        double deficit = opponents.isEmpty() ? Double.POSITIVE_INFINITY : 0;
        Map<List<Integer>, Double> reaches = new HashMap<>();
        for (Opponent o : opponents) {
            double own = reach.of(o);
            own = Double.isNaN(own) ? Double.POSITIVE_INFINITY : own;
            reaches.put(List.of(candidate, o.other), own);
            deficit = Math.max(deficit, o.lead() + own);
            if (shown.differs(o)) {
                better += o.lead() > 0 ? 1 : 0;
                worse += o.lead() < 0 ? 1 : 0;
            }
        }
        return new OfCandidate(new Standing(candidate, p, mayBeBest, 1 + better, count - worse, deficit), reaches);
    }

    /** Returns how each compared candidate stands, in plan order. */
    public List<Standing> all() {
        return all;
    }

    /**
     * Returns how one compared candidate stands.
     *
     * @throws java.util.NoSuchElementException if it is not compared
     */
    public Standing of(int candidate) {
        return all.stream().filter(s -> s.candidate() == candidate).findFirst().orElseThrow();
    }

    /** Returns by how much the mean of another may be better before it is shown to be; infinite where nothing can be shown. */
    public double reach(int candidate, int other) {
        return reaches.getOrDefault(List.of(candidate, other), Double.POSITIVE_INFINITY);
    }
}
