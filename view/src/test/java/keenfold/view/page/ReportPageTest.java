package keenfold.view.page;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Notice;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.MetricInference;
import keenfold.core.split.KFold;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.table.NumberFormats;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureFactory;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.chart.SubjectsForTests;
import keenfold.view.chart.SvgDrawing;
import org.junit.jupiter.api.Test;

/** The page as text: its chapters, its tables, and that nothing from the data becomes markup. */
class ReportPageTest {
    private static final List<String> LABELS = List.of("</style><script>alert(1)</script>", "a \"b\" & 'c'");

    private static ReportContent.Drawn drawn(Figure figure, String file) {
        return ReportContent.Drawn.of(
                figure, SvgDrawing.of(figure, Look.DEFAULT).bare(), file);
    }

    private static ReportContent.OfSet set(FigureContext s) {
        Contrasts.Part contrasts = Contrasts.part(s.inference(), s.metric(), Contrasts.BEST);
        List<ReportContent.Drawn> own = List.of(
                drawn(FigureFactory.of(FigureKind.MEANS, s, Optional.empty()), "m"),
                drawn(FigureFactory.differences(s, contrasts.shown()), ""));
        return new ReportContent.OfSet(
                List.of(new ReportContent.OfMetric(s, contrasts, own)),
                List.of(Notice.plain("heed", "<b>heed this</b>")),
                List.of(drawn(FigureFactory.of(FigureKind.CONFUSION, s.of(List.of(1)), Optional.empty()), "c")));
    }

    private static String page(List<FigureContext> subjects, List<String> left) {
        List<MetricInference> each =
                subjects.stream().map(FigureContext::metric).toList();
        List<ReportContent.OfAcross> across = new ArrayList<>();
        if (subjects.size() > 1) {
            AcrossSets sets = AcrossSets.of(each);
            across.add(new ReportContent.OfAcross(
                    new AcrossDataSets.OfMetric(sets, each),
                    List.of(),
                    drawn(FigureFactory.ranks(sets, each, 0.9), "r")));
        }
        return ReportPage.html(new ReportContent(
                "<i>Why?</i>",
                List.of("2026-11-29 10:00 UTC: <b>because</b>"),
                "l.kfl",
                "2026-11-30",
                List.of("0123456789abcdef0123"),
                "keenfold test",
                "note: <plan>\n",
                "keenfold run again\n",
                "auc",
                Optional.of(new KFold(4, 3, true)),
                subjects.stream().map(ReportPageTest::set).toList(),
                across,
                left));
    }

    private static final String PAGE = page(
            List.of(SubjectsForTests.subject(LABELS, 0), SubjectsForTests.subject(List.of("x", "y"), 1)),
            List.of("<u>this</u>"));

    private static List<String> all(String pattern) {
        Matcher matcher = Pattern.compile(pattern, Pattern.DOTALL).matcher(PAGE);
        List<String> found = new ArrayList<>();
        while (matcher.find()) {
            found.add(matcher.group(1));
        }
        return found;
    }

    @Test
    void chaptersStandInTheOrderOfTheJob() {
        assertThat(all("<section class=\"chapter\" id=\"([a-z]+)\""))
                .containsExactly(
                        "warnings", "scores", "spread", "contrasts", "pick", "errors", "cost", "compared", "repeat");
        assertThat(all("<li><a href=\"#([a-z]+)\""))
                .containsExactlyElementsOf(all("<section class=\"chapter\" id=\"([a-z]+)\""));
        assertThat(PAGE).contains("<title>Comparison on 2 data sets - Keen Fold</title>");
        assertThat(all("<option value=\"([^\"]*)\"")).contains("0", "1", "auc");
    }

