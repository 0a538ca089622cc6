package keenfold.core.pick;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Tier;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.result.Results;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PickerTest {
    private static final List<Candidate> CANDIDATES = List.of(
            Trials.candidate("guess", "majority"),
            Trials.candidate("near/3", "nearest", "neighbours=3"),
            Trials.candidate("near/15", "nearest", "neighbours=15"),
            Trials.candidate("near/25", "nearest", "neighbours=25"),
            Trials.candidate("logit", "logistic"));
    private static final AlignedPredictions PANEL = AlignedPredictions.of(
            Trials.results(new Comparison(
                    List.of(Trials.task(
                            Trials.data("d", 8, 150, 1.3, 0), new KFold(5, 4, true), "auc", "log-loss", "accuracy")),
                    CANDIDATES,
                    2)),
            0);

    private static MetricInference metric(String name) {
        return Inference.of(PANEL, InferenceSettings.DEFAULT.withDraws(500), Parallel.of(2))
                .metric(name);
    }

    /** The rule recomputed from the means alone, for metrics of either direction. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "log-loss", "accuracy"})
    void oneSeTakesTheSimplestWithinReach(String name) {
        MetricInference metric = metric(name);
        Simplicity simplicity = Simplicity.of(PANEL, SimplerBy.SIZE);
        Picks picks = Picker.pick(metric, simplicity, Rule.ONE_SE).orElseThrow();
        List<MeanScore> means = metric.means();
        double sign = metric.metric().higherIsBetter() ? 1 : -1;
        int best = 0;
        for (int c = 1; c < means.size(); c++) {
            best = sign * means.get(c).mean() > sign * means.get(best).mean() ? c : best;
        }
        assertThat(picks.best()).isEqualTo(best);
        double limit = sign * means.get(best).mean() - means.get(best).standardError();
        assertThat(picks.threshold()).isCloseTo(sign * limit, within(1e-15));
        int pick = best;
        for (int c = 0; c < means.size(); c++) {
            if (sign * means.get(c).mean() >= limit
                    && Simplicity.rounded(simplicity.size(c)) < Simplicity.rounded(simplicity.size(pick))) {
                pick = c;
            }
        }
        assertThat(picks.pick()).isEqualTo(pick);
        assertThat(picks.eligible().get(0)).isEqualTo(pick);
        assertThat(picks.frequency().values().stream()
                        .mapToDouble(Double::doubleValue)
                        .sum())
                .isCloseTo(1, within(1e-12));
        for (Picks.Choice choice : picks.choices()) {
            if (choice.pick() == best) {
                assertThat(choice.price()).isEmpty();
            } else {
                assertThat(choice.price().orElseThrow().difference())
                        .isEqualTo(means.get(choice.pick()).mean()
                                - means.get(best).mean());
            }
        }
    }

    @Test
    void bestMeanTakesTheBest() {
        Picks picks =
                Picker.pick(metric("auc"), Simplicity.of(PANEL), Rule.BEST_MEAN).orElseThrow();
        assertThat(picks.pick()).isEqualTo(picks.best());
        assertThat(picks.threshold()).isNaN();
    }

    @Test
    void sizesAreComparedToTwoDigitsThenByTheDirectionOfTheSetting() {
        assertThat(Simplicity.rounded(49.6)).isEqualTo(50);
        assertThat(Simplicity.rounded(0.0123)).isEqualTo(0.012);
        assertThat(Simplicity.rounded(1049)).isEqualTo(1000);
        assertThat(Simplicity.rounded(Double.NaN)).isInfinite();
        Results two = Trials.results(new Comparison(
                List.of(Trials.task(Trials.data("d", 8, 90, 1, 0), new KFold(3, 2, true), "auc")),
                List.of(
                        Trials.candidate("tree/2", "tree", "depth=1", "pruning=9"),
                        Trials.candidate("tree/1", "tree", "depth=2", "pruning=9")),
                2));
        // Both are cut back to one leaf: the shallower setting is the simpler, whatever the mean and the order.
        assertThat(Simplicity.of(AlignedPredictions.of(two, 0)).compare(0, 1, c -> c))
                .isNegative();
        assertThat(Simplicity.of(AlignedPredictions.of(two, 0)).compare(1, 0, c -> c))
                .isPositive();
    }

    /** Every rule once more, from means, standard errors and contrasts. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "log-loss", "accuracy"})
    void everyRuleIsWhatItSays(String name) {
        MetricInference metric = Inference.of(
                        PANEL, InferenceSettings.DEFAULT.withDraws(500).withMargin(0.05), Parallel.of(2))
                .metric(name);
        Simplicity simplicity = Simplicity.of(PANEL);
        Picks picks = Picker.pick(metric, simplicity, Rule.parse("m-se=2")).orElseThrow();
        int best = picks.best();
        for (Picks.Choice choice : picks.choices()) {
            int expected = best;
            for (int c = 0; c < CANDIDATES.size(); c++) {
                boolean simpler = simplicity.compare(c, expected, x -> metric.metric()
                                .turned(metric.means().get(x).mean()))
                        < 0;
                if (c != best && simpler && near(metric, choice.rule(), c, best)) {
                    expected = c;
                }
            }
            assertThat(choice.without()).isEmpty();
            assertThat(choice.pick()).as(choice.rule().label()).isEqualTo(expected);
        }
        assertThat(picks.choices().stream().map(c -> c.rule().label()))
                .containsExactly(
                        "one-se", "m-se=2", "one-se-paired", "fold-se", "may-be-best", "within-margin", "best-mean");
        assertThat(picks.mayBeBest())
                .contains(best)
                .allMatch(c -> metric.standings().orElseThrow().of(c).mayBeBest());
    }

    private static boolean near(MetricInference metric, Rule rule, int c, int best) {
        Contrast contrast = metric.contrast(c, best).orElseThrow();
        double deficit = -metric.metric().turned(contrast.difference());
        double se = metric.means().get(best).standardError();
        return switch (rule.kind()) {
            case ONE_SE -> deficit <= se;
            case M_SE -> deficit <= 2 * se;
            case ONE_SE_PAIRED -> deficit <= contrast.standardError();
            case FOLD_SE -> deficit <= metric.foldStandardError(best);
            case MAY_BE_BEST -> metric.standings().orElseThrow().of(c).mayBeBest();
            case WITHIN_MARGIN -> deficit <= 0.05;
            case BEST_MEAN -> false;
        };
    }

    @Test
    void rulesThatCannotBeAppliedSaySo() {
        Picks picks = Picker.pick(metric("auc"), Simplicity.of(PANEL), Rule.of(Rule.Kind.WITHIN_MARGIN))
                .orElseThrow();
        assertThat(picks.pick()).isEqualTo(picks.best());
        assertThat(picks.inForce().without()).contains("no margin is given");
        assertThatThrownBy(() -> Rule.parse("two-se")).hasMessageContaining("there are one-se, m-se");
        assertThatThrownBy(() -> Rule.parse("one-se=2")).hasMessageContaining("rule one-se takes no number");
        assertThatThrownBy(() -> Rule.parse("m-se=x")).hasMessageContaining("expected a number");
        assertThat(Rule.parse("m-se").number()).isEqualTo(0.5);
    }

    @Test
    void theUsersOwnOrderDecides() {
        MetricInference metric = metric("auc");
        int best = Picker.best(metric, Simplicity.of(PANEL)).orElseThrow();
        Rule all = Rule.parse("m-se=1000");
        Picks ranked = Picker.pick(metric, Simplicity.ranked(PANEL, List.of("near/15", "near", "logit")), all)
                .orElseThrow();
        assertThat(ranked.pick()).isEqualTo(2);
        assertThat(ranked.eligible()).startsWith(2).endsWith(0).contains(best);
        assertThatThrownBy(() -> Simplicity.ranked(PANEL, List.of("nobody")))
                .hasMessageContaining("no candidate or family is called \"nobody\"");
        Simplicity columns = Simplicity.of(PANEL, SimplerBy.COLUMNS);
        assertThat(columns.value(4)).isEqualTo(3);
    }

    /** What a person can read comes first: within reach of all rules, the guess, then logistic, then most neighbours. */
    @Test
    void kindsComeBeforeSizes() {
        Simplicity byKind = Simplicity.of(PANEL);
        assertThat(byKind.by()).isEqualTo(SimplerBy.KIND);
        assertThat(byKind.ordered(List.of(1, 4, 2, 0, 3), c -> 0)).containsExactly(0, 4, 3, 2, 1);
        assertThat(List.of(byKind.value(0), byKind.value(4), byKind.value(1))).containsExactly(1.0, 2.0, 4.0);
        Simplicity bySize = Simplicity.of(PANEL, SimplerBy.SIZE);
        assertThat(bySize.size(3)).isGreaterThan(bySize.size(4));
        MetricInference metric = metric("auc");
        for (Rule rule : List.of(Rule.ONE_SE, Rule.parse("m-se=1000"), Rule.BEST_MEAN)) {
            assertThat(Picker.picked(metric, byKind, rule))
                    .hasValue(Picker.pick(metric, byKind, rule).orElseThrow().pick());
        }
    }

    @Test
    void aCandidateMaySayItsTierAndIsFittedAlike() {
        ClassifierKind kind = new ClassifierKind(
                "own", "", List.of(Tier.SETTING), s -> new keenfold.core.classify.baseline.Majority());
        Candidate silent = new Candidate("own", "own", kind, Settings.none(), List.of());
        Candidate plain = new Candidate("own", "own", kind, Settings.none().with("tier", "2"), List.of());
        assertThat(silent.tier()).isEqualTo(6);
        assertThat(plain.tier()).isEqualTo(2);
        assertThat(FitIdentity.of(plain)).isEqualTo(FitIdentity.of(silent));
        assertThat(new Candidate("own", "own", kind.inTier(3, "short"), Settings.none(), List.of()).tier())
                .isEqualTo(3);
        assertThatThrownBy(() -> kind.inTier(7, "")).hasMessageContaining("expected 1 to 6");
        assertThatThrownBy(
                        () -> new Candidate("own", "own", kind, Settings.none().with("tier", "2"), List.of("tier")))
                .hasMessageContaining("neither varied nor chosen");
        Setting other = Setting.whole("tier", 1, 1, Setting.Simpler.LOWER, "layers of a cake");
        assertThatThrownBy(() -> new ClassifierKind("cake", "", List.of(other), s -> null))
                .hasMessageContaining("a setting called tier that is not Tier.SETTING");
    }

    @Test
    void familiesPickAmongThemselves() {
        List<Picks.Along> families = Picker.families(metric("auc"), Simplicity.of(PANEL), Rule.parse("m-se=1000"));
        assertThat(families).hasSize(1);
        assertThat(families.get(0).members()).containsExactly(1, 2, 3);
        // More neighbours are simpler.
        assertThat(families.get(0).pick()).isEqualTo(3);
    }

    /** Choosing the best of equals flatters: scored on rows that the choice did not see, it does not. */
    @Test
    void correctingForChoosingTakesTheFlatteryAway() {
        AlignedPredictions guesses = AlignedPredictions.of(
                Trials.results(new Comparison(
                        List.of(Trials.task(Trials.data("d", 8, 80, 0, 0), new KFold(5, 4, true), "auc")),
                        List.of(
                                Trials.candidate("near/1", "nearest", "neighbours=1"),
                                Trials.candidate("near/3", "nearest", "neighbours=3"),
                                Trials.candidate("near/9", "nearest", "neighbours=9"),
                                Trials.candidate("tree/1", "tree", "depth=1"),
                                Trials.candidate("tree/3", "tree", "depth=3")),
                        2)),
                0);
        MetricInference metric = Inference.of(guesses, InferenceSettings.DEFAULT.withDraws(500), Parallel.of(1))
                .metric("auc");
        Simplicity simplicity = Simplicity.of(guesses);
        double best =
                Picker.pick(metric, simplicity, Rule.BEST_MEAN).orElseThrow().bestMean();
        assertThat(Picker.corrected(metric, simplicity, Rule.BEST_MEAN).value()).isLessThan(best);
    }

    /** The mean of what the draws left out, of the candidate that the rule chose in each, and its Monte Carlo error, s/√n. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "log-loss"})
    void whatChoosingIsWorthIsTheMeanOfTheRowsThatDrawsLeftOut(String name) {
        MetricInference metric = metric(name);
        int[] chosen = new int[metric.draws()];
        for (int b = 0; b < chosen.length; b++) {
            for (int c = 1; c < CANDIDATES.size(); c++) {
                double more = metric.metric().turned(metric.drawnMean(c, b))
                        - metric.metric().turned(metric.drawnMean(chosen[b], b));
                chosen[b] = more > 0 ? c : chosen[b];
            }
        }
        double[] each = metric.leftOut(chosen);
        double mean = java.util.Arrays.stream(each).average().orElseThrow();
        double squares =
                java.util.Arrays.stream(each).map(x -> (x - mean) * (x - mean)).sum();
        Corrected corrected = Picker.corrected(metric, Simplicity.of(PANEL), Rule.BEST_MEAN);
        assertThat(corrected.estimate()).isCloseTo(mean, within(1e-12));
        assertThat(corrected.error()).isCloseTo(Math.sqrt(squares / (each.length - 1) / each.length), within(1e-12));
    }

    /** Who is eligible by each rule, from means, standard errors and contrasts alone. */
    @ParameterizedTest
    @ValueSource(strings = {"m-se=0.5", "fold-se", "within-margin", "one-se-paired", "may-be-best", "best-mean"})
    void everyRuleAdmitsWhatItsDefinitionSays(String text) {
        for (String name : List.of("auc", "log-loss", "accuracy")) {
            MetricInference metric = Inference.of(
                            PANEL, InferenceSettings.DEFAULT.withDraws(500).withMargin(0.03), Parallel.of(2))
                    .metric(name);
            Picks picks =
                    Picker.pick(metric, Simplicity.of(PANEL), Rule.parse(text)).orElseThrow();
            double sign = metric.metric().higherIsBetter() ? 1 : -1;
            int best = picks.best();
            MeanScore top = metric.means().get(best);
            double limit =
                    switch (text) {
                        case "m-se=0.5" -> sign * top.mean() - 0.5 * top.standardError();
                        case "fold-se" -> sign * top.mean() - metric.foldStandardError(best);
                        case "within-margin" -> sign * top.mean() - 0.03;
                        default -> Double.NaN;
                    };
            for (int c = 0; c < CANDIDATES.size(); c++) {
                int own = c;
                boolean admitted =
                        switch (text) {
                            case "best-mean" -> false;
                            case "may-be-best" ->
                                metric.standings().orElseThrow().of(own).mayBeBest();
                            case "one-se-paired" ->
                                own != best
                                        && sign
                                                        * (top.mean()
                                                                - metric.means()
                                                                        .get(own)
                                                                        .mean())
                                                <= metric.contrast(own, best)
                                                        .orElseThrow()
                                                        .standardError();
                            default -> sign * metric.means().get(own).mean() >= limit;
                        };
                assertThat(picks.eligible().contains(own))
                        .as(name + " " + CANDIDATES.get(own).name())
                        .isEqualTo(own == best || admitted);
            }
            if (Double.isNaN(limit)) {
                assertThat(picks.threshold()).isNaN();
            } else {
                assertThat(picks.threshold()).isCloseTo(sign * limit, within(1e-12));
            }
            double[] fell = picks.mayBeBest().stream()
                    .mapToDouble(c -> -sign * metric.means().get(c).mean())
                    .toArray();
            assertThat(fell).isNotEmpty().isSorted();
        }
    }

    @Test
    void measuresOfSimplicityHaveNames() {
        for (SimplerBy by : SimplerBy.values()) {
            assertThat(SimplerBy.of(by.label())).contains(by);
            assertThat(SimplerBy.labels()).contains(by.label());
            assertThat(by.measure()).isNotBlank();
            assertThat(by.timed()).isEqualTo(by == SimplerBy.TRAIN_TIME || by == SimplerBy.PREDICT_TIME);
        }
        assertThat(SimplerBy.of("beauty")).isEmpty();
        assertThat(SimplerBy.labels()).hasSize(SimplerBy.values().length);
    }

    @Test
    void timesAndColumnsOrderByTheirMeansAndMedians() {
        Simplicity training = Simplicity.of(PANEL, SimplerBy.TRAIN_TIME);
        Simplicity predicting = Simplicity.of(PANEL, SimplerBy.PREDICT_TIME);
        Simplicity columns = Simplicity.of(PANEL, SimplerBy.COLUMNS);
        for (int c = 0; c < CANDIDATES.size(); c++) {
            assertThat(training.value(c))
                    .isEqualTo(PANEL.fitsOf(c).stream()
                            .mapToDouble(f -> f.times().trainWall())
                            .average()
                            .orElseThrow());
            assertThat(predicting.value(c))
                    .isEqualTo(PANEL.fitsOf(c).stream()
                            .mapToDouble(f -> f.times().predictWall())
                            .average()
                            .orElseThrow());
        }
        assertThat(columns.value(4)).isEqualTo(3);
    }

    /** Of candidates that are as simple as each other the one with the better mean comes first, then the plan's order. */
    @Test
    void ofEquallySimpleOnesTheBetterMeanIsFirst() {
        AlignedPredictions alike = AlignedPredictions.of(
                Trials.results(new Comparison(
                        List.of(Trials.task(Trials.data("d", 8, 90, 1, 0), new KFold(3, 2, true), "auc")),
                        List.of(
                                Trials.candidate("one", "tree", "depth=1", "pruning=9"),
                                Trials.candidate("two", "tree", "depth=1", "pruning=9")),
                        2)),
                0);
        Simplicity simplicity = Simplicity.of(alike);
        assertThat(simplicity.compare(0, 1, c -> c == 0 ? 0.7 : 0.8)).isPositive();
        assertThat(simplicity.compare(0, 1, c -> c == 0 ? 0.8 : 0.7)).isNegative();
        assertThat(simplicity.compare(0, 1, c -> 0.7)).isNegative();
        assertThat(simplicity.ordered(List.of(0, 1), c -> c == 0 ? 0.7 : 0.8)).containsExactly(1, 0);
    }

    /** Sizes of an even number of fits: the mean of the two in the middle. */
    @Test
    void theSizeIsTheMedianOverFits() {
        AlignedPredictions trees = AlignedPredictions.of(
                Trials.results(new Comparison(
                        List.of(Trials.task(Trials.data("d", 8, 90, 1, 0), new KFold(3, 2, true), "auc")),
                        List.of(Trials.candidate("one", "forest", "trees=3"), Trials.candidate("two", "majority")),
                        2)),
                0);
        double[] sizes = trees.fitsOf(0).stream()
                .mapToDouble(keenfold.core.run.result.Fit::size)
                .sorted()
                .toArray();
        assertThat(sizes).hasSize(6);
        assertThat(sizes[2]).as("else the upper of the two would do").isLessThan(sizes[3]);
        assertThat(Simplicity.of(trees).size(0)).isEqualTo((sizes[2] + sizes[3]) / 2);
    }

    /** Each mean's draws spread about it by √(V/V_raw), and the rule applied in each draw with that draw's best. */
    @ParameterizedTest
    @ValueSource(strings = {"auc", "log-loss"})
    void frequencyIsTheRuleInEveryDraw(String name) {
        MetricInference metric = metric(name);
        Simplicity simplicity = Simplicity.of(PANEL);
        int[] picked = new int[CANDIDATES.size()];
        double[][] spread = new double[CANDIDATES.size()][metric.draws()];
        for (int c = 0; c < spread.length; c++) {
            double sum = 0;
            for (int b = 0; b < metric.draws(); b++) {
                sum += metric.drawnMean(c, b);
            }
            double raw = 0;
            for (int b = 0; b < metric.draws(); b++) {
                raw += Math.pow(metric.drawnMean(c, b) - sum / metric.draws(), 2) / (metric.draws() - 1);
            }
            MeanScore mean = metric.means().get(c);
            double scale = raw < 1e-20 ? 0 : mean.standardError() / Math.sqrt(raw);
            for (int b = 0; b < metric.draws(); b++) {
                spread[c][b] =
                        metric.metric().turned(mean.mean() + scale * (metric.drawnMean(c, b) - sum / metric.draws()));
            }
        }
        for (int b = 0; b < metric.draws(); b++) {
            int draw = b;
            int best = 0;
            for (int c = 1; c < spread.length; c++) {
                best = spread[c][b] > spread[best][b] ? c : best;
            }
            double limit = spread[best][b] - metric.means().get(best).standardError();
            int pick = best;
            for (int c = 0; c < spread.length; c++) {
                if (spread[c][b] >= limit && simplicity.compare(c, pick, x -> spread[x][draw]) < 0) {
                    pick = c;
                }
            }
            picked[pick]++;
        }
        Picks picks = Picker.pick(metric, simplicity, Rule.ONE_SE).orElseThrow();
        for (int c = 0; c < picked.length; c++) {
            assertThat(picks.frequency().get(c)).isCloseTo((double) picked[c] / metric.draws(), within(0.005));
        }
    }
}
