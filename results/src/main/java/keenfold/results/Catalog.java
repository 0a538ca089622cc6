package keenfold.results;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.table.ResultTable;

/**
 * What can be asked for.
 *
 * @param sections entries by section, in order
 */
public record Catalog(Map<String, List<Entry>> sections) implements Result {
    /** Copies the sections. */
    public Catalog {
        sections = Collections.unmodifiableMap(new LinkedHashMap<>(sections));
    }

    /**
     * One thing that can be asked for.
     *
     * @param name as plans write it
     * @param meaning one line
     * @param facts title to text, in order
     * @param settings its settings, perhaps none
     */
    public record Entry(String name, String meaning, Map<String, String> facts, List<Choice> settings) {}

    /**
     * A setting of an entry.
     *
     * @param name as plans write it
     * @param values which values it takes
     * @param preset the value where none is named; {@code none} or {@code required}
     * @param meaning one line
     */
    public record Choice(String name, String values, String preset, String meaning) {}

    @Override
    public ResultTable table() {
        List<List<Object>> rows = new ArrayList<>();
        sections.forEach((section, entries) -> entries.forEach(e -> rows.add(List.of(section, e.name(), e.meaning()))));
        return ResultTable.of(List.of("section", "name", "meaning"), rows);
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        sections.forEach((section, entries) ->
                document.put(section, entries.stream().map(Catalog::values).toList()));
        return document;
    }

    private static Map<String, Object> values(Entry entry) {
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("name", entry.name());
        values.put("meaning", entry.meaning());
        entry.facts().forEach((key, value) -> values.put(key.replace(' ', '_'), value));
        values.put(
                "settings",
                ResultTable.<Choice>define()
                        .text("meaning", Choice::meaning)
                        .name("name", Choice::name)
                        .text("preset", Choice::preset)
                        .text("values", Choice::values)
                        .of(entry.settings()));
        return values;
    }

    @Override
    public List<Notice> notices() {
        return List.of();
    }
}
