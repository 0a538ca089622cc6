package keenfold.cli;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Locale;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import keenfold.io.ledger.LedgerForger;
import keenfold.io.sqlite.SqliteFile;

/** Files of each kind that a stranger may hand over: sound ones, and ones made of them that are not. */
final class FuzzedFiles {
    static final String PLAN =
            """
            keenfold: 1
            note: which colonies need help?
            data:
              - {file: good.csv, target: lost, positive: yes, groups: site, order: day, leave-out: [id]}
            holdout: {share: 0.2}
            splits: {scheme: k-fold, folds: 2, repeats: 2, stratified: true}
            seed: 7
            metrics: [accuracy, auc]
            primary: auc
            candidates:
              guess: {classifier: majority}
              near: {classifier: nearest, neighbours: {vary: [1, 3]}}
              bush: {classifier: tree, depth: {choose: [1, 2]}, tuning: {folds: 2, by: one-se}}
              trimmed: {prepare: [{fill: median}, one-hot, standardise], classifier: discriminant}
              council: {classifier: vote, members: [guess, trimmed], by: probability}
            evidence: {draws: 200, level: 0.9, margin: 0.01}
            pick: {rule: one-se, simpler-by: size}
            """;

    /** One candidate of each form that a learned model takes. */
    private static final String MODELS =
            """
            keenfold: 1
            data: [{file: good.csv, target: lost, positive: yes, leave-out: [id]}]
            splits: {folds: 2, repeats: 1}
            seed: 7
            candidates:
              m0: {classifier: majority}
              m1: {classifier: naive-bayes, calibrate: {by: isotonic}}
              m2: {classifier: logistic, penalty: lasso, prepare: [{fill: mean}, {bins: 3}, one-hot, power, drop-constant]}
              m3: {classifier: nearest, neighbours: 3, prepare: [{fill: mean}, ordinal, {rescale: {low: 0, high: 2}}]}
              m4: {classifier: tree, depth: 3, threshold: {for: f1}}
              m5: {classifier: forest, trees: 3}
              m6: {classifier: boosting, rounds: 3}
              m7: {classifier: svm}
              m8: {classifier: network, units: 2, steps: 10}
              m9: {classifier: stack, members: [m1, m4]}
            """;

    private static final int MODEL_COUNT = 10;

    private static final List<String> COLUMNS = List.of(
            "dataset.rows",
            "dataset.positive",
            "dataset.source_rows",
            "dataset.targets",
            "dataset.groups",
            "dataset.form",
            "dataset.name",
            "dataset.held_back",
            "class.label",
            "class.position",
            "class.rows",
            "split.folds",
            "split.repeat",
            "candidate.name",
            "candidate.id",
            "about.value",
            "fit.purpose",
            "fit.resample",
            "fit.dataset",
            "fit.candidate",
            "fit.repeat",
            "fit.fold",
            "fit.status",
            "fit.message",
            "fit.size",
            "fit.chosen",
            "fit.shared",
            "fit.threshold",
            "fit.columns",
            "fit.train_seconds",
            "score.value",
            "score.metric",
            "prediction.probabilities",
            "prediction.labels",
            "prediction.fit");

    /** What a file is taken for. */
    enum Kind {
        /** A plan. */
        PLAN("plan.yaml"),
        /** Delimited text. */
        CSV("table.csv"),
        /** JSON Lines. */
        JSON_LINES("table.jsonl"),
        /** A table of a database. */
        DATABASE("table.db"),
        /** A ledger whose checksums were made anew. */
        LEDGER("ledger.kfl"),
        /** A ledger of which bits turned. */
        DAMAGED_LEDGER("ledger.kfl"),
        /** A model. */
        MODEL("model.kfm"),
        /** Predictions or scores to be adopted. */
        ADOPTED("adopted.csv");

        private final String file;

        Kind(String file) {
            this.file = file;
        }

        String file() {
            return file;
        }
    }

    private final Path base;

    /** @param base a folder in which sound files are made */
    FuzzedFiles(Path base) {
        this.base = base;
    }

