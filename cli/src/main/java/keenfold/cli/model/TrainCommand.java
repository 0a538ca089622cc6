package keenfold.cli.model;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.ConsoleWatcher;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.read.LedgerOptions;
import keenfold.core.pick.Rule;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.JsonExport;
import keenfold.results.TrainedModel;
import keenfold.study.Program;
import keenfold.study.Study;
import keenfold.study.model.Training;
import keenfold.study.plan.LedgerState;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.view.text.TrainedView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Refits the pick on everything, and scores it once on what was held back. */
@Command(
        name = "train",
        description =
                "Trains the pick of a ledger (or a candidate of it, or of a plan) on all rows but the holdout, scores"
                        + " the holdout once, and keeps the trained model in a file.")
public final class TrainCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Option(
            names = {"-o", "--output"},
            required = true,
            paramLabel = "MODEL",
            description = "the file to write, such as pick.kfm")
    private Path output = Path.of("");

    @Option(names = "--candidate", paramLabel = "NAME", description = "this one instead of the pick")
    private Optional<String> named = Optional.empty();

    @Option(names = "--rule", paramLabel = "RULE", description = "picks by this rule (the plan's, or one-se)")
    private Optional<String> rule = Optional.empty();

    @Option(names = "--data", paramLabel = "DIR", description = "where the data files are, if not beside the ledger")
    private Optional<Path> data = Optional.empty();

    @Option(
            names = "--all",
            description =
                    "train on every row, those of the holdout included, after it was scored; the model then has no"
                            + " held-out score of its own")
    private boolean all;

    @Option(
            names = "--allow-commands",
            description =
                    "let a candidate of the kind command run its program, which is looked for beside ledger or plan")
    private boolean allowCommands;

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public TrainCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Optional<Rule> asked = reading.checked(() -> rule.map(Rule::parse));
        // Before anything is opened: a look at the holdout is not to be lost to a misspelt folder.
        Path folder = Optional.ofNullable(output.toAbsolutePath().getParent()).orElse(Path.of(""));
        if (!Files.isWritable(folder) || Files.isDirectory(output)) {
            throw new InputException(
                    output.toString(),
                    "cannot be written: expected a file in a folder that is there and can be written");
        }
        replacing.require(output, OutputFile.Kind.MODEL, List.of(reading.ledger()));
        Training training = new Training(
                reading.ledger(),
                new Training.Asked(named, asked, reading.dataset(), data, all, allowCommands),
                new Training.Run(
                        new ConsoleWatcher(console, common),
                        reading.threads().parallel(),
                        console::now,
                        Program.version() + ", " + Program.java()));
        Training.Chosen chosen = chosen(training);
        OutputFile.requireOther(
                output, PlanFiles.inputs(reading.ledger(), chosen.plan(), LoadedPlan.folders(reading.ledger(), data)));
        Training.Trained trained = training.train(chosen);
        byte[] bytes = trained.model().bytes();
        WholeFile.bytes(output, bytes);
        TrainedModel known = trained.known().in(output.toString());
        if (json) {
            JsonExport.write(known, console.writer());
        } else {
            console.out().print(TrainedView.render(known, bytes.length, console.ink(common)));
        }
        console.notices(known.notices(), common);
        return Exit.DONE;
    }

    private Training.Chosen chosen(Training training) {
        boolean ledger = isLedger(reading.ledger());
        console.doing("reading " + reading.ledger(), common);
        if (!ledger) {
            return training.ofPlan();
        }
        Study study = reading.open(console, common);
        console.notices(LedgerState.notices(study.ledger(), study.content()), common);
        return training.ofLedger(study.plan(), study.evaluation());
    }

    private static boolean isLedger(Path file) {
        InputFile.require(file, file.toString(), "a ledger or a plan");
        try (InputStream in = Files.newInputStream(file)) {
            boolean ledger = new String(in.readNBytes(15), StandardCharsets.ISO_8859_1).equals("SQLite format 3");
            FileLook look = FileLook.of(file);
            if (look == FileLook.TABLE || look == FileLook.MODEL) {
                throw new InputException(file.toString(), "is no ledger and no plan" + look.words());
            }
            return ledger;
        } catch (IOException e) {
            throw new InputException(file.toString(), "there is no such ledger or plan", e);
        }
    }
}
