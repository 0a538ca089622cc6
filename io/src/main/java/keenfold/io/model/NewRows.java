package keenfold.io.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
import keenfold.io.table.parse.TableFormat;
import keenfold.io.table.parse.Values;
import org.jspecify.annotations.Nullable;

/**
 * New rows for a model: compared with its columns first, all of them, then handed over some at a time as it wants them.
 *
 * <p>Columns are matched by name, so that their order does not matter. A level that the model was not trained on is its own
 * level, as one is that a training side lacks. Memory does not grow with the rows.
 */
public final class NewRows {
    private static final int TOGETHER = 4096;
    private static final int MOST_LEVELS = 1000;

    private final ModelFile model;
    private final TableLocation where;
    private final TableFormat format;
    private final List<String> names = new ArrayList<>();
    private final Map<String, Map<String, Integer>> unseen = new LinkedHashMap<>();
    private final List<Map<String, Integer>> codes = new ArrayList<>();
    /** Columns of which a value that the model was not trained on is kept as it is, since it is read, or handed on. */
    private final Set<String> kept = new HashSet<>();

    private final Set<String> texts = new HashSet<>();
    private int[] places = new int[0];
    private int target = -1;
    private int rows;
    private int unlabelled;

    private NewRows(ModelFile model, TableLocation where, TableFormat format) {
        this.model = model;
        this.where = where;
        this.format = format;
        texts.addAll(model.predictor().textColumns(model.columns().empty()));
        for (Schema.OfColumn c : model.columns().columns()) {
            if (c.kind() == Schema.Kind.TEXT) {
                texts.add(c.name());
            }
            if (texts.contains(c.name()) || model.predictor().asksAnotherProgram()) {
                kept.add(c.name());
            }
            Map<String, Integer> own = new HashMap<>();
            for (String level : c.levels()) {
                own.put(level, own.size());
            }
            codes.add(own);
        }
    }

    /**
     * Looks through a file.
     *
     * @param format how it is written; decimals and missing values are as the model's
     * @throws InputException if a column is missing or holds something else than the model was trained on, each named
     */
    public static NewRows of(ModelFile model, TableLocation where, TableFormat format) {
        NewRows made = new NewRows(
                model,
                where,
                new TableFormat(
                        format.separator(),
                        new java.util.HashSet<>(model.columns().missing()),
                        java.util.Set.of(),
                        java.util.Set.of(),
                        model.columns().decimal(),
                        format.encoding()));
        made.look();
        return made;
    }

    private void look() {
        TableReader.rows(where, format, new TableReader.Rows() {
            @Override
            public void names(List<String> columns) {
                match(columns);
            }

            @Override
            public void row(@Nullable String[] values, String place) {
                check(values, place);
            }
        });
        if (names.isEmpty()) {
            throw new InputException(where.shown(), "the file is empty: expected a line of column names, then rows");
        }
    }

    private void match(List<String> columns) {
        names.addAll(columns);
        List<String> wanted =
                model.columns().columns().stream().map(Schema.OfColumn::name).toList();
        List<String> missing = wanted.stream().filter(n -> !columns.contains(n)).toList();
        if (!missing.isEmpty()) {
            String hint = missing.size() == 1 ? Suggestion.hint(missing.get(0), columns) : "";
            throw new InputException(
                    where.shown(),
                    (missing.size() == 1 ? "the column " : missing.size() + " columns ") + quoted(missing)
                            + (missing.size() == 1 ? " is" : " are")
                            + " missing, which the model was trained on" + hint
                            + TableReader.hintOfOneColumn(columns));
        }
        places = wanted.stream().mapToInt(columns::indexOf).toArray();
        target = columns.indexOf(model.target());
    }

    private static String quoted(List<String> names) {
        return "\"" + String.join("\", \"", names) + "\"";
    }

    private void check(@Nullable String[] values, String place) {
        rows++;
        List<Schema.OfColumn> columns = model.columns().columns();
        for (int j = 0; j < places.length; j++) {
            String text = values[places[j]];
            if (text == null) {
                continue;
            }
            Schema.OfColumn c = columns.get(j);
            if (texts.contains(c.name())) {
                continue;
            }
            if (c.kind() == Schema.Kind.CATEGORY) {
                Map<String, Integer> found = unseen.getOrDefault(c.name(), Map.of());
                if (!codes.get(j).containsKey(text) && (found.size() < MOST_LEVELS || found.containsKey(text))) {
                    unseen.computeIfAbsent(c.name(), k -> new LinkedHashMap<>()).merge(text, 1, Integer::sum);
                }
            } else if (Double.isNaN(value(c, text))) {
                throw new InputException(
                        where.shown() + ", " + place + ", column \"" + c.name() + "\"",
                        "\"" + text + "\" is no "
                                + (c.kind() == Schema.Kind.DATE ? "ISO date, such as 2026-05-31," : "number,")
                                + " as the model was trained on; missing values are written "
                                + String.join(
                                        ", ",
                                        model.columns().missing().stream()
                                                .map(m -> "\"" + m + "\"")
                                                .toList()));
            }
        }
        if (target >= 0 && !model.classes().contains(String.valueOf(values[target]))) {
            unlabelled++;
        }
    }