    /** The first box of each data set says the pick, its score and price, what may be the best, and of which data. */
    @Test
    void theAnswerComesFirst() {
        assertThat(PAGE.indexOf("<section class=\"answers\"")).isLessThan(PAGE.indexOf("<section class=\"chapter\""));
        assertThat(all("<div class=\"answer\">(.)")).hasSize(2);
        FigureContext s = SubjectsForTests.subject(LABELS, 0);
        int pick = s.picks().orElseThrow().pick();
        String name = s.inference().panel().candidates().get(pick).name();
        String box = all("<div class=\"answer\">(.*?)</div>").get(0);
        assertThat(box)
                .contains("<dt>Pick</dt><dd dir=\"auto\">" + name + ": ")
                .contains("<dt>Score</dt>", "<dt>Price</dt>", "<dt>Read first</dt>")
                .contains(NumberFormats.mean(
                        s.metric().means().get(pick).mean(),
                        s.metric().means().get(pick).standardError()))
                .contains("120 rows of 2 classes")
                .contains("fingerprint 0123456789abcdef; 2026-11-30");
    }

    @Test
    void nothingFromTheDataIsMarkup() {
        assertThat(all("<(script)")).hasSize(1);
        assertThat(PAGE)
                .contains("&lt;i&gt;Why?&lt;/i&gt;")
                .contains("&lt;b&gt;heed this&lt;/b&gt;")
                .contains("&lt;u&gt;this&lt;/u&gt;")
                .contains("note: &lt;plan&gt;")
                .contains("&lt;/style&gt;&lt;script&gt;alert(1)&lt;/script&gt;")
                .doesNotContain("<script>alert")
                .doesNotContain("<i>Why")
                .doesNotContain("<b>heed")
                .doesNotContain("<u>this");
        assertThat(all("(</style>)")).hasSize(1);
    }

    /** Every number is there twice: as shown, and in full for sorting; every row knows its candidate. */
    @Test
    void tablesCanBeSortedAndFiltered() {
        List<String> rows = all("<tr data-about=\"([^\"]*)\"");
        assertThat(rows).contains("guess", "logit", "near/3", "near/15");
        for (String value : all("<td class=\"number\" data-value=\"([^\"]*)\"")) {
            if (!value.isEmpty()) {
                assertThat(Double.parseDouble(value)).isNotNaN();
            }
        }
        assertThat(
                        all(
                                "<th scope=\"col\" class=\"number\"><button type=\"button\" data-number=\"(true)\">mean</button>"))
                .isNotEmpty();
        FigureContext s = SubjectsForTests.subject(LABELS, 0);
        double mean = s.metric().means().get(1).mean();
        assertThat(PAGE).contains("data-value=\"" + mean + "\"");
    }

    @Test
    void figuresSayWhatTheyAreAndWhereTheirFilesLie() {
        assertThat(all("<div class=\"plot(?: broad)?\"[^>]*>(<svg aria-label=\"[^\"]+\")"))
                .hasSize(8);
        assertThat(all("<div class=\"plot narrow\"[^>]*>(<svg aria-label=\"[^\"]+\")"))
                .isEqualTo(all("<div class=\"plot broad\"[^>]*>(<svg aria-label=\"[^\"]+\")"))
                .isNotEmpty();
        assertThat(PAGE)
                .contains("figures/m.svg\">SVG</a>")
                .contains("figures/m.png\">PNG</a>")
                .contains("tables/m.csv\">CSV</a>")
                .doesNotContain("figures/.svg");
        assertThat(PAGE).contains("Across data sets").contains("Friedman chi-square");
    }

    @Test
    void onePageOfOneSetHasNoChoiceOfSets() {
        FigureContext own = SubjectsForTests.subject(List.of("x", "y"), 1);
        String one = page(List.of(own), List.of());
        assertThat(one)
                .contains("<title>Comparison on bees1 - Keen Fold</title>")
                .doesNotContain("id=\"set\"")
                .doesNotContain("Across data sets")
                .doesNotContain("Left out")
                .containsPattern("Corrected for choosing: .* 0\\.7");
        // The same content is the same page, to the last letter.
        assertThat(page(List.of(own), List.of())).isEqualTo(one);
    }
}
