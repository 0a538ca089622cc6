package keenfold.cli;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.stream.Stream;
import keenfold.cli.FuzzedFiles.Kind;
import keenfold.io.InputException;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;

/**
 * Hands files that no sound program wrote to the commands that read them, in one process.
 *
 * <p>Whatever a file holds, a command ends with an exit code that is documented, says what is wrong in words, shows no
 * character that a terminal obeys, and ends; and what it reads without complaint it reads as another reader does. Case i of
 * a seed is the same on every machine.
 *
 * <p>By hand: {@code java -cp ... keenfold.cli.Fuzzer CASES SEED [FOLDER]}; what went wrong is kept in the folder.
 * {@code -Dkeenfold.fuzz.kind=MODEL} makes files of one kind alone.
 */
final class Fuzzer {
    /** Far beyond what the slowest case takes on a busy machine: what takes longer hangs. */
    private static final long HANGS_SECONDS = 120;

    private static final long SLOW_SECONDS = 10;
    private static final int MOST_UNITS = 60;
    private static final Set<Integer> CODES = Set.of(0, 2, 3, 4);
    private static final Optional<String> ONLY = Optional.ofNullable(System.getProperty("keenfold.fuzz.kind"));
    private static final ObjectMapper JSON = new ObjectMapper();

    private final FuzzedFiles files;
    private final Path folder;
    private final ExecutorService thread = Executors.newCachedThreadPool(work -> {
        Thread made = new Thread(work, "fuzzed");
        made.setDaemon(true);
        return made;
    });

    /** @param folder in which everything happens */
    Fuzzer(Path folder) throws IOException, SQLException {
        this.folder = Files.createDirectories(folder.resolve("case"));
        this.files = new FuzzedFiles(folder.resolve("sound"));
        files.make();
    }

    /** What came of a command. */
    record Said(int code, String out, String err) {}

