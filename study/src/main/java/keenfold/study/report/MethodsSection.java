package keenfold.study.report;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import keenfold.io.WholeFile;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.results.Picking;
import keenfold.results.table.NumberFormats;
import keenfold.view.paper.MethodsText;

/**
 * The methods section of a paper, made of a ledger.
 *
 * @param markdown with references as Pandoc reads them
 * @param latex with references by {@code \cite}
 * @param bibtex the references
 */
public record MethodsSection(String markdown, String latex, String bibtex) {
    /** The names of its files. */
    public static final List<String> FILES = List.of("methods.md", "methods.tex", "methods.bib");

    /**
     * Makes it.
     *
     * @param across whether candidates were compared across data sets too
     * @param program with its version
     */
    public static MethodsSection of(Path ledger, Plan plan, Picking picking, boolean across, String program) {
        MethodsText.Facts facts = new MethodsText.Facts(
                program.replaceFirst("^keenfold", "Keen Fold"),
                plan.division().bindEqual(),
                plan.division().holdout().map(MethodsSection::heldBack),
                LedgerReader.fingerprints(ledger),
                across);
        return new MethodsSection(
                MethodsText.markdown(picking, facts),
                MethodsText.latex(picking, facts),
                MethodsText.bibtex(picking, facts));
    }

    private static String heldBack(Division.SetAside aside) {
        return aside.drawn()
                .map(h -> (h.last() ? "the last " : "") + NumberFormats.percent(h.share()) + " of the rows"
                        + (h.last() ? "" : ", drawn within classes,"))
                .orElse("the rows of a file of their own");
    }

    /** Writes its files into a folder. */
    public void write(Path folder) {
        List<String> texts = List.of(markdown, latex, bibtex);
        for (int i = 0; i < FILES.size(); i++) {
            WholeFile.bytes(folder.resolve(FILES.get(i)), texts.get(i).getBytes(StandardCharsets.UTF_8));
        }
    }
}
