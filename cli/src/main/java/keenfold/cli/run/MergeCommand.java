package keenfold.cli.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.io.ShellWords;
import keenfold.io.ledger.MergeReport;
import keenfold.io.ledger.Merger;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Joins the ledgers of shards. */
@Command(
        name = "merge",
        description =
                "Joins the ledgers of all shards of a run into one, which is what one machine would have made; checks"
                        + " each fit on the way, and says what is missing, twice there or damaged. Of one damaged ledger it"
                        + " rescues what is sound.")
public final class MergeCommand implements Callable<Integer> {
    private static final int MOST_NAMED = 5;

    private final Console console;

    @Parameters(paramLabel = "LEDGER", arity = "1..*", description = "the ledgers of shards, or a damaged one")
    private List<Path> ledgers = new ArrayList<>();

    @Option(
            names = {"-o", "--ledger"},
            paramLabel = "LEDGER",
            required = true,
            description = "the ledger to make")
    private Path target = Path.of("");

    @Mixin
    private Common common = new Common();

    public MergeCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        console.doing("joining " + Plural.of(ledgers.size(), "ledger"), common);
        MergeReport report = Merger.merge(ledgers, target);
        console.say(
                "joined " + report.parts().size() + (report.parts().size() == 1 ? " ledger" : " ledgers") + " into "
                        + target + ": " + report.fits() + " of " + Plural.of(report.expected(), "fit"),
                common);
        console.notices(notices(report), common);
        return report.missing().isEmpty() ? Exit.DONE : Exit.SOME_FAILED;
    }

    private List<Notice> notices(MergeReport report) {
        List<Notice> notices = new ArrayList<>();
        for (MergeReport.Part part : report.parts()) {
            if (part.twice() > 0) {
                notices.add(Notice.of(
                                "fits-twice",
                                "%s: %s in a ledger before it too, and the same",
                                part.file(),
                                Plural.of(part.twice(), "fit was", "fits were"))
                        .with("fits", part.twice()));
            }
            if (!part.damaged().isEmpty()) {
                notices.add(Notice.of(
                        "ledger-damaged",
                        "%s is damaged: %s; what is sound was taken",
                        part.file(),
                        named(part.damaged(), "; ", "; and " + (part.damaged().size() - MOST_NAMED) + " more")));
            }
        }
        if (!report.missing().isEmpty()) {
            long missing = report.missing().values().stream()
                    .mapToLong(Long::longValue)
                    .sum();
            List<String> where = report.missing().entrySet().stream()
                    .map(m -> m.getKey() + " " + m.getValue())
                    .toList();
            notices.add(Notice.of(
                            "fits-missing",
                            "%d of %d fits are missing: %s; keenfold run PLAN -o %s does them",
                            missing,
                            report.expected(),
                            named(where, ", ", ", ..."),
                            ShellWords.quoted(target.toString()))
                    .with("missing", missing));
        }
        return notices;
    }

    private static String named(List<String> all, String between, String more) {
        return all.stream().limit(MOST_NAMED).collect(Collectors.joining(between))
                + (all.size() > MOST_NAMED ? more : "");
    }
}
