package keenfold.io.ledger;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.Unit;
import keenfold.core.run.result.Task;
import keenfold.io.export.CsvExport;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.LoadedData;

/** Fills small ledgers by plans, in one folder. */
final class Ledgers {
    static final String PLAN =
            """
            keenfold: 1
            data: [{file: a.csv, target: kind}]
            splits: {folds: 2, repeats: 2}
            seed: 3
            metrics: [accuracy, auc]
            candidates:
              guess: {classifier: majority}
              near: {classifier: nearest, neighbours: {vary: [1, 5]}}
              woods: {classifier: forest, trees: 5}
            """;

    private final Path folder;

    Ledgers(Path folder) throws IOException {
        this.folder = folder;
        table("a.csv", 7);
        table("b.csv", 5);
    }

    private void table(String name, int step) throws IOException {
        StringBuilder csv = new StringBuilder("x,z,kind\n");
        IntStream.range(0, 40).forEach(i -> csv.append(i * step % 13)
                .append(',')
                .append(i % 3 == 0 ? "u" : "v")
                .append(',')
                .append((i * step % 13 + i % 4) % 3 == 0 ? "yes" : "no")
                .append('\n'));
        Files.writeString(folder.resolve(name), csv.toString());
    }

    Path file(String name) {
        return folder.resolve(name);
    }

    /** Runs a plan into a ledger, up to a number of units; returns what it changed. */
    LedgerChange run(String name, String yaml, int most) throws IOException {
        Plan plan = PlanReader.parse("p", yaml);
        List<LoadedData> data = new ArrayList<>();
        List<Task> tasks = new ArrayList<>();
        for (DataSpec spec : plan.data()) {
            LoadedData loaded = DataReader.read(spec, List.of(folder));
            data.add(loaded);
            tasks.add(Task.of(
                    loaded.data(),
                    plan.division()
                            .scheme()
                            .orElseThrow()
                            .divide(loaded.data(), plan.seed().orElseThrow()),
                    plan.metrics()));
        }
        Comparison comparison =
                new Comparison(tasks, plan.candidates(), plan.seed().orElseThrow());
        try (LedgerWriter writer = LedgerWriter.open(file(name), plan, data, comparison)) {
            List<Unit> missing = writer.missing();
            Runner.on(Parallel.of(1)).run(comparison, missing.subList(0, Math.min(most, missing.size())), writer);
            return writer.change();
        }
    }

    LedgerChange run(String name, String yaml) throws IOException {
        return run(name, yaml, Integer.MAX_VALUE);
    }

    /** Everything that a ledger says of its plan but seconds. */
    String told(String name) {
        return told(LedgerReader.read(file(name)));
    }

    static String told(LedgerContent content) {
        StringWriter out = new StringWriter();
        out.write(PlanWriter.write(content.plan()));
        CsvExport.predictions(content.results(), out);
        CsvExport.scores(content.results(), out);
        CsvExport.folds(content.results(), out);
        return out.toString();
    }
}
