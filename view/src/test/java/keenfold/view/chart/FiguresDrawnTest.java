package keenfold.view.chart;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.geom.Path2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.results.Picking;
import keenfold.view.text.Ink;
import keenfold.view.text.Wrap;
import org.junit.jupiter.api.Test;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;
import org.xml.sax.InputSource;

/** Figures of a small comparison: what is in them, and that every form of drawing them works. */
class FiguresDrawnTest {
    /** Labels that try to be markup, and to turn the direction of writing. */
    private static final List<String> LABELS = List.of("<script>alert(1)</script>", "\u202Ereversed & \"quoted\"");

    private static final FigureContext TWO = subject(LABELS, 0);
    private static final FigureContext FOUR = subject(List.of("ash", "elm", "fir", "oak"), 0);

    private static DataSet data(List<String> labels, int seed) {
        RandomSource chance = new Seed(seed).chance();
        int rows = 120;
        int[] y = IntStream.range(0, rows).map(i -> i % labels.size()).toArray();
        double[] x = Arrays.stream(y).mapToDouble(c -> chance.normal() + c).toArray();
        double[] z = Arrays.stream(y).mapToDouble(c -> chance.normal()).toArray();
        return DataSet.of(
                "bees" + seed,
                new Table(rows, List.of(Numbers.of("x", x), Numbers.of("z", z))),
                new Classes(labels, labels.size() - 1),
                y,
                Optional.empty(),
                IntStream.rangeClosed(1, rows).toArray());
    }

    private static Candidate member(int neighbours) {
        return new Candidate(
                "near/" + neighbours,
                "near",
                ClassifierKinds.of("nearest").orElseThrow(),
                Settings.none().with("neighbours", Integer.toString(neighbours)),
                List.of("neighbours"));
    }

    private static Candidate plain(String name, String kind) {
        return new Candidate(name, name, ClassifierKinds.of(kind).orElseThrow(), Settings.none(), List.of());
    }

    static Inference inference(List<String> labels, int seed) {
        DataSet data = data(labels, seed);
        List<MetricName> metrics = List.of(MetricName.parse("auc"), MetricName.parse("balanced-accuracy"));
        Task task = Task.of(data, new KFold(4, 3, true).divide(data, 1), metrics);
        Comparison comparison = new Comparison(
                List.of(task),
                List.of(plain("guess", "majority"), plain("logit", "logistic"), member(3), member(15)),
                1);
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
        Results results = new Results(comparison.tasks(), comparison.candidates(), fits, 1);
        return Inference.of(
                AlignedPredictions.of(results, 0),
                new InferenceSettings(300, 0.9, 0.05, Optional.empty()),
                Parallel.of(1));
    }

    static FigureContext subject(List<String> labels, int seed) {
        Inference inference = inference(labels, seed);
        Picking.OfSet picking =
                Picking.ofSet(inference, inference.metric("auc"), Simplicity.of(inference.panel()), Rule.ONE_SE, true);
        return new FigureContext(picking, "bees: 120 rows.", true, List.of(0, 1, 2, 3));
    }

    private static List<Figure> all(FigureContext s) {
        FigureContext one = s.of(List.of(1, 2));
        Optional<MetricInference> labelled = Optional.of(s.inference().metric("balanced-accuracy"));
        List<Figure> figures = new ArrayList<>();
        for (FigureKind kind : FigureKind.ofLedger()) {
            boolean own = kind == FigureKind.DIFFERENCES || kind == FigureKind.RANKS || kind == FigureKind.COLUMNS;
            if (!own && FigureFactory.without(kind, s).isEmpty()) {
                figures.add(FigureFactory.of(kind, kind.oneByOne() ? one : s, labelled));
            }
        }
        figures.add(FigureFactory.differences(s, contrasts(s)));
        return figures;
    }

    private static List<Contrast> contrasts(FigureContext s) {
        int best = s.picks().orElseThrow().best();
        return s.metric().compared().stream()
                .filter(c -> c != best)
                .map(c -> s.metric().contrast(c, best).orElseThrow())
                .toList();
    }

