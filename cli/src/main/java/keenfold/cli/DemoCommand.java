package keenfold.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Threads;
import keenfold.core.data.Checks;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.WholeFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** The whole job on the bundled data. */
@Command(
        name = "demo",
        description = "Does the whole job on made-up data of a beekeepers' cooperative, into a folder, saying each"
                + " command as it goes.")
final class DemoCommand implements Callable<Integer> {
    private static final List<String> FILES =
            List.of("hives.csv", "forage.csv", "swarm.csv", "demo.yaml", "new-hives.csv");
    private static final int FIRST = 6;
    private static final int REPEATS = 10;

    private final Console console;

    @Parameters(
            paramLabel = "DIR",
            arity = "0..1",
            description = "the folder to fill (${DEFAULT-VALUE})",
            defaultValue = "keenfold-demo")
    private Path folder = Path.of("");

    @Option(names = "--files-only", description = "only puts the data and the plan there")
    private boolean filesOnly;

    @Option(names = "--repeats", paramLabel = "R", description = "repeats of the ten folds; fewer take less time (10)")
    private int repeats = REPEATS;

    @Spec
    private CommandSpec command;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Common common = new Common();

    DemoCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        int workers = threads.count();
        OptionValues.checked(command, () -> {
            Checks.atLeast("--repeats", repeats, 2);
            return repeats;
        });
        unpack(folder, repeats);
        if (filesOnly) {
            console.say("wrote " + String.join(", ", FILES) + " to " + folder, common);
            return Exit.DONE;
        }
        String plan = folder.resolve("demo.yaml").toString();
        String ledger = folder.resolve("demo.kfl").toString();
        console.out()
                .println("A made-up beekeepers' cooperative asks which colonies need help before winter.\n"
                        + "Its data are now in " + folder
                        + ": hives.csv (will a colony winter?), forage.csv (which pollen"
                        + " is it?)\nand swarm.csv (will it swarm? nearly hopeless). demo.yaml is a plan for all three."
                        + " new-hives.csv\nhas colonies of the next autumn, of which nobody knows yet.\n");
        int code = Exit.DONE;
        code = Math.max(code, step("run", plan, "-o", ledger, "--threads", "" + workers));
        code = Math.max(code, step("scores", ledger, "--metric", "auc"));
        code = Math.max(code, step("contrast", ledger));
        code = Math.max(code, step("pick", ledger));
        code = Math.max(code, step("draw", ledger, "--figure", "pick"));
        String report = folder.resolve("report").toString();
        code = Math.max(code, step("report", ledger, "-o", report));
        String predictions = folder.resolve("predictions.csv").toString();
        code = Math.max(code, step("export", ledger, "--what", "predictions", "-o", predictions));
        String model = folder.resolve("pick.kfm").toString();
        code = Math.max(code, step("train", ledger, "--dataset", "hives", "-o", model));
        code = Math.max(code, step("show", model));
        String fresh = folder.resolve("new-hives.csv").toString();
        String labelled = folder.resolve("labelled.csv").toString();
        code = Math.max(code, step("predict", model, fresh, "-o", labelled));
        first(labelled);
        console.out()
                .println("What to look at next:\n"
                        + "  " + folder.resolve("report/report.html") + "     in a browser\n"
                        + "  " + labelled + "     the new colonies\n"
                        + "  keenfold contrast " + ledger + " --against all      every pair\n"
                        + "  keenfold pick " + ledger + " --metric log-loss     another metric, perhaps another pick\n"
                        + "  keenfold compare " + folder.resolve("hives.csv")
                        + " --target wintered --positive no --groups apiary\n"
                        + "  keenfold compare YOUR.csv --target COLUMN       the same on your own data");
        return code;
    }

    /** The first lines of a file. */
    private void first(String file) {
        try (Stream<String> lines = Files.lines(Path.of(file))) {
            lines.limit(FIRST).forEach(console.out()::println);
        } catch (IOException e) {
            throw new InputException(file, "cannot be read: " + Reason.ofReading(e), e);
        }
        console.out().println("...\n");
    }

    private int step(String... args) {
        console.out().println("$ keenfold " + String.join(" ", args));
        console.out().flush();
        List<String> all = new ArrayList<>(List.of(args));
        all.addAll(common.flags());
        int code = Keenfold.execute(console, all.toArray(String[]::new));
        console.out().println();
        return code;
    }

    /** Puts the bundled data and plan into a folder. */
    static void unpack(Path folder, int repeats) {
        FILES.forEach(name -> unpack(name, folder, repeats));
    }

    private static void unpack(String name, Path folder, int repeats) {
        try (InputStream in = DemoCommand.class.getResourceAsStream("/demo/" + name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is not in the jar");
            }
            Files.createDirectories(folder);
            Path file = folder.resolve(name);
            byte[] bytes = name.endsWith(".yaml") ? withRepeats(in.readAllBytes(), repeats) : in.readAllBytes();
            if (Files.exists(file) && !java.util.Arrays.equals(Files.readAllBytes(file), bytes)) {
                throw new InputException(
                        file.toString(), "is there already and differs from the demo's; name another folder");
            }
            WholeFile.bytes(file, bytes);
        } catch (IOException e) {
            throw new InputException(folder.toString(), "cannot be written: " + Reason.of(e), e);
        }
    }

    private static byte[] withRepeats(byte[] plan, int repeats) {
        return new String(plan, StandardCharsets.UTF_8)
                .replace("repeats: " + REPEATS, "repeats: " + repeats)
                .getBytes(StandardCharsets.UTF_8);
    }
}
