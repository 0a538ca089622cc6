package keenfold.io.command;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import java.io.FileInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Decimals;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Training;
import keenfold.io.TemporaryFiles;

/** The folder of one call of a program: what a program is handed in it, and what it hands back. */
final class Exchange implements AutoCloseable {
    static final String ANSWER = "probabilities.csv";

    /** The folder in which a program keeps what it learned. */
    private static final String MODEL = "model";

    private static final double SLACK = Outcomes.SUM_TOLERANCE;

    private final Task task;
    private final int rows;
    private final Path folder;
    private Optional<LastWords> errors = Optional.empty();

    /** Makes the folder and the files that are handed over. */
    Exchange(Task task) {
        this.task = task;
        this.rows = task.test().map(Table::rows).orElse(0);
        try {
            this.folder = TemporaryFiles.folder();
            if (task.training().isPresent()) {
                write(task.training().get());
            }
            if (task.test().isPresent()) {
                write("test.csv", task.test().get(), Optional.empty());
            }
            if (task.kind() != Task.Kind.FIT) {
                Files.createDirectory(folder.resolve(MODEL));
            }
            if (task.kept().isPresent()) {
                task.kept().get().write(folder.resolve(MODEL));
            }
            about();
        } catch (IOException e) {
            throw new FitFailure("the files for the program cannot be written: " + e.getMessage());
        }
    }

    Path folder() {
        return folder;
    }

    private void write(Training training) throws IOException {
        write("train.csv", training.table(), Optional.of(training));
    }

    private void write(String name, Table table, Optional<Training> train) throws IOException {
        try (CsvWriter csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(folder.resolve(name))) {
            List<String> line = new ArrayList<>(train.isPresent() ? List.of("class", "weight") : List.of());
            table.columns().forEach(c -> line.add(c.name()));
            csv.writeRecord(line);
            for (int i = 0; i < table.rows(); i++) {
                line.clear();
                if (train.isPresent()) {
                    Training training = train.get();
                    line.add(training.labels().get(training.target(i)));
                    line.add(Decimals.exact(training.weight(i)));
                }
                for (Column column : table.columns()) {
                    line.add(cell(column, i));
                }
                csv.writeRecord(line);
            }
        }
    }

    private static String cell(Column column, int row) {
        return column.missing(row)
                ? ""
                : column.match(
                        n -> Decimals.exact(n.get(row)),
                        (Categories k) -> Categories.text(k.levels().get(k.code(row))));
    }

    /** What the program kept when it was trained. */
    KeptFiles kept() {
        try {
            return KeptFiles.read(folder.resolve(MODEL));
        } catch (FitFailure e) {
            throw nonsense(String.valueOf(e.getMessage()));
        }
    }

    private void about() throws IOException {
        try (JsonGenerator json = new JsonFactory()
                .createGenerator(folder.resolve("about.json").toFile(), com.fasterxml.jackson.core.JsonEncoding.UTF8)) {
            json.writeStartObject();
            json.writeNumberField("keenfold", 1);
            json.writeStringField("task", task.kind().word());
            json.writeArrayFieldStart("classes");
            for (String label : task.classes()) {
                json.writeString(label);
            }
            json.writeEndArray();
            json.writeArrayFieldStart("columns");
            for (Column column : task.columns()) {
                json.writeStartObject();
                json.writeStringField("name", column.name());
                json.writeStringField("kind", column instanceof Numbers ? "number" : "category");
                json.writeEndObject();
            }
            json.writeEndArray();
            json.writeNumberField(
                    "train_rows", task.training().map(Training::rows).orElse(0));
            json.writeNumberField("test_rows", rows);
            json.writeNumberField("seed", task.seed());
            json.writeEndObject();
        }
    }