    private static Document parsed(String svg) throws Exception {
        return DocumentBuilderFactory.newInstance().newDocumentBuilder().parse(new InputSource(new StringReader(svg)));
    }

    /** Every kind, of two classes with hostile labels and of four, as SVG, as PNG and in characters. */
    @Test
    void everyFigureCanBeDrawnInEveryForm() throws Exception {
        for (FigureContext s : List.of(TWO, FOUR)) {
            List<Figure> figures = all(s);
            assertThat(figures).hasSize(s == TWO ? 14 : 13);
            for (Figure figure : figures) {
                String svg = Drawing.svg(figure, Look.DEFAULT);
                Document document = parsed(svg);
                assertThat(document.getElementsByTagName("script").getLength()).isZero();
                assertThat(svg).doesNotContain("\u202E").doesNotContain("NaN").doesNotContain("Infinity");
                assertThat(document.getDocumentElement().getTextContent()).contains("bees");
                BufferedImage image =
                        ImageIO.read(new ByteArrayInputStream(Drawing.png(figure, Look.DEFAULT.bare(), 1)));
                assertThat(image.getWidth()).isEqualTo(720);
                // White ground to the last pixel, and something on it.
                assertThat(image.getRGB(719, image.getHeight() - 1)).isEqualTo(0xFFFFFFFF);
                long inked = IntStream.range(0, 720 * image.getHeight())
                        .filter(i -> image.getRGB(i % 720, i / 720) != 0xFFFFFFFF)
                        .count();
                assertThat(inked).as(figure.title()).isGreaterThan(2000);
                for (boolean unicode : new boolean[] {true, false}) {
                    String text = Sketch.render(figure, Ink.of(false), unicode);
                    assertThat(text.lines().mapToInt(String::length).max().orElse(0))
                            .as(text)
                            .isLessThanOrEqualTo(Wrap.WIDTH);
                    if (!unicode) {
                        assertThat(text.chars().allMatch(c -> c < 128)).as(text).isTrue();
                    }
                }
            }
        }
    }

    @Test
    void theSameFigureIsTheSameToTheLastByte() {
        Figure figure = FigureFactory.of(FigureKind.ROC, TWO.of(List.of(1)), Optional.empty());
        Figure again = FigureFactory.of(FigureKind.ROC, subject(LABELS, 0).of(List.of(1)), Optional.empty());
        assertThat(Drawing.svg(again, Look.DEFAULT)).isEqualTo(Drawing.svg(figure, Look.DEFAULT));
        assertThat(Drawing.png(again, Look.DEFAULT, 1)).isEqualTo(Drawing.png(figure, Look.DEFAULT, 1));
    }

    /** Marks lie where their values are: the means of a drawing, read back from its own axis. */
    @Test
    void marksLieWhereTheirValuesAre() throws Exception {
        Figure figure = FigureFactory.of(FigureKind.MEANS, TWO, Optional.empty());
        Frame frame = figure.frames().get(0);
        List<Mark.Dot> dots = frame.marks().stream()
                .filter(m -> m instanceof Mark.Dot)
                .map(m -> (Mark.Dot) m)
                .toList();
        assertThat(dots).hasSize(4);
        for (int i = 0; i < dots.size(); i++) {
            int c = List.of("guess", "logit", "near/3", "near/15")
                    .indexOf(dots.get(i).about());
            assertThat(dots.get(i).at().x())
                    .isEqualTo(TWO.metric().means().get(c).mean());
            assertThat(dots.get(i).at().y()).isEqualTo(i);
        }
        NodeList circles = parsed(Drawing.svg(figure, Look.DEFAULT)).getElementsByTagName("circle");
        // Discs have no candidate's own form: those that are neither the pick nor the best.
        List<Mark.Dot> discs =
                dots.stream().filter(d -> d.form() == Mark.Form.DISC).toList();
        double[] xs = IntStream.range(0, circles.getLength())
                .mapToDouble(i -> Double.parseDouble(
                        circles.item(i).getAttributes().getNamedItem("cx").getNodeValue()))
                .distinct()
                .toArray();
        assertThat(xs).hasSize(discs.size());
        double perUnit =
                (xs[1] - xs[0]) / (discs.get(1).at().x() - discs.get(0).at().x());
        for (int i = 1; i < xs.length; i++) {
            assertThat(xs[i] - xs[0])
                    .isCloseTo(
                            perUnit * (discs.get(i).at().x() - discs.get(0).at().x()), within(0.1));
        }
    }

