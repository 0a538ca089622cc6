package keenfold.cli.console;

import java.util.function.Function;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.results.Result;
import keenfold.view.paper.PaperTables;
import keenfold.view.text.Ink;

/** Where a result goes: text, CSV, JSON, Markdown or LaTeX on standard output, what its readers should know on standard error. */
public record ResultOutput(Console console, Common common, Streams streams) {
    /**
     * Shows a result.
     *
     * @param text renders it for people
     */
    public void show(Result result, Function<Ink, String> text) {
        console.notices(result.warnings(), common);
        if (streams.json()) {
            JsonExport.write(result, console.writer());
        } else if (streams.csv()) {
            CsvExport.table(result.table(), console.writer());
        } else if (streams.markdown()) {
            console.out().print(PaperTables.markdown(result));
        } else if (streams.latex()) {
            console.out().print(PaperTables.latex(result));
        } else {
            console.out().print(text.apply(console.ink(common)));
        }
        console.together(
                () -> {
                    console.notices(result.notices(), common);
                    return true;
                },
                common);
    }
}