    /**
     * Reads what was handed back.
     *
     * @return K probabilities a row, in the order of the classes
     * @throws FitFailure if it makes no sense, saying where
     */
    double[] answer() {
        Path file = folder.resolve(ANSWER);
        if (!Files.isRegularFile(file)) {
            throw nonsense("the program ended well, but wrote no " + ANSWER);
        }
        List<String> labels = task.classes();
        double[] all = new double[rows * labels.size()];
        // A plain stream: channels close when the thread is interrupted.
        try (Reader text =
                        new InputStreamReader(new FileInputStream(file.toFile()), StandardCharsets.UTF_8.newDecoder());
                CsvReader<CsvRecord> csv = CsvReader.builder()
                        .allowExtraFields(true)
                        .allowMissingFields(true)
                        .ofCsvRecord(text)) {
            int[] place = new int[0];
            int row = -1;
            for (CsvRecord line : csv) {
                if (row < 0) {
                    place = header(line.getFields());
                } else {
                    if (row >= rows) {
                        throw nonsense(ANSWER + " has more rows than the " + rows + " of test.csv");
                    }
                    read(line, place, all, row);
                }
                row++;
            }
            if (row < rows) {
                throw nonsense(ANSWER + " has " + Math.max(0, row) + " rows for the " + rows + " of test.csv");
            }
            return all;
        } catch (IOException | UncheckedIOException | CsvParseException e) {
            boolean coding = Stream.<Throwable>iterate(e, t -> t != null, Throwable::getCause)
                    .anyMatch(CharacterCodingException.class::isInstance);
            throw nonsense(ANSWER + (coding ? " is not UTF-8" : " cannot be read: " + e.getMessage()));
        }
    }

    /** Which class each column speaks of. */
    private int[] header(List<String> fields) {
        List<String> labels = task.classes();
        int[] place = fields.stream().mapToInt(labels::indexOf).toArray();
        for (int k = 0; k < place.length; k++) {
            if (place[k] < 0) {
                throw nonsense("the header of " + ANSWER + " names \"" + fields.get(k) + "\", which is no class"
                        + Suggestion.hint(fields.get(k), labels));
            }
        }
        for (int c = 0; c < labels.size(); c++) {
            int wanted = c;
            long times = Arrays.stream(place).filter(p -> p == wanted).count();
            if (times > 1 || (times == 0 && task.answered().contains(c))) {
                throw nonsense("the header of " + ANSWER + " names class \"" + labels.get(c) + "\" "
                        + (times > 1 ? "twice" : "nowhere") + "; it names each class of train.csv once");
            }
        }
        return place;
    }

    private void read(CsvRecord line, int[] place, double[] all, int row) {
        String where = ANSWER + ", line " + line.getStartingLineNumber() + ": ";
        if (line.getFieldCount() != place.length) {
            throw nonsense(where + line.getFieldCount() + " fields under a header of " + place.length);
        }
        int at = row * task.classes().size();
        double sum = 0;
        for (int k = 0; k < place.length; k++) {
            double p = number(line.getField(k), where);
            all[at + place[k]] = Math.min(1, Math.max(0, p));
            sum += all[at + place[k]];
        }
        if (!Outcomes.isWhole(sum)) {
            throw nonsense(where + "the probabilities sum to " + String.format(Locale.ROOT, "%.6g", sum)
                    + "; they must sum to 1, to within " + SLACK);
        }
    }

    private FitFailure nonsense(String what) {
        return new FitFailure(what + errorText());
    }

    private double number(String text, String where) {
        double p = Double.NaN;
        try {
            p = Double.parseDouble(text.strip());
        } catch (NumberFormatException e) {
            throw nonsense(where + "\"" + text + "\" is no number");
        }
        if (!(p >= -SLACK && p <= 1 + SLACK)) {
            throw nonsense(where + text.strip() + " is no probability");
        }
        return p;
    }

    /** What the program wrote to standard error, on lines of its own; perhaps nothing. */
    private String errorText() {
        return errors.map(LastWords::text).orElse("");
    }

    /** Its complaints are to end with what the program wrote to standard error. */
    void hears(LastWords words) {
        errors = Optional.of(words);
    }

    @Override
    public void close() {
        TemporaryFiles.remove(folder);
    }
}