    @Test
    void dataBehindFiguresAreTheResults() {
        FigureData means =
                FigureFactory.of(FigureKind.MEANS, TWO, Optional.empty()).data();
        assertThat(means.columns()).startsWith("dataset", "candidate", "metric", "mean");
        assertThat(means.rows()).hasSize(4).allSatisfy(r -> assertThat(r.get(0)).isEqualTo("bees0"));
        FigureData spread =
                FigureFactory.of(FigureKind.SPREAD, TWO, Optional.empty()).data();
        assertThat(spread.rows()).hasSize(4 * 12);
        FigureData differences = FigureFactory.differences(TWO, contrasts(TWO)).data();
        for (int i = 0; i < 3; i++) {
            assertThat(differences.rows().get(i).get(4))
                    .isEqualTo(contrasts(TWO).get(i).difference());
        }
        FigureData family =
                FigureFactory.of(FigureKind.FAMILY, TWO, Optional.empty()).data();
        assertThat(family.rows().stream().map(r -> r.get(4))).containsExactly("3", "15");
        FigureData confusion = FigureFactory.of(FigureKind.CONFUSION, FOUR.of(List.of(1)), Optional.empty())
                .data();
        double rows =
                confusion.rows().stream().mapToDouble(r -> (Double) r.get(4)).sum();
        assertThat(rows).isCloseTo(120, within(1e-9));
    }

    @Test
    void ranksOverDataSetsAreJoinedByWhatIsNotToldApart() {
        List<MetricInference> each = IntStream.range(0, 6)
                .mapToObj(seed -> inference(List.of("a", "b"), seed).metric("auc"))
                .toList();
        Figure figure = FigureFactory.ranks(AcrossSets.of(each), each, 0.95);
        assertThat(figure.data().rows()).hasSize(4);
        assertThat(figure.caption()).contains("6 data sets, 4 candidates");
        assertThat(Sketch.render(figure, Ink.of(false), true)).contains("mean rank by auc");
        assertThat(TableFigures.groups(new double[] {1, 1.5, 2.2, 4, 4.5}, 1.3).stream()
                        .map(Arrays::toString))
                .containsExactly("[0, 2]", "[3, 4]");
        assertThat(TableFigures.groups(new double[] {1, 3, 5}, 1.3)).isEmpty();
    }

    @Test
    void whatCannotBeDrawnSaysWhy() {
        assertThat(FigureFactory.without(FigureKind.THRESHOLDS, FOUR)).isEqualTo("a threshold needs two classes");
        assertThatThrownBy(() -> FigureFactory.of(FigureKind.THRESHOLDS, FOUR, Optional.empty()))
                .hasMessage("figure thresholds cannot be drawn: a threshold needs two classes");
        assertThatThrownBy(() -> new Look(100, Optional.empty(), 11, Optional.empty(), true))
                .hasMessage("width = 100.0: expected 200 … 10000 points");
        Figure means = FigureFactory.of(FigureKind.MEANS, TWO, Optional.empty());
        assertThatThrownBy(
                        () -> Drawing.png(means, new Look(9000, Optional.of(9000.0), 11, Optional.empty(), true), 20))
                .hasMessageContaining("expected at most 100 million");
    }