    /** A table of 24 rows of two classes, with gaps, groups, days and names. */
    static String table(char separator) {
        StringBuilder csv = new StringBuilder("id,mites,race,site,day,lost\n");
        IntStream.range(0, 24)
                .forEach(i -> csv.append(String.format(
                        Locale.ROOT,
                        "h%d,%s,%s,s%d,2026-01-%02d,%s%n",
                        i,
                        i % 7 == 3 ? "" : Double.toString(i * 37 % 11 / 4.0),
                        List.of("dark", "buckfast", "carnica").get(i * 5 % 3),
                        i % 6,
                        1 + i,
                        i * 37 % 11 + i % 3 > 6 ? "yes" : "no")));
        return csv.toString().replace(System.lineSeparator(), "\n").replace(',', separator);
    }

    /** Makes the sound files. */
    void make() throws IOException, SQLException {
        Files.createDirectories(base);
        Files.writeString(base.resolve("good.csv"), table(','));
        Files.writeString(base.resolve("plan.yaml"), PLAN);
        Fuzzer.Said run = Fuzzer.call("run", at("plan.yaml"), "-o", at("ledger.kfl"), "--quiet");
        Fuzzer.Said train = Fuzzer.call("train", at("ledger.kfl"), "-o", at("model.kfm"), "--quiet");
        for (String what : List.of("predictions", "scores")) {
            Fuzzer.call("export", at("ledger.kfl"), "--what", what, "-o", at(what + ".csv"), "--quiet");
        }
        Files.writeString(base.resolve("models.yaml"), MODELS);
        StringBuilder failed = new StringBuilder();
        for (int i = 0; i < MODEL_COUNT; i++) {
            Fuzzer.Said one =
                    Fuzzer.call("train", at("models.yaml"), "--candidate", "m" + i, "-o", at("m" + i + ".kfm"));
            failed.append(one.code() == 0 ? "" : one.err());
        }
        if (run.code() != 0 || train.code() != 0 || failed.length() > 0) {
            throw new IllegalStateException("the sound files cannot be made: " + run.err() + train.err() + failed);
        }
        try (Connection connection = SqliteFile.open(base.resolve("table.db"), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("CREATE TABLE hives (id TEXT, mites REAL, race TEXT, lost TEXT)");
            for (int i = 0; i < 24; i++) {
                statement.execute("INSERT INTO hives VALUES ('h" + i + "', " + i * 37 % 11 + ", 'dark', '"
                        + (i * 37 % 11 > 5 ? "yes" : "no") + "')");
            }
        }
    }

    private String at(String file) {
        return base.resolve(file).toString();
    }

    Path sound(String file) {
        return base.resolve(file);
    }

    /** Puts a file of a kind into a folder, beside what it needs. */
    Path write(Kind kind, Mutations mutations, Path folder) throws IOException {
        Path file = folder.resolve(kind.file());
        Files.copy(base.resolve("good.csv"), folder.resolve("good.csv"), StandardCopyOption.REPLACE_EXISTING);
        SplittableRandom chance = mutations.chance();
        switch (kind) {
            case PLAN -> Files.write(file, mutations.encoded(mutations.text(PLAN)));
            case CSV -> {
                char separator = List.of(',', ';', '\t', '|').get(chance.nextInt(4));
                byte[] bytes = mutations.encoded(mutations.table(table(separator), separator));
                Files.write(file, chance.nextInt(12) == 0 ? mutations.bytes(packed(bytes)) : bytes);
            }
            case JSON_LINES -> Files.write(file, mutations.encoded(mutations.text(jsonLines())));
            case DATABASE -> database(mutations, file);
            case LEDGER -> ledger(mutations, file);
            case DAMAGED_LEDGER -> Files.write(file, mutations.bytes(Files.readAllBytes(base.resolve("ledger.kfl"))));
            case MODEL -> {
                byte[] packed = Files.readAllBytes(base.resolve("m" + chance.nextInt(MODEL_COUNT) + ".kfm"));
                Files.write(
                        file,
                        chance.nextInt(8) == 0
                                ? mutations.bytes(packed)
                                : packed(model(mutations, new String(unpacked(packed), StandardCharsets.UTF_8))
                                        .getBytes(StandardCharsets.UTF_8)));
            }
            case ADOPTED -> {
                String table = Files.readString(base.resolve(chance.nextBoolean() ? "predictions.csv" : "scores.csv"));
                Files.write(file, mutations.encoded(mutations.table(table, ',')));
            }
        }
        return file;
    }

    private static String model(Mutations mutations, String json) {
        return mutations.chance().nextInt(4) == 0 ? mutations.text(json) : mutations.json(json);
    }

    private static String jsonLines() {
        StringBuilder lines = new StringBuilder();
        for (String line : table(',').lines().skip(1).toList()) {
            String[] cells = line.split(",", -1);
            lines.append("{\"id\":\"").append(cells[0]).append("\",\"mites\":");
            lines.append(cells[1].isEmpty() ? "null" : cells[1]);
            lines.append(",\"race\":\"")
                    .append(cells[2])
                    .append("\",\"lost\":\"")
                    .append(cells[5]);
            lines.append("\"}\n");
        }
        return lines.toString();
    }

    private void database(Mutations mutations, Path file) throws IOException {
        byte[] bytes = Files.readAllBytes(base.resolve("table.db"));
        SplittableRandom chance = mutations.chance();
        if (chance.nextInt(3) == 0) {
            Files.write(file, mutations.bytes(bytes));
            return;
        }
        Files.write(file, bytes);
        String odd = mutations.odd().replace("'", "''").replace("\u0000", "");
        String command = mutations.one(List.of(
                "UPDATE hives SET mites = '" + odd + "' WHERE rowid = 3",
                "UPDATE hives SET lost = '" + odd + "' WHERE rowid > 5",
                "UPDATE hives SET race = x'00ff' WHERE rowid = 4",
                "UPDATE hives SET race = zeroblob(100000)",
                "ALTER TABLE hives ADD COLUMN \"" + odd.replace("\"", "\"\"") + "\" DEFAULT 3",
                "DELETE FROM hives",
                "CREATE TABLE \"" + odd.replace("\"", "\"\"") + "\" (x)",
                "CREATE VIEW v AS WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c) SELECT x, 'no' AS lost FROM c",
                "PRAGMA user_version = -1",
                "PRAGMA writable_schema = 1"));
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute(command);
        } catch (SQLException e) {
            // What SQLite does not do was no mutation.
            Files.write(file, mutations.bytes(bytes));
        }
    }