    /** Calls a command as {@code main} does. */
    static Said call(String... args) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ByteArrayOutputStream err = new ByteArrayOutputStream();
        PrintStream toOut = new PrintStream(out, false, StandardCharsets.UTF_8);
        PrintStream toErr = new PrintStream(err, false, StandardCharsets.UTF_8);
        int code = Main.execute(toOut, toErr, args);
        toOut.flush();
        toErr.flush();
        return new Said(code, out.toString(StandardCharsets.UTF_8), err.toString(StandardCharsets.UTF_8));
    }

    /** Makes a case and looks at what comes of it; returns what is wrong. */
    Optional<String> look(long seed, int number) throws IOException {
        SplittableRandom chance = new SplittableRandom(seed * 1_000_003 + number);
        Kind drawn = Kind.values()[chance.nextInt(Kind.values().length)];
        Kind kind = ONLY.map(Kind::valueOf).orElse(drawn);
        clear();
        Path file = files.write(kind, new Mutations(chance), folder);
        return tried(kind, file);
    }

    /** Looks at what comes of a file that was kept. */
    Optional<String> look(Kind kind, Path kept) throws IOException {
        clear();
        Files.copy(files.sound("good.csv"), folder.resolve("good.csv"));
        Path file = folder.resolve(kind.file());
        Files.copy(kept, file);
        return tried(kind, file);
    }

    private Optional<String> tried(Kind kind, Path file) throws IOException {
        for (List<String> command : commands(kind, file.toString())) {
            Future<Said> running = thread.submit((Callable<Said>) () -> call(command.toArray(String[]::new)));
            try {
                Said said = running.get(HANGS_SECONDS, TimeUnit.SECONDS);
                Optional<String> wrong = wrong(command, said).or(() -> misread(kind, file, command, said));
                if (wrong.isPresent()) {
                    return Optional.of(kind + ", keenfold " + String.join(" ", command) + ": " + wrong.get());
                }
            } catch (TimeoutException e) {
                return Optional.of(kind + ", keenfold " + String.join(" ", command) + ": hangs");
            } catch (InterruptedException | ExecutionException e) {
                return Optional.of(kind + ", keenfold " + String.join(" ", command) + ": " + e.getCause());
            }
        }
        return Optional.empty();
    }

    private List<List<String>> commands(Kind kind, String file) {
        String data = folder.resolve("good.csv").toString();
        String out = folder.resolve("out").toString();
        return switch (kind) {
            case PLAN -> plan(file, out);
            case CSV, JSON_LINES, DATABASE ->
                List.of(
                        List.of("survey", file, "--json"),
                        List.of("survey", file, "--target", "lost"),
                        List.of("draft", file, "--target", "lost"),
                        List.of(
                                "compare",
                                file,
                                "--target",
                                "lost",
                                "--folds",
                                "2",
                                "--repeats",
                                "1",
                                "--seed",
                                "1",
                                "-o",
                                out + ".kfl",
                                "--try",
                                "majority",
                                "--try",
                                "naive-bayes",
                                "--threads",
                                "1"),
                        List.of("predict", files.sound("model.kfm").toString(), file));
            case LEDGER ->
                List.of(
                        List.of("scores", file, "--draws", "100", "--confusion"),
                        List.of("contrast", file, "--draws", "100", "--json"),
                        List.of("pick", file, "--draws", "100", "--json"),
                        List.of("export", file, "--what", "predictions", "-o", out + ".csv"),
                        List.of("export", file, "--what", "fits"),
                        List.of("draw", file, "--figure", "means", "--draws", "100"),
                        List.of("scores", file, "--by", "column", "--draws", "100"),
                        List.of("train", file, "-o", out + ".kfm", "--draws", "100"),
                        List.of("merge", file, "-o", out + ".kfl"));
            case DAMAGED_LEDGER -> List.of(List.of("export", file, "--what", "predictions"));
            case MODEL ->
                List.of(
                        List.of("show", file),
                        List.of("show", file, "--json"),
                        List.of("export", file, "--what", "pmml"),
                        List.of("predict", file, data));
            case ADOPTED ->
                List.of(
                        List.of("adopt", file, "-o", out + ".kfl"),
                        List.of("scores", out + ".kfl", "--draws", "100"),
                        List.of("contrast", out + ".kfl", "--draws", "100"));
        };
    }

    /** A plan is carried out only if it comes to a few fits. */
    private static List<List<String>> plan(String file, String out) {
        List<List<String>> commands =
                new ArrayList<>(List.of(List.of("folds", file), List.of("folds", file, "--json")));
        try {
            Plan plan = PlanReader.read(Path.of(file));
            Said folds = call("folds", file, "--csv", "--quiet");
            long splits = folds.out()
                    .lines()
                    .map(l -> l.replaceAll("^([^,]*),[0-9]+,", "$1,"))
                    .distinct()
                    .count();
            boolean small = plan.candidates().size() * splits <= MOST_UNITS
                    && plan.candidates().stream().allMatch(c -> c.settings().values().values().stream()
                            .allMatch(v -> v.length() < 5));
            if (small && plan.evidence().halving().splits() == 0) {
                commands.add(List.of("run", file, "-o", out + ".kfl", "--threads", "1"));
                commands.add(List.of("scores", out + ".kfl", "--draws", "100"));
            }
        } catch (InputException e) {
            // It says so by itself, above.
            return commands;
        }
        return commands;
    }

    private static Optional<String> wrong(List<String> command, Said said) {
        if (!CODES.contains(said.code())) {
            return Optional.of("exit code " + said.code() + ": " + said.err());
        }
        if (said.code() == 3 && !said.err().contains("keenfold: ")) {
            return Optional.of("exit code 3 without a word");
        }
        for (String text : List.of(said.err(), exact(command) ? "" : said.out())) {
            if (text.contains("\tat ") || text.contains("Exception")) {
                return Optional.of("a trace: " + text);
            }
            Optional<Integer> hidden = text.codePoints()
                    .filter(c -> c != '\n'
                            && c != '\t'
                            && (Character.isISOControl(c) || Character.getType(c) == Character.FORMAT))
                    .boxed()
                    .findFirst();
            if (hidden.isPresent()) {
                return Optional.of("shows U+" + Integer.toHexString(hidden.get()));
            }
        }
        if (command.contains("--json") && said.code() == 0) {
            try {
                JSON.readTree(said.out());
            } catch (IOException e) {
                return Optional.of("no JSON: " + e.getMessage());
            }
        }
        return Optional.empty();
    }

    /** Whether standard output is for programs, exact to the character. */
    private static boolean exact(List<String> command) {
        return command.contains("--json")
                || Set.of("export", "predict", "draft").contains(command.get(0));
    }

    /** What was read without complaint must be what stands there. */
    private Optional<String> misread(Kind kind, Path file, List<String> command, Said said) {
        if (said.code() != 0) {
            return Optional.empty();
        }
        if (kind == Kind.DAMAGED_LEDGER) {
            Said sound = call("export", files.sound("ledger.kfl").toString(), "--what", "predictions");
            return sound.out().equals(said.out())
                    ? Optional.empty()
                    : Optional.of("other predictions than the sound one");
        }
        if (kind == Kind.CSV && command.contains("--json")) {
            return misreadTable(file, said);
        }
        return Optional.empty();
    }

    private static Optional<String> misreadTable(Path file, Said said) {
        try {
            String text = StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .decode(java.nio.ByteBuffer.wrap(Files.readAllBytes(file)))
                    .toString();
            JsonNode survey = JSON.readTree(said.out());
            String plain = text.startsWith("\uFEFF") ? text.substring(1) : text;
            for (char separator : new char[] {',', ';', '\t', '|'}) {
                Optional<List<CsvRecord>> rows = parsed(plain, separator);
                if (rows.isPresent() && agrees(rows.get(), survey)) {
                    return Optional.empty();
                }
            }
            return Optional.of("another reader finds other columns, rows or gaps");
        } catch (CharacterCodingException e) {
            // Packed, or of another encoding.
            return Optional.empty();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Optional<List<CsvRecord>> parsed(String text, char separator) {
        try {
            return Optional.of(CsvReader.builder()
                    .fieldSeparator(separator)
                    .allowExtraFields(true)
                    .allowMissingFields(true)
                    .ofCsvRecord(text)
                    .stream()
                    .toList());
        } catch (CsvParseException e) {
            return Optional.empty();
        }
    }

    /** Whether as many rows, the same columns and as many gaps were found. */
    private static boolean agrees(List<CsvRecord> rows, JsonNode survey) {
        JsonNode columns = survey.get("columns");
        if (rows.isEmpty() || survey.get("rows").asInt() != rows.size() - 1) {
            return false;
        }
        List<String> names =
                rows.get(0).getFields().stream().map(Fuzzer::trimmed).toList();
        if (columns.size() != names.size()) {
            return false;
        }
        for (int c = 0; c < names.size(); c++) {
            int at = c;
            long missing = rows.stream()
                    .skip(1)
                    .map(r -> trimmed(r.getField(at)))
                    .filter(v -> Set.of("", "NA", "NaN", "?").contains(v))
                    .count();
            boolean same = columns.get(c).get("name").asText().equals(names.get(c))
                    && columns.get(c).get("missing").asInt() == missing;
            if (!same) {
                return false;
            }
        }
        return true;
    }

    /** Without white space around it, as ASCII knows it. */
    private static String trimmed(String cell) {
        return cell.replaceAll("^[ \t-\r]+|[ \t-\r]+$", "");
    }

    private void clear() throws IOException {
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path path : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
                if (!path.equals(folder)) {
                    Files.delete(path);
                }
            }
        }
    }

    /** Keeps what the last case was made of. */
    void keep(Path to) throws IOException {
        Files.createDirectories(to);
        try (Stream<Path> all = Files.list(folder)) {
            for (Path path : all.filter(Files::isRegularFile).toList()) {
                Files.copy(path, to.resolve(path.getFileName()), java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            }
        }
    }

    /** Runs many cases. */
    public static void main(String[] args) throws IOException, SQLException {
        int cases = Integer.parseInt(args[0]);
        long seed = Long.parseLong(args[1]);
        int first = args.length > 3 ? Integer.parseInt(args[3]) : 0;
        Path home = Path.of(args.length > 2 ? args[2] : "fuzz");
        Fuzzer fuzzer = new Fuzzer(Files.createTempDirectory("keenfold-fuzz"));
        int wrong = 0;
        for (int i = first; i < first + cases; i++) {
            long begun = System.nanoTime();
            Optional<String> found = fuzzer.look(seed, i);
            long seconds = TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - begun);
            if (seconds >= SLOW_SECONDS) {
                System.out.println("case " + i + " took " + seconds + " s");
                fuzzer.keep(home.resolve("slow-" + seed + "-" + i));
            }
            if (found.isPresent()) {
                wrong++;
                System.out.println("case " + i + ": " + found.get());
                fuzzer.keep(home.resolve("case-" + seed + "-" + i));
            }
            if ((i + 1) % 1000 == 0) {
                System.out.println(i + 1 - first + " cases, " + wrong + " with a fault");
            }
        }
        System.out.println(cases + " cases, " + wrong + " with a fault");
        System.exit(wrong == 0 ? 0 : 1);
    }
}