    @Test
    void aLookIsKeptTo() throws Exception {
        Look look = new Look(400, Optional.of(300.0), 8, Optional.of("A <title> of ours"), true);
        Figure means = FigureFactory.of(FigureKind.MEANS, TWO, Optional.empty());
        Document document = parsed(Drawing.svg(means, look));
        assertThat(document.getDocumentElement().getAttribute("viewBox")).isEqualTo("0 0 400 300");
        assertThat(document.getDocumentElement().getTextContent()).contains("A <title> of ours");
        String bare =
                parsed(Drawing.svg(means, look.bare())).getDocumentElement().getTextContent();
        assertThat(bare).doesNotContain("of ours").doesNotContain("120 rows");
        // Drawn once, it is the same without its words.
        SvgDrawing drawing = SvgDrawing.of(means, new Look(400, Optional.empty(), 8, Optional.empty(), true));
        SvgDrawing own = SvgDrawing.of(means, new Look(400, Optional.empty(), 8, Optional.empty(), false));
        Element without = parsed(drawing.bare()).getDocumentElement();
        Element alone = parsed(own.whole()).getDocumentElement();
        assertThat(without.getTextContent()).isEqualTo(alone.getTextContent());
        assertThat(without.getAttribute("height")).isEqualTo(alone.getAttribute("height"));
        assertThat(parsed(drawing.whole()).getDocumentElement().getTextContent())
                .contains("120 rows");
    }

    /** Paths are written relative, and lead to the same places: followed step by step. */
    @Test
    void tidyPathsLeadToTheSamePlaces() {
        Path2D closed = lines(10, 20, 10, 25.5, 12.34, 25.5, 11.04, 20.26);
        closed.closePath();
        assertThat(Tidy.path(closed.getPathIterator(null))).hasValue("M10 20v5.5h2.3l-1.3-5.2z");
        assertThat(Tidy.path(lines(0.04, 0, 0, 0.04, 5, 5, 6, 6).getPathIterator(null)))
                .hasValue("M0 0l5 5 1 1");
        assertThat(Tidy.path(lines(-0.3, 100, -100.1, -0.7).getPathIterator(null)))
                .hasValue("M-.3 100l-99.8-100.7");
        Path2D curved = lines(1, 1);
        curved.curveTo(2, 2, 3, 3, 4, 4);
        assertThat(Tidy.path(curved.getPathIterator(null))).isEmpty();
    }

    private static Path2D lines(double... places) {
        Path2D path = new Path2D.Double();
        path.moveTo(places[0], places[1]);
        for (int i = 2; i < places.length; i += 2) {
            path.lineTo(places[i], places[i + 1]);
        }
        return path;
    }

    /** Of an axis of ratios in little room, powers of ten are labelled, and others only where they do not touch them. */
    @Test
    void labelsOfAnAxisOfRatiosDoNotCollide() {
        List<Mark> dots = new ArrayList<>();
        for (double seconds : new double[] {0.00011, 0.002, 0.019}) {
            dots.add(new Mark.Dot(new Spot(seconds, 1), Mark.Form.DISC, Tone.INK, "", ""));
        }
        Frame frame = new Frame("", Axis.ratios("seconds"), Axis.numbers("score"), dots);
        Figure figure = new Figure(FigureKind.TIME, "time", "", List.of(frame), 1, FigureData.of("seconds"));
        String narrow = Drawing.svg(figure, new Look(240, Optional.of(200.0), 10, Optional.empty(), false));
        String wide = Drawing.svg(figure, new Look(1400, Optional.of(200.0), 10, Optional.empty(), false));
        List<String> steps = List.of("0.0002", "0.0005", "0.002", "0.005");
        assertThat(narrow).contains(">0.001<", ">0.01<");
        assertThat(steps).anyMatch(t -> !narrow.contains(">" + t + "<")).allMatch(t -> wide.contains(">" + t + "<"));
    }

    @Test
    void whatStandsBesideTheLongestBarHasRoom() {
        Figure frequency = PickFigures.frequency(TWO);
        assertThat(frequency.frames().get(0).x().high()).isGreaterThan(1.05);
        Figure thresholds = CurveFigures.thresholds(TWO, TWO.inference().metric("balanced-accuracy"));
        assertThat(thresholds.frames().get(1).marks())
                .noneMatch(m -> m instanceof Mark.Guide guide && guide.label().startsWith("best"))
                .anyMatch(m -> m instanceof Mark.Word word && word.text().startsWith("best: "));
    }
}