    private double value(Schema.OfColumn column, String text) {
        return column.kind() == Schema.Kind.DATE
                ? Values.day(text)
                : Values.number(text, model.columns().decimal());
    }

    /** Returns the names of the file's columns. */
    public List<String> names() {
        return List.copyOf(names);
    }

    /** Returns how many rows there are. */
    public int rows() {
        return rows;
    }

    /** Returns the columns that the model does not know, without its target. */
    public List<String> additional() {
        List<String> wanted =
                model.columns().columns().stream().map(Schema.OfColumn::name).toList();
        return names.stream()
                .filter(n -> !wanted.contains(n) && !n.equals(model.target()))
                .toList();
    }

    /** Returns whether the model's columns stand in another order. */
    public boolean reordered() {
        return IntStream.range(1, places.length).anyMatch(j -> places[j] < places[j - 1]);
    }

    /** Returns by column the levels that the model was not trained on, with how many rows have each. */
    public Map<String, Map<String, Integer>> unseen() {
        return unseen;
    }

    /** Returns whether the column that the model predicts is there. */
    public boolean hasTarget() {
        return target >= 0;
    }

    /** Returns in how many rows the class is missing, or none that the model knows. */
    public int unlabelled() {
        return unlabelled;
    }

    /** What is done with some rows. */
    public interface Some {
        /**
         * Takes some rows.
         *
         * @param features the model's columns
         * @param actual class index of each row, −1 if it is not known
         * @param values of each row, as in the file; null for a missing one
         */
        void take(Table features, int[] actual, List<@Nullable String[]> values);
    }

    /** Hands over all rows, in order, some at a time. */
    public void each(Some some) {
        List<@Nullable String[]> waiting = new ArrayList<>();
        TableReader.rows(where, format, new TableReader.Rows() {
            @Override
            public void names(List<String> columns) {}

            @Override
            public void row(@Nullable String[] values, String place) {
                waiting.add(values);
                if (waiting.size() == TOGETHER) {
                    hand(waiting, some);
                }
            }
        });
        if (!waiting.isEmpty()) {
            hand(waiting, some);
        }
    }

    private void hand(List<@Nullable String[]> waiting, Some some) {
        List<Column> columns = new ArrayList<>();
        for (int j = 0; j < places.length; j++) {
            columns.add(column(j, waiting));
        }
        int[] actual = new int[waiting.size()];
        Arrays.setAll(actual, i -> target < 0 ? -1 : model.classes().indexOf(String.valueOf(waiting.get(i)[target])));
        some.take(new Table(waiting.size(), columns), actual, List.copyOf(waiting));
        waiting.clear();
    }

    private Column column(int j, List<@Nullable String[]> rows) {
        Schema.OfColumn c = model.columns().columns().get(j);
        if (c.numeric()) {
            double[] values = new double[rows.size()];
            Arrays.setAll(values, i -> {
                String text = rows.get(i)[places[j]];
                return text == null ? Double.NaN : value(c, text);
            });
            return Numbers.owning(c.name(), values);
        }
        List<String> levels = new ArrayList<>(c.levels());
        Map<String, Integer> others = new HashMap<>();
        if (!kept.contains(c.name())) {
            levels.add(Categories.UNSEEN);
        }
        int[] own = new int[rows.size()];
        for (int i = 0; i < own.length; i++) {
            String text = rows.get(i)[places[j]];
            Integer known = text == null ? Integer.valueOf(-1) : codes.get(j).get(text);
            if (known == null && kept.contains(c.name())) {
                // Each unseen value is a level of its own, so that what it says is not lost.
                known = others.computeIfAbsent(String.valueOf(text), t -> {
                    levels.add(Categories.UNSEEN + t);
                    return levels.size() - 1;
                });
            }
            own[i] = known == null ? levels.size() - 1 : known;
        }
        return Categories.ofCodes(c.name(), levels, own);
    }
}
