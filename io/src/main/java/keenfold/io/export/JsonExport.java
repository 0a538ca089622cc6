package keenfold.io.export;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Breakdown;
import keenfold.core.data.ColumnProfile;
import keenfold.core.data.Decimals;
import keenfold.core.data.Suspicion;
import keenfold.core.infer.Call;
import keenfold.core.infer.Contrast;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MeanScore;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;
import keenfold.core.infer.RunningMean;
import keenfold.core.infer.Variance;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Candidate;
import keenfold.core.run.Fit;
import keenfold.core.run.Task;
import keenfold.core.split.Audit;

/** Writes what the reading commands say as one JSON document, with the keys that docs/json.md settles. */
public final class JsonExport {
    private final JsonGenerator json;

    private JsonExport(JsonGenerator json) {
        this.json = json;
    }

    /** Writes part of a document. */
    private interface Part {
        void write(JsonExport to) throws IOException;
    }

    private static void document(Writer out, Part body) {
        try {
            JsonGenerator json = new JsonFactory().createGenerator(out);
            json.disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET);
            json.setPrettyPrinter(new DefaultPrettyPrinter());
            JsonExport to = new JsonExport(json);
            json.writeStartObject();
            json.writeNumberField("keenfold", 1);
            body.write(to);
            json.writeEndObject();
            json.flush();
            out.write('\n');
            out.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * Writes the means of all metrics asked for.
     *
     * @param primary the metric by which candidates are compared
     * @param inferences one per data set
     * @param metrics the names of the metrics
     */
    public static void scores(String primary, List<Inference> inferences, List<String> metrics, Writer out) {
        document(out, to -> {
            to.json.writeStringField("primary", primary);
            to.json.writeArrayFieldStart("datasets");
            for (Inference inference : inferences) {
                to.dataSet(inference, metrics);
            }
            to.json.writeEndArray();
        });
    }

    /**
     * Writes what a table holds.
     *
     * @param kinds per column what its values are
     * @param breakdown classes against one column, if one was asked for
     */
    public static void survey(
            String file,
            List<ColumnProfile> profiles,
            List<String> kinds,
            Optional<ColumnProfile> target,
            Optional<Breakdown> breakdown,
            List<Suspicion> suspicions,
            Writer out) {
        document(out, to -> {
            to.json.writeStringField("file", file);
            to.json.writeNumberField(
                    "rows", profiles.isEmpty() ? 0 : profiles.get(0).rows());
            to.json.writeArrayFieldStart("columns");
            for (int i = 0; i < profiles.size(); i++) {
                to.profile(profiles.get(i), kinds.get(i));
            }
            to.json.writeEndArray();
            to.levels("classes", target.map(ColumnProfile::levels).orElse(List.of()));
            to.json.writeArrayFieldStart("by");
            for (Breakdown.Part part : breakdown.map(Breakdown::parts).orElse(List.of())) {
                to.json.writeStartObject();
                to.json.writeStringField("part", part.label());
                for (int c = 0; c < part.counts().size(); c++) {
                    to.json.writeNumberField(
                            breakdown.orElseThrow().classes().get(c),
                            part.counts().get(c));
                }
                to.json.writeEndObject();
            }
            to.json.writeEndArray();
            to.json.writeArrayFieldStart("suspicions");
            for (Suspicion s : suspicions) {
                to.json.writeStartObject();
                to.json.writeStringField(
                        "kind", s.kind().name().toLowerCase(Locale.ROOT).replace('_', '-'));
                to.json.writeStringField("column", s.column());
                to.json.writeNumberField("count", s.count());
                to.json.writeEndObject();
            }
            to.json.writeEndArray();
        });
    }

    private void profile(ColumnProfile p, String kind) throws IOException {
        json.writeStartObject();
        json.writeStringField("name", p.name());
        json.writeStringField("kind", kind);
        json.writeNumberField("missing", p.missing());
        json.writeNumberField("distinct", p.distinct());
        if (p.numbers().isPresent()) {
            ColumnProfile.Spread s = p.numbers().get();
            number("mean", s.mean());
            number("sd", s.sd());
            number("min", s.min());
            number("q1", s.lowerQuartile());
            number("median", s.median());
            number("q3", s.upperQuartile());
            number("max", s.max());
            json.writeArrayFieldStart("histogram");
            for (int count : s.histogram()) {
                json.writeNumber(count);
            }
            json.writeEndArray();
        } else {
            levels("levels", p.levels());
        }
        json.writeEndObject();
    }

    private void levels(String name, List<ColumnProfile.Level> levels) throws IOException {
        json.writeArrayFieldStart(name);
        for (ColumnProfile.Level level : levels) {
            json.writeStartObject();
            json.writeStringField("label", level.label());
            json.writeNumberField("rows", level.count());
            json.writeEndObject();
        }
        json.writeEndArray();
    }

    private void dataSet(Inference inference, List<String> metrics) throws IOException {
        Panel panel = inference.panel();
        List<MetricInference> all = metrics.stream().map(inference::metric).toList();
        List<List<MeanScore>> means = all.stream().map(MetricInference::means).toList();
        Simplicity sizes = Simplicity.of(panel);
        json.writeStartObject();
        json.writeStringField("name", panel.task().data().name());
        json.writeNumberField("rows", panel.rows());
        strings("classes", panel.task().data().classes().labels());
        json.writeStringField("positive", panel.task().data().classes().positiveLabel());
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
     * Writes contrasts under one metric.
     *
     * @param inferences one per data set
     * @param contrasts those to be shown, per data set
     */
    public static void contrasts(
            List<Inference> inferences, String metric, List<List<Contrast>> contrasts, Writer out) {
        document(out, to -> {
            Inference first = inferences.get(0);
            to.json.writeStringField("metric", metric);
            to.json.writeStringField("method", "pivot");
            to.json.writeStringField("variance", first.metric(metric).form().label());
            to.json.writeNumberField("draws", first.evidence().draws());
            to.number("level", first.evidence().level());
            to.number("margin", first.evidence().margin());
            to.json.writeStringField("adjust", "max-t");
            to.json.writeArrayFieldStart("contrasts");
            for (int t = 0; t < inferences.size(); t++) {
                for (Contrast contrast : contrasts.get(t)) {
                    to.contrast(inferences.get(t).panel(), contrast);
                }
            }
            to.json.writeEndArray();
        });
    }

    private void contrast(Panel panel, Contrast c) throws IOException {
        json.writeStartObject();
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

    /** Writes a catalog: sections of entries, each a map of texts with a list of settings, which are maps of texts. */
    public static void catalog(Map<String, List<Map<String, Object>>> sections, Writer out) {
        document(out, to -> {
            for (Map.Entry<String, List<Map<String, Object>>> section : sections.entrySet()) {
                to.json.writeFieldName(section.getKey());
                to.plain(section.getValue());
            }
        });
    }

    private void plain(Object value) throws IOException {
        if (value instanceof Map<?, ?> map) {
            json.writeStartObject();
            // Maps made in place have no order of their own.
            for (Map.Entry<?, ?> entry :
                    (map instanceof java.util.LinkedHashMap<?, ?> ? map : new java.util.TreeMap<>(map)).entrySet()) {
                json.writeFieldName(String.valueOf(entry.getKey()));
                plain(entry.getValue());
            }
            json.writeEndObject();
        } else if (value instanceof List<?> list) {
            json.writeStartArray();
            for (Object item : list) {
                plain(item);
            }
            json.writeEndArray();
        } else {
            json.writeString(String.valueOf(value));
        }
    }

    /**
     * Writes how means settle as repeats are added.
     *
     * @param inferences one per data set
     */
    public static void running(List<Inference> inferences, List<String> metrics, Writer out) {
        document(out, to -> {
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
     * Writes the splits of data sets with what was checked.
     *
     * @param audits one per task
     */
    public static void folds(List<Task> tasks, List<Audit> audits, long seed, Writer out) {
        document(out, to -> {
            to.json.writeNumberField("seed", seed);
            to.json.writeArrayFieldStart("datasets");
            for (int t = 0; t < tasks.size(); t++) {
                to.folds(tasks.get(t), audits.get(t));
            }
            to.json.writeEndArray();
        });
    }

    private void folds(Task task, Audit audit) throws IOException {
        json.writeStartObject();
        json.writeStringField("name", task.data().name());
        json.writeNumberField("rows", task.data().rows());
        json.writeStringField("form", task.splits().form().label());
        json.writeNumberField("repeats", task.splits().repeats());
        json.writeArrayFieldStart("splits");
        for (Audit.Facts split : audit.splits()) {
            json.writeStartObject();
            json.writeNumberField("repeat", split.repeat() + 1);
            json.writeNumberField("fold", split.fold() + 1);
            json.writeNumberField("train", split.train());
            json.writeNumberField("train_cases", split.trainCases());
            json.writeNumberField("test", split.test());
            json.writeObjectFieldStart("test_classes");
            for (int c = 0; c < split.testClasses().size(); c++) {
                json.writeNumberField(
                        task.data().classes().labels().get(c),
                        split.testClasses().get(c));
            }
            json.writeEndObject();
            if (task.data().groups().isPresent()) {
                json.writeNumberField("test_groups", split.testGroups());
            }
            if (split.trainSpan().isPresent() && split.testSpan().isPresent()) {
                number("train_last", split.trainSpan().get().last());
                number("test_first", split.testSpan().get().first());
                number("test_last", split.testSpan().get().last());
            }
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeArrayFieldStart("checks");
        for (Audit.Check check : audit.checks()) {
            json.writeStartObject();
            json.writeStringField(
                    "check", check.question().name().toLowerCase(Locale.ROOT).replace('_', '-'));
            json.writeStringField("outcome", check.outcome().name().toLowerCase(Locale.ROOT));
            json.writeNumberField("splits", check.splits());
            number("value", check.value());
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeEndObject();
    }

    /**
     * Writes picks under one metric.
     *
     * @param inferences one per data set
     * @param picks per data set, empty where no candidate can be compared
     */
    public static void picks(
            List<Inference> inferences, String metric, String rule, List<Optional<Picks>> picks, Writer out) {
        document(out, to -> {
            to.json.writeStringField("metric", metric);
            to.json.writeStringField("rule", rule);
            to.json.writeArrayFieldStart("datasets");
            for (int t = 0; t < inferences.size(); t++) {
                to.pick(inferences.get(t).panel(), picks.get(t));
            }
            to.json.writeEndArray();
            to.json.writeNullField("overall");
        });
    }

    private void pick(Panel panel, Optional<Picks> found) throws IOException {
        json.writeStartObject();
        json.writeStringField("name", panel.task().data().name());
        if (found.isEmpty()) {
            json.writeNullField("pick");
            json.writeEndObject();
            return;
        }
        Picks picks = found.get();
        List<String> names = panel.candidates().stream().map(Candidate::name).toList();
        json.writeStringField("pick", names.get(picks.pick()));
        json.writeStringField("best", names.get(picks.best()));
        number("best_mean", picks.bestMean());
        number("se", picks.standardError());
        number("threshold", picks.threshold());
        strings("eligible", picks.eligible().stream().map(names::get).toList());
        json.writeArrayFieldStart("rules");
        for (Picks.Choice choice : picks.choices()) {
            json.writeStartObject();
            json.writeStringField("rule", choice.rule().label());
            json.writeStringField("pick", names.get(choice.pick()));
            boolean best = choice.pick() == picks.best();
            number("difference", price(choice, best, Contrast::difference));
            number("low", price(choice, best, Contrast::low));
            number("high", price(choice, best, Contrast::high));
            json.writeEndObject();
        }
        json.writeEndArray();
        json.writeObjectFieldStart("frequency");
        for (Map.Entry<Integer, Double> entry : picks.frequency().entrySet()) {
            number(names.get(entry.getKey()), entry.getValue());
        }
        json.writeEndObject();
        json.writeEndObject();
    }

    private static double price(Picks.Choice choice, boolean best, java.util.function.ToDoubleFunction<Contrast> part) {
        return best ? 0 : choice.price().map(part::applyAsDouble).orElse(Double.NaN);
    }

    private void strings(String name, List<String> values) throws IOException {
        json.writeArrayFieldStart(name);
        for (String value : values) {
            json.writeString(value);
        }
        json.writeEndArray();
    }

    private void number(String name, double value) throws IOException {
        if (Double.isFinite(value)) {
            json.writeFieldName(name);
            json.writeNumber(Decimals.exact(value));
        } else {
            json.writeNullField(name);
        }
    }
}