    private void ledger(Mutations mutations, Path file) throws IOException {
        SplittableRandom chance = mutations.chance();
        Files.copy(base.resolve("ledger.kfl"), file, StandardCopyOption.REPLACE_EXISTING);
        for (int i = chance.nextInt(2); i >= 0; i--) {
            String[] place = mutations.one(COLUMNS).split("\\.", -1);
            String where = chance.nextBoolean() ? "" : " WHERE rowid = " + (1 + chance.nextInt(12));
            boolean keyed = List.of("class", "split", "about", "score").contains(place[0]);
            try {
                switch (chance.nextInt(8)) {
                    case 0 -> LedgerForger.forge(file, "DELETE FROM " + place[0] + (keyed ? "" : where));
                    case 1 -> {
                        String yaml = mutations.text(PLAN.replace("holdout: {share: 0.2}\n", ""));
                        LedgerForger.forge(file, "UPDATE plan SET yaml = ?", yaml);
                    }
                    default ->
                        LedgerForger.forge(
                                file,
                                "UPDATE OR REPLACE " + place[0] + " SET " + place[1] + " = ?" + (keyed ? "" : where),
                                value(mutations));
                }
            } catch (SQLException e) {
                // A constraint of the schema forbids it, as it would to a stranger who keeps the schema.
                continue;
            }
        }
    }

    private static Object value(Mutations mutations) {
        SplittableRandom chance = mutations.chance();
        int[] some = new int[24];
        some[chance.nextInt(24)] = mutations.one(List.of(-2, -1, 1, 2, 23, 24, 100_000_000, Integer.MAX_VALUE));
        return switch (chance.nextInt(8)) {
            case 0 -> mutations.one(List.of(-1, 0, 1, 2, 3, 24, 25, Integer.MAX_VALUE, Integer.MIN_VALUE));
            case 1 -> mutations.one(List.of(-0.5, 1.5, 1e308, Double.POSITIVE_INFINITY, 1e-320));
            case 2 -> LedgerForger.blob(some);
            case 3 -> LedgerForger.blob(1.5, Double.NaN, -1, 0.5);
            case 4 -> new byte[] {1, 2, 3};
            case 5 -> Long.MAX_VALUE - 1;
            default -> mutations.odd();
        };
    }

    private static byte[] packed(byte[] bytes) throws IOException {
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(packed)) {
            out.write(bytes);
        }
        return packed.toByteArray();
    }

    private static byte[] unpacked(byte[] bytes) throws IOException {
        try (InputStream in = new GZIPInputStream(new ByteArrayInputStream(bytes))) {
            return in.readAllBytes();
        }
    }
}
