package keenfold.io.export;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.Writer;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Breakdown;
import keenfold.core.data.ColumnProfile;
import keenfold.core.data.Suspicion;
import keenfold.core.run.result.Task;
import keenfold.core.split.Audit;

/** Writes what there is to see before anything is run: a table, the catalog, splits; with the keys that docs/json.md settles. */
public final class JsonLook extends JsonText {
    private JsonLook(JsonGenerator json) {
        super(json);
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
        document(out, JsonLook::new, to -> {
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
                if (s.beside() > 0) {
                    to.json.writeNumberField("beside", s.beside());
                }
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

    /** Writes a catalog: sections of entries, each a map of texts with a list of settings, which are maps of texts. */
    public static void catalog(Map<String, List<Map<String, Object>>> sections, Writer out) {
        document(out, JsonLook::new, to -> {
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
     * Writes the splits of data sets with what was checked.
     *
     * @param audits one per task
     */
    public static void folds(List<Task> tasks, List<Audit> audits, long seed, Writer out) {
        document(out, JsonLook::new, to -> {
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
}
