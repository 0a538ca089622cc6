package keenfold.io.export;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.Writer;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.infer.Across;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;

/** Writes what the reading commands say as one JSON document, with the keys that docs/json.md settles. */
public final class JsonExport extends JsonText {
    private JsonExport(JsonGenerator json) {
        super(json);
    }

    /**
     * Writes the means of all metrics asked for.
     *
     * @param primary the metric by which candidates are compared
     * @param inferences one per data set
     * @param metrics the names of the metrics
     */
    public static void scores(String primary, List<Inference> inferences, List<String> metrics, Writer out) {
        document(out, JsonExport::new, to -> {
            to.json.writeStringField("primary", primary);
            to.json.writeArrayFieldStart("datasets");
            for (Inference inference : inferences) {
                to.dataSet(inference, metrics);
            }
            to.json.writeEndArray();
        });
    }

    private void dataSet(Inference inference, List<String> metrics) throws IOException {
        AlignedPredictions panel = inference.panel();
        List<MetricInference> all = metrics.stream().map(inference::metric).toList();
        List<List<MeanScore>> means = all.stream().map(MetricInference::means).toList();
        Simplicity sizes = Simplicity.of(panel);
        json.writeStartObject();
        json.writeStringField("name", panel.task().data().name());
        if (panel.scoresOnly()) {
            json.writeNullField("rows");
            strings("classes", List.of());
            json.writeNullField("positive");
        } else {
            json.writeNumberField("rows", panel.rows());
            strings("classes", panel.task().data().classes().labels());
            json.writeStringField("positive", panel.task().data().classes().positiveLabel());
        }
        json.writeStringField("variance", all.get(0).form().label());
        json.writeNumberField("draws", inference.evidence().draws());
        number("level", inference.evidence().level());
        json.writeArrayFieldStart("candidates");
        for (int c = 0; c < panel.candidates().size(); c++) {
            Candidate candidate = panel.candidates().get(c);
            json.writeStartObject();
            json.writeStringField("name", candidate.name());
            json.writeStringField("family", candidate.family());
            number("size", sizes.size(c));
            json.writeNumberField("fits", panel.fitCount(c));
            json.writeNumberField("failed", panel.failedCount(c));
            json.writeNumberField("common", panel.common());
            times(panel.fitsOf(c));
            json.writeBooleanField("shared", panel.shared(c));
            json.writeArrayFieldStart("steps");
            for (String step : panel.candidates().get(c).stepTexts()) {
                json.writeString(step);
            }
            json.writeEndArray();
            json.writeArrayFieldStart("wrappers");
            for (String wrapper : panel.candidates().get(c).wrapperTexts()) {
                json.writeString(wrapper);
            }
            json.writeEndArray();
            json.writeObjectFieldStart("chosen");
            for (Map.Entry<String, Integer> one : panel.chosen(c).entrySet()) {
                json.writeNumberField(one.getKey(), one.getValue());
            }
            json.writeEndObject();
            json.writeObjectFieldStart("metrics");
            for (int m = 0; m < all.size(); m++) {
                mean(all.get(m), means.get(m).get(c));
            }
            json.writeEndObject();
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    private void times(List<Fit> fits) throws IOException {
        number(
                "train_seconds",
                fits.stream().mapToDouble(f -> f.times().trainWall()).average().orElse(Double.NaN));
        number(
                "predict_seconds",
                fits.stream()
                        .mapToDouble(f -> f.times().predictWall())
                        .average()
                        .orElse(Double.NaN));
    }

    private void mean(MetricInference inference, MeanScore mean) throws IOException {
        json.writeObjectFieldStart(inference.metric().name());
        number("mean", mean.mean());
        number("sd", mean.sd());
        number("se", mean.standardError());
        number("low", mean.low());
        number("high", mean.high());
        number("min", mean.min());
        number("max", mean.max());
        json.writeStringField("interval", mean.interval().label());
        json.writeNumberField("undefined_folds", mean.undefined());
        number("train", mean.train());
        json.writeNumberField("draws_dropped", inference.dropped());
        variance(mean.variance());
        json.writeEndObject();
    }

    private void variance(Optional<Variance> variance) throws IOException {
        number("lambda", variance.map(Variance::lambda).orElse(Double.NaN));
        number("instability", variance.map(Variance::instability).orElse(Double.NaN));
        number("freedom", variance.map(Variance::freedom).orElse(Double.NaN));
    }

    /**
     * Writes contrasts.
     *
     * @param inferences one per list of contrasts
     * @param metrics likewise
     * @param contrasts those to be shown
     * @param across the comparison across data sets, if it was asked for
     */
    public static void contrasts(
            List<Inference> inferences,
            List<MetricInference> metrics,
            List<List<Contrast>> contrasts,
            Optional<AcrossSets> across,
            Writer out) {
        document(out, JsonExport::new, to -> {
            InferenceSettings evidence = inferences.get(0).evidence();
            to.json.writeStringField("metric", metrics.get(0).metric().name());
            to.json.writeStringField("method", evidence.method().label());
            to.json.writeStringField("variance", varianceOf(evidence, metrics.get(0)));
            to.json.writeNumberField("draws", evidence.draws());
            to.number("level", evidence.level());
            to.number("margin", evidence.margin());
            to.json.writeStringField("adjust", evidence.adjustment().label());
            to.json.writeArrayFieldStart("contrasts");
            for (int t = 0; t < inferences.size(); t++) {
                for (Contrast contrast : contrasts.get(t)) {
                    to.contrast(inferences.get(t).panel(), metrics.get(t), contrast);
                }
            }
            to.json.writeEndArray();
            if (across.isPresent()) {
                to.across(across.get(), metrics.get(0).panel(), evidence.level());
            }
        });
    }

    private static String varianceOf(InferenceSettings evidence, MetricInference metric) {
        return switch (evidence.method()) {
            case PIVOT -> metric.form().label();
            case CASES, CASES_BCA, MCNEMAR -> VarianceForm.CASES.label();
            case CORRECTED_T -> VarianceForm.RESAMPLED.label();
            case REFIT -> evidence.method().label();
        };
    }

    private void across(AcrossSets sets, AlignedPredictions panel, double level) throws IOException {
        Across across = sets.across();
        List<String> names = sets.candidates().stream()
                .map(c -> panel.candidates().get(c).name())
                .toList();
        double[] ranks = across.averageRanks();
        json.writeObjectFieldStart("across");
        json.writeNumberField("sets", across.sets());
        json.writeObjectFieldStart("ranks");
        for (int j = 0; j < ranks.length; j++) {
            number(names.get(j), ranks[j]);
        }
        json.writeEndObject();
        json.writeObjectFieldStart("friedman");
        number("statistic", across.friedman(false).statistic());
        number("p", across.friedman(false).p());
        number("statistic_ties", across.friedman(true).statistic());
        number("p_ties", across.friedman(true).p());
        json.writeEndObject();
        json.writeObjectFieldStart("iman_davenport");
        number("statistic", across.imanDavenport(false).statistic());
        number("p", across.imanDavenport(false).p());
        number("statistic_ties", across.imanDavenport().statistic());
        number("p_ties", across.imanDavenport().p());
        json.writeBooleanField("exact", across.imanDavenport().exact());
        json.writeEndObject();
        json.writeObjectFieldStart("nemenyi");
        number("critical_difference", across.nemenyi(1 - level));
        number("level", level);
        json.writeEndObject();
        number("least_p_adjusted", across.leastAdjusted());
        json.writeArrayFieldStart("wilcoxon");
        List<Across.Pair> pairs = across.wilcoxon();
        for (int i = 0; i < pairs.size(); i++) {
            json.writeStartObject();
            json.writeStringField("candidate", names.get(pairs.get(i).candidate()));
            json.writeStringField("against", names.get(pairs.get(i).against()));
            number("statistic", pairs.get(i).statistic());
            number("p", pairs.get(i).p());
            number("p_adjusted", pairs.get(i).pAdjusted());
            json.writeBooleanField("exact", pairs.get(i).exact());
            json.writeNumberField("wins", sets.tallies().get(i).wins());
            json.writeNumberField("draws", sets.tallies().get(i).draws());
            json.writeNumberField("losses", sets.tallies().get(i).losses());
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    private void contrast(AlignedPredictions panel, MetricInference metric, Contrast c) throws IOException {
        json.writeStartObject();
        json.writeStringField("metric", metric.metric().name());
        json.writeStringField("dataset", panel.task().data().name());
        json.writeStringField("candidate", panel.candidates().get(c.candidate()).name());
        json.writeStringField("against", panel.candidates().get(c.against()).name());
        number("difference", c.difference());
        number("se", c.standardError());
        number("low", c.low());
        number("high", c.high());
        number("low_all", c.lowAll());
        number("high_all", c.highAll());
        number("p", c.p());
        number("p_adjusted", c.pAdjusted());
        json.writeBooleanField("significant", c.significant());
        if (c.call() == Call.NONE) {
            json.writeNullField("call");
        } else {
            json.writeStringField("call", c.call().label());
        }
        variance(Optional.of(c.variance()));
        json.writeStringField("message", c.note());
        json.writeEndObject();
    }

    /**
     * Writes how means settle as repeats are added.
     *
     * @param inferences one per data set
     */
    public static void running(List<Inference> inferences, List<String> metrics, Writer out) {
        document(out, JsonExport::new, to -> {
            to.json.writeStringField("by", "repeat");
            to.json.writeArrayFieldStart("datasets");
            for (Inference inference : inferences) {
                to.json.writeStartObject();
                to.json.writeStringField("name", inference.panel().task().data().name());
                to.json.writeArrayFieldStart("means");
                for (String metric : metrics) {
                    for (int c : inference.metric(metric).compared()) {
                        to.running(inference, metric, c);
                    }
                }
                to.json.writeEndArray();
                to.json.writeEndObject();
            }
            to.json.writeEndArray();
        });
    }

    private void running(Inference inference, String metric, int candidate) throws IOException {
        json.writeStartObject();
        json.writeStringField(
                "candidate", inference.panel().candidates().get(candidate).name());
        json.writeStringField("metric", metric);
        json.writeArrayFieldStart("running");
        for (RunningMean one : inference.metric(metric).running(candidate)) {
            json.writeStartObject();
            json.writeNumberField("repeats", one.count());
            number("score", one.score());
            number("mean", one.mean());
            number("se", one.standardError());
            number("between", one.between());
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    /**
     * What was picked on one data set.
     *
     * @param picks empty where no candidate can be compared
     * @param families along their varied settings
     * @param correctedBest what choosing the best mean is worth on rows that the choice did not see
     * @param correctedRule the same for the rule in force
     */
    public record Picked(
            Inference inference,
            Optional<Picks> picks,
            List<Picks.Along> families,
            Corrected correctedBest,
            Corrected correctedRule) {
        /** Copies the list. */
        public Picked {
            families = List.copyOf(families);
        }
    }

    /**
     * Writes picks under one metric.
     *
     * @param overall the candidate with the best mean rank over several data sets, with all mean ranks
     */
    public static void picks(String metric, String rule, List<Picked> all, Optional<Overall> overall, Writer out) {
        document(out, JsonExport::new, to -> {
            to.json.writeStringField("metric", metric);
            to.json.writeStringField("rule", rule);
            to.json.writeArrayFieldStart("datasets");
            for (Picked picked : all) {
                to.pick(metric, picked);
            }
            to.json.writeEndArray();
            if (overall.isEmpty()) {
                to.json.writeNullField("overall");
            } else {
                to.json.writeObjectFieldStart("overall");
                to.json.writeStringField("pick", overall.get().pick());
                to.json.writeObjectFieldStart("ranks");
                for (Map.Entry<String, Double> one : overall.get().ranks().entrySet()) {
                    to.number(one.getKey(), one.getValue());
                }
                to.json.writeEndObject();
                to.json.writeEndObject();
            }
        });
    }

    /**
     * A pick over several data sets.
     *
     * @param pick the candidate with the best mean rank
     * @param ranks mean ranks by candidate, in plan order
     */
    public record Overall(String pick, Map<String, Double> ranks) {
        /** Copies the ranks. */
        public Overall {
            ranks = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(ranks));
        }
    }

    private void pick(String metric, Picked picked) throws IOException {
        AlignedPredictions panel = picked.inference().panel();
        json.writeStartObject();
        json.writeStringField("name", panel.task().data().name());
        if (picked.picks().isEmpty()) {
            json.writeNullField("pick");
            json.writeEndObject();
            return;
        }
        Picks picks = picked.picks().get();
        List<String> names = panel.candidates().stream().map(Candidate::name).toList();
        json.writeStringField("pick", names.get(picks.pick()));
        json.writeStringField("best", names.get(picks.best()));
        number("best_mean", picks.bestMean());
        number("se", picks.standardError());
        number("threshold", picks.threshold());
        strings("eligible", picks.eligible().stream().map(names::get).toList());
        strings("leading", picks.leading().stream().map(names::get).toList());
        json.writeArrayFieldStart("rules");
        for (Picks.Choice choice : picks.choices()) {
            json.writeStartObject();
            json.writeStringField("rule", choice.rule().label());
            if (choice.without().isEmpty()) {
                json.writeStringField("pick", names.get(choice.pick()));
                boolean best = choice.pick() == picks.best();
                number("difference", price(choice, best, Contrast::difference));
                number("low", price(choice, best, Contrast::low));
                number("high", price(choice, best, Contrast::high));
            } else {
                json.writeNullField("pick");
                json.writeStringField("message", choice.without());
            }
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeObjectFieldStart("frequency");
        for (Map.Entry<Integer, Double> entry : picks.frequency().entrySet()) {
            number(names.get(entry.getKey()), entry.getValue());
        }
        json.writeEndObject();
        json.writeObjectFieldStart("corrected");
        number(Rule.BEST_MEAN.label(), picked.correctedBest().value());
        if (!picks.rule().equals(Rule.BEST_MEAN)) {
            number(picks.rule().label(), picked.correctedRule().value());
        }
        json.writeEndObject();
        json.writeObjectFieldStart("corrected_error");
        number(Rule.BEST_MEAN.label(), picked.correctedBest().error());
        if (!picks.rule().equals(Rule.BEST_MEAN)) {
            number(picks.rule().label(), picked.correctedRule().error());
        }
        json.writeEndObject();
        json.writeArrayFieldStart("families");
        for (Picks.Along family : picked.families()) {
            family(picked.inference().metric(metric), names, family);
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    private void family(MetricInference metric, List<String> names, Picks.Along family) throws IOException {
        json.writeStartObject();
        json.writeStringField("family", family.name());
        json.writeStringField("pick", names.get(family.pick()));
        json.writeStringField("best", names.get(family.best()));
        json.writeArrayFieldStart("members");
        for (int c : family.members()) {
            json.writeStartObject();
            json.writeStringField("candidate", names.get(c));
            number("mean", metric.means().get(c).mean());
            number("se", metric.means().get(c).standardError());
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    private static double price(Picks.Choice choice, boolean best, java.util.function.ToDoubleFunction<Contrast> part) {
        return best ? 0 : choice.price().map(part::applyAsDouble).orElse(Double.NaN);
    }
}
