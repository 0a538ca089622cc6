package keenfold.cli;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.function.Function;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Version;
import keenfold.cli.ledger.ForgetCommand;
import keenfold.cli.ledger.HistoryCommand;
import keenfold.cli.ledger.NoteCommand;
import keenfold.cli.ledger.RenameCommand;
import keenfold.cli.model.PredictCommand;
import keenfold.cli.model.ShowCommand;
import keenfold.cli.model.TrainCommand;
import keenfold.cli.plan.CatalogCommand;
import keenfold.cli.plan.DraftCommand;
import keenfold.cli.plan.FoldsCommand;
import keenfold.cli.plan.SurveyCommand;
import keenfold.cli.read.ContrastCommand;
import keenfold.cli.read.DrawCommand;
import keenfold.cli.read.ExportCommand;
import keenfold.cli.read.PickCommand;
import keenfold.cli.read.ReportCommand;
import keenfold.cli.read.ScoresCommand;
import keenfold.cli.read.VersusCommand;
import keenfold.cli.run.AdoptCommand;
import keenfold.cli.run.CompareCommand;
import keenfold.cli.run.MergeCommand;
import keenfold.cli.run.RunCommand;
import keenfold.cli.run.ScatterCommand;
import keenfold.io.InputException;
import keenfold.view.text.Wrap;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;

/** The commands under one name, and what happens when one of them fails. */
@Command(name = "keenfold", versionProvider = Version.class)
public final class Keenfold implements Callable<Integer> {
    @Option(names = "--version", versionHelp = true, description = "version and Java")
    private boolean version;

    @Override
    public Integer call() {
        return version ? Exit.DONE : Exit.COMMAND_LINE;
    }

    private static final Map<String, Function<Console, Object>> COMMANDS = commands();

    private static Map<String, Function<Console, Object>> commands() {
        Map<String, Function<Console, Object>> commands = new LinkedHashMap<>();
        commands.put("demo", DemoCommand::new);
        commands.put("compare", CompareCommand::new);
        commands.put("survey", SurveyCommand::new);
        commands.put("catalog", CatalogCommand::new);
        commands.put("draft", DraftCommand::new);
        commands.put("folds", FoldsCommand::new);
        commands.put("run", RunCommand::new);
        commands.put("scatter", ScatterCommand::new);
        commands.put("merge", MergeCommand::new);
        commands.put("adopt", AdoptCommand::new);
        commands.put("history", HistoryCommand::new);
        commands.put("note", NoteCommand::new);
        commands.put("rename", RenameCommand::new);
        commands.put("forget", ForgetCommand::new);
        commands.put("scores", ScoresCommand::new);
        commands.put("contrast", ContrastCommand::new);
        commands.put("versus", VersusCommand::new);
        commands.put("pick", PickCommand::new);
        commands.put("report", ReportCommand::new);
        commands.put("draw", DrawCommand::new);
        commands.put("export", ExportCommand::new);
        commands.put("train", TrainCommand::new);
        commands.put("predict", PredictCommand::new);
        commands.put("show", ShowCommand::new);
        return commands;
    }

    static Set<String> names() {
        return COMMANDS.keySet();
    }

    /** The parser; of one command alone where it is known, since reading the options of all takes longer than starting. */
    static CommandLine commandLine(Console console, String... args) {
        CommandLine line = new CommandLine(new Keenfold());
        boolean known = args.length > 0 && COMMANDS.containsKey(args[0]);
        COMMANDS.forEach((name, maker) -> {
            if (!known || name.equals(args[0])) {
                line.addSubcommand(maker.apply(console));
            }
        });
        Optional.ofNullable(line.getSubcommands().get("draw"))
                .ifPresent(draw -> draw.getCommandSpec().usageMessage().footer(DrawCommand.figures()));
        List<String> words = List.of(args);
        if (!known || words.contains("--help") || words.contains("-h")) {
            Examples.addTo(line);
        }
        line.setUsageHelpWidth(100);
        line.setOut(new java.io.PrintWriter(console.writer(), true));
        line.setErr(new java.io.PrintWriter(console.err(), true, java.nio.charset.StandardCharsets.UTF_8));
        line.setParameterExceptionHandler((e, ignored) -> commandLineWrong(e));
        line.setExecutionStrategy(parsed -> {
            parsed.asCommandLineList().forEach(c -> Slip.requireOne(c.getParseResult()));
            return new CommandLine.RunLast().execute(parsed);
        });
        line.setExecutionExceptionHandler((e, at, result) -> failed(e, console, at, args(result)));
        return line;
    }

    /** Runs one command; returns its exit code. */
    public static int execute(Console console, String... args) {
        int code = commandLine(console, args).execute(args);
        console.done();
        console.out().flush();
        console.err().flush();
        return code;
    }

    private static List<String> args(CommandLine.ParseResult result) {
        return result.expandedArgs();
    }

    private static int commandLineWrong(ParameterException e) {
        String command = e.getCommandLine().getCommandSpec().qualifiedName();
        e.getCommandLine().getErr().println("keenfold: " + Slip.words(e) + "; see " + command + " --help");
        return Exit.COMMAND_LINE;
    }

    /** The one place where a failure becomes a line and an exit code. */
    private static int failed(Exception e, Console console, CommandLine at, List<String> args) {
        if (args.contains("--trace")) {
            e.printStackTrace(console.err());
        }
        if (e instanceof InputException) {
            console.err().println("keenfold: " + Wrap.visible(String.valueOf(e.getMessage())));
            return Exit.INPUT;
        }
        console.err()
                .println("keenfold: a fault in Keen Fold itself, for which it is to blame and not you: " + e + " (in "
                        + at.getCommandName() + " "
                        + String.join(" ", args.subList(Math.min(1, args.size()), args.size()))
                        + "); --trace shows where");
        Arrays.stream(e.getSuppressed()).forEach(s -> console.err().println("  and then: " + s));
        return Exit.FAULT;
    }
}
