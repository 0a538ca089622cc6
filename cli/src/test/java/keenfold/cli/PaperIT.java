package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What goes into a paper: tables in LaTeX and Markdown, figures as PDF. */
class PaperIT {
    @TempDir
    private static Path folder;

    @BeforeAll
    static void runAPlan() throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: %s, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 2}
                seed: 5
                metrics: [auc, log-loss]
                candidates:
                  guess: {classifier: majority}
                  logit: {classifier: logistic}
                  tree_3: {classifier: tree, depth: 3}
                evidence: {draws: 200}
                """
                        .formatted(Program.DEMO.resolve("swarm.csv")));
        program().run("run", "plan.yaml", "-o", "l.kfl").expect(0);
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String run(String... arguments) throws Exception {
        return program().run(arguments).expect(0).out();
    }

    @Test
    void tablesAgreeWithCsvInEveryForm() throws Exception {
        String mean = run("scores", "l.kfl", "--metric", "auc", "--csv")
                .lines()
                .filter(l -> l.contains(",logit,auc,"))
                .findFirst()
                .orElseThrow()
                .split(",", -1)[3];
        String markdown = run("scores", "l.kfl", "--metric", "auc", "--markdown");
        assertThat(markdown)
                .startsWith("**swarm: auc**\n\n| candidate | mean | sd | se | ")
                .contains(
                        "Means over 2 × 4 folds, stratified; 96 rows, seed 5. se: standard error of the mean, from 200 draws")
                .contains("| tree\\_3 |");
        double shown = Double.parseDouble(markdown.lines()
                .filter(l -> l.startsWith("| logit |"))
                .findFirst()
                .orElseThrow()
                .split("\\|", -1)[2]
                .strip()
                .replaceAll("[^0-9.]", ""));
        assertThat(shown).isCloseTo(Double.parseDouble(mean), within(0.005));
        assertThat(run("scores", "l.kfl", "--latex"))
                .contains("\\caption{swarm: candidates by metrics.}")
                .contains("\\rlap{\\textsuperscript{b}}")
                .contains("b: the best mean (the lowest of log-loss); m: not shown to be worse than any other")
                .contains("tree\\_3");
        assertThat(run("contrast", "l.kfl", "--latex"))
                .contains("\\caption{swarm, auc: each candidate against ")
                .contains("which may be the best")
                .contains("p adjusted: the chance of a difference so large if there were none");
        assertThat(run("pick", "l.kfl", "--markdown"))
                .contains("**swarm: pick by auc, candidates from the simplest on**")
                .contains("**swarm: rules of selection by auc**")
                .containsPattern("the pick\\*\\* \\|");
        assertThat(run("scores", "l.kfl", "--by", "class", "--markdown")).contains("| tree\\_3 |");
        assertThat(program()
                        .run("scores", "l.kfl", "--latex", "--csv")
                        .expect(2)
                        .said())
                .contains("--csv and --latex: one of them at a time");
    }

    @Test
    void figuresAreOnePageOfTheirSizeWithTextThatCanBeSearchedAndTheSameBytes() throws Exception {
        run("draw", "l.kfl", "--figure", "means", "--paper", "one-column", "-o", "means.pdf");
        run("draw", "l.kfl", "--figure", "means", "--paper", "one-column", "-o", "again.pdf");
        run("draw", "l.kfl", "--figure", "roc", "--paper", "two-columns", "-o", "roc.pdf");
        assertThat(folder.resolve("again.pdf")).hasSameBinaryContentAs(folder.resolve("means.pdf"));
        try (PDDocument means = document("means.pdf")) {
            assertThat(means.getNumberOfPages()).isEqualTo(1);
            assertThat(means.getPage(0).getMediaBox().getWidth()).isEqualTo(252);
            assertThat(new PDFTextStripper().getText(means))
                    .contains("logit", "tree_3", "auc (higher is better)")
                    .doesNotContain("mean auc");
        }
        try (PDDocument roc = document("roc.pdf")) {
            assertThat(roc.getPage(0).getMediaBox().getWidth()).isEqualTo(516);
            assertThat(new PDFTextStripper().getText(roc)).contains("false positive rate");
        }
        // A figure may be drawn anew in its place, and another PDF not.
        run("draw", "l.kfl", "--figure", "means", "-o", "means.pdf");
        Files.writeString(folder.resolve("mine.pdf"), "%PDF-1.4\nmine\n");
        assertThat(program()
                        .run("draw", "l.kfl", "--figure", "means", "-o", "mine.pdf")
                        .expect(3)
                        .err())
                .contains("is there already");
        assertThat(program()
                        .run("draw", "l.kfl", "--figure", "means", "--paper", "poster", "-o", "p.pdf")
                        .expect(2)
                        .err())
                .contains("expected one-column or two-columns");
    }

    @Test
    void theMethodsSectionSaysWhatWasDoneAndCitesWhatItsBibliographyHas() throws Exception {
        run("report", "l.kfl", "-o", "report", "--page-only", "--methods");
        // It may be written anew, and never over somebody's own text.
        run("report", "l.kfl", "-o", "report", "--page-only", "--methods");
        Files.createDirectories(folder.resolve("mine"));
        Files.writeString(folder.resolve("mine/methods.tex"), "My own words.\n");
        assertThat(program()
                        .run("report", "l.kfl", "-o", "mine", "--page-only", "--methods")
                        .expect(3)
                        .said())
                .contains("methods.tex: is there already, and is not a methods section that Keen Fold wrote");
        assertThat(folder.resolve("mine/methods.tex")).hasContent("My own words.");
        String markdown = Files.readString(folder.resolve("report/methods.md"));
        assertThat(markdown)
                .contains("We compared 3 candidate classifiers (majority [@holte1993], logistic [@lecessie1992], tree"
                        + " [@breiman1984]) on one data set: swarm (96 rows;"
                        + " classes no 56, yes 40; positive class yes).")
                .contains(
                        "on the same 4-fold stratified cross-validation, repeated 2 times with new folds [@kohavi1995]")
                .contains("the preparation of columns (fill, one-hot, standardise) and the classifiers")
                .contains("numbers with the median, categories with the most frequent level; guess had no such step.")
                .contains("widened to V(1 + lambda) for what other training rows would have changed")
                .contains("[@keenfold2026; @nadeau2003]")
                .doesNotContain("mix 0.5")
                .contains("compared by auc [@hanley1982] (higher is better); log-loss was scored too")
                .contains("from 200 bootstrap draws of tested rows")
                .contains("adjusted for all 3 comparisons by the step-down maximum [@westfall1993]")
                .contains("seed 5; fingerprints of the data: swarm ")
                .containsPattern("tree\\\\_3 \\| tree \\| .*; depth 3; ")
                // What was not done is not spoken of.
                .doesNotContain("groups", "held back", "Holm", "tuned", "chosen anew", "equivalent");
        String quoted = markdown.replaceAll("(?s).*( Of 3 candidates.*?\\)).*", "$1");
        assertThat(quoted).doesNotContain("tree_3");
        String latex = Files.readString(folder.resolve("report/methods.tex"));
        Set<String> cited = keys(latex, "\\\\cite\\{([a-z0-9,]+)}");
        assertThat(cited).contains("kohavi1995", "efron1979").doesNotContain("holm1979");
        assertThat(keys(Files.readString(folder.resolve("report/methods.bib")), "(?m)^@\\w+\\{(\\w+),$"))
                .isEqualTo(cited);
        assertThat(keys(markdown, "@([a-z]+[0-9]{4})")).isEqualTo(cited);
    }

    @Test
    void whatAUserNamedIsNoReference() throws Exception {
        Files.writeString(
                folder.resolve("odd.yaml"),
                Files.readString(folder.resolve("plan.yaml"))
                        .replace("target: swarmed", "name: 'odd {one}', target: swarmed"));
        run("run", "odd.yaml", "-o", "odd.kfl");
        run("report", "odd.kfl", "-o", "odd", "--page-only", "--methods");
        assertThat(Files.readString(folder.resolve("odd/methods.tex"))).contains("odd (one) (96 rows");
    }

    private static Set<String> keys(String text, String pattern) {
        return Pattern.compile(pattern)
                .matcher(text)
                .results()
                .flatMap(m -> Stream.of(m.group(1).split(",", -1)))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static PDDocument document(String file) throws IOException {
        return Loader.loadPDF(folder.resolve(file).toFile());
    }
}
