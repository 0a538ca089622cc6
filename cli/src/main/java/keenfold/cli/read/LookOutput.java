package keenfold.cli.read;

import java.nio.file.Path;
import java.util.List;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Streams;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.Flat;
import keenfold.view.text.Heading;

/**
 * Where a closer look of {@code scores} is shown: as text, as CSV or as JSON.
 *
 * @param wanted names of candidates; all if empty
 */
record LookOutput(Console console, Common common, LedgerOptions reading, Streams streams, List<String> wanted) {
    LookOutput {
        wanted = List.copyOf(wanted);
    }

    /** Refuses names of candidates that a ledger does not have. */
    static void requireKnown(Path ledger, LedgerOptions.Read read, List<String> wanted) {
        List<String> names = read.inferences().get(0).panel().candidates().stream()
                .map(c -> c.name())
                .toList();
        for (String name : wanted) {
            if (!names.contains(name)) {
                throw new InputException(
                        ledger.toString(), "no candidate is called \"" + name + "\"" + Suggestion.hint(name, names));
            }
        }
    }

    /** The admitted candidates that are asked for. */
    List<Integer> shown(AlignedPredictions panel) {
        List<String> names = panel.candidates().stream().map(c -> c.name()).toList();
        return panel.admitted().stream()
                .filter(c -> wanted.isEmpty() || wanted.contains(names.get(c)))
                .toList();
    }

    void heading(LedgerOptions.Read read, Inference inference) {
        console.out()
                .println(Heading.of(
                        inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
    }

    boolean machine() {
        return streams.machine();
    }

    void write(Flat.Table table, String... about) {
        if (streams.json()) {
            table.json(console.writer(), about);
        } else {
            table.csv(console.writer());
        }
    }

    static String name(Inference inference) {
        return inference.panel().task().data().name();
    }

    static String name(Inference inference, int candidate) {
        return inference.panel().candidates().get(candidate).name();
    }
}
