package keenfold.view.paper;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Stream;
import keenfold.core.data.Plural;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.MeanScore;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Result;
import keenfold.results.Scores;
import keenfold.results.table.Alignment;
import keenfold.results.table.Column;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;
import keenfold.view.model.ModelPart;
import keenfold.view.text.AcrossView;
import keenfold.view.text.ContrastView;
import keenfold.view.text.SchemeWords;
import keenfold.view.text.ScoresView;
import keenfold.view.text.Wrap;

/** The tables of a result for a paper, and their two forms. */
public final class PaperTables {
    /** Columns for programs by which a table is parted, since people have them as headings. */
    private static final List<String> HEADINGS = List.of("dataset", "metric");

    private PaperTables() {}

    /** Returns a result as LaTeX that needs the package booktabs alone. */
    public static String latex(Result result) {
        return LatexTable.render(of(result));
    }

    /** Returns a result as Markdown. */
    public static String markdown(Result result) {
        return MarkdownTable.render(of(result));
    }

    /**
     * Returns what a model learned as LaTeX; parts without a table, such as a threshold, are notes of the last table.
     *
     * @param name of the model
     * @param scores that are known of it
     */
    public static String latex(String name, ResultTable scores, List<ModelPart> parts) {
        return LatexTable.render(ofModel(name, scores, parts));
    }

    /** Returns the same as Markdown. */
    public static String markdown(String name, ResultTable scores, List<ModelPart> parts) {
        return MarkdownTable.render(ofModel(name, scores, parts));
    }

    private static List<PaperTable> ofModel(String name, ResultTable scores, List<ModelPart> parts) {
        String of = Wrap.visible(name) + ": ";
        List<PaperTable> tables = new ArrayList<>();
        if (scores.size() > 0) {
            tables.add(PaperTable.of(of + "scores", scores, List.of()));
        }
        for (ModelPart part : parts) {
            if (!part.columns().isEmpty()) {
                tables.add(PaperTable.of(of + Wrap.visible(part.title()), part));
            } else if (tables.isEmpty()) {
                tables.add(new PaperTable(
                        of + Wrap.visible(part.title()),
                        List.of(new PaperTable.Head("what was learned", Alignment.LEFT)),
                        part.lines().stream().map(l -> List.of(Wrap.visible(l))).toList(),
                        part.lines().stream().map(l -> false).toList(),
                        List.of()));
            } else {
                tables.add(tables.remove(tables.size() - 1).with(notes(part)));
            }
        }
        return tables;
    }

    private static List<String> notes(ModelPart part) {
        String title = Wrap.visible(part.title());
        return List.of(title.substring(0, 1).toUpperCase(Locale.ROOT) + title.substring(1) + ": "
                + String.join("; ", part.lines().stream().map(Wrap::visible).toList()) + ".");
    }

    private static List<PaperTable> of(Result result) {
        if (result instanceof Scores scores) {
            return ofScores(scores);
        }
        if (result instanceof Contrasts contrasts) {
            return ofContrasts(contrasts);
        }
        if (result instanceof Picking picking) {
            return ofPicking(picking);
        }
        if (result instanceof AcrossDataSets across) {
            return ofAcross(across);
        }
        return parted(result.table(), "");
    }

    private static List<PaperTable> ofScores(Scores scores) {
        List<PaperTable> tables = new ArrayList<>();
        Evaluation evaluation = scores.evaluation();
        for (Inference inference : evaluation.inferences()) {
            if (scores.metrics().size() > 1) {
                tables.add(byMetric(scores, inference));
            }
            for (String name : scores.metrics()) {
                MetricInference metric = inference.metric(name);
                ResultTable table = scores.ranked(inference, metric).without("min", "max");
                List<String> notes = new ArrayList<>(of(evaluation, inference, metric));
                notes.add(
                        "sd: standard deviation of single fold scores. Intervals hold for one mean; the overlap of two"
                                + " says nothing of their difference.");
                tables.add(PaperTable.of(caption(inference, name), table, notes));
                ResultTable standings = scores.standings(inference, metric);
                if (standings.size() > 0) {
                    tables.add(PaperTable.of(
                            caption(inference, name) + ": which may be the best",
                            standings,
                            List.of(mayBeBest(evaluation))));
                }
            }
        }
        return tables;
    }

    private static String caption(Inference inference, String metric) {
        return Wrap.visible(Evaluation.name(inference)) + ": " + Wrap.visible(metric);
    }

    /** What scores are means of, and what their standard errors are. */
    private static List<String> of(Evaluation evaluation, Inference inference, MetricInference metric) {
        String unit = metric.panel().task().data().groups().isPresent() ? "groups" : "rows";
        List<String> notes = new ArrayList<>();
        notes.add("Means over " + SchemeWords.of(metric.panel(), evaluation.scheme()) + "; "
                + Plural.of(inference.panel().rows(), "row") + ", seed "
                + inference.panel().seed() + ".");
        if (!metric.compared().isEmpty()) {
            notes.add("se: standard error of the mean, from "
                    + ScoresView.origin(metric, metric.panel().common(), unit) + ".");
        }
        return notes;
    }

    /** Candidates by metrics: mean and standard error, by falling worth under the primary metric. */
    private static PaperTable byMetric(Scores scores, Inference inference) {
        Evaluation evaluation = scores.evaluation();
        List<MetricInference> metrics =
                scores.metrics().stream().map(inference::metric).toList();
        MetricInference first = scores.metrics().contains(evaluation.primary())
                ? inference.metric(evaluation.primary())
                : metrics.get(0);
        var table = ResultTable.<Integer>define().name("candidate", c -> Evaluation.name(inference, c));
        ValueKind shown = ValueKind.TEXT.aligned(Alignment.POINT);
        for (MetricInference metric : metrics) {
            int best = best(metric);
            table.column(metric.metric().name(), shown, c -> cell(metric, c, best))
                    .headed(metric.metric().name());
        }
        List<String> lower = metrics.stream()
                .filter(m -> !m.metric().higherIsBetter())
                .map(m -> m.metric().name())
                .toList();
        List<String> notes = new ArrayList<>(of(evaluation, inference, first));
        notes.set(0, notes.get(0).replace("Means over", "Means, with standard errors in brackets, over"));
        notes.add("b: the best mean" + (lower.isEmpty() ? "" : " (the lowest of " + String.join(", ", lower) + ")")
                + (metrics.stream().anyMatch(m -> m.standings().isPresent())
                        ? "; m: not shown to be worse than any other (simultaneous "
                                + NumberFormats.level(evaluation.level()) + " statement for each metric)"
                        : "")
                + ".");
        return PaperTable.of(
                Wrap.visible(Evaluation.name(inference)) + ": candidates by metrics",
                table.of(Evaluation.ranked(first).stream()
                        .map(MeanScore::candidate)
                        .toList()),
                notes);
    }

    private static int best(MetricInference metric) {
        return Evaluation.ranked(metric).stream()
                .filter(m -> metric.compared().contains(m.candidate()))
                .findFirst()
                .map(MeanScore::candidate)
                .orElse(-1);
    }

    private static String cell(MetricInference metric, int candidate, int best) {
        MeanScore mean = metric.means().get(candidate);
        if (Double.isNaN(mean.mean())) {
            return NumberFormats.UNDEFINED;
        }
        double se = mean.standardError();
        boolean member = metric.compared().contains(candidate)
                && metric.standings().map(s -> s.of(candidate).mayBeBest()).orElse(false);
        return NumberFormats.mean(mean.mean(), se)
                + (Double.isNaN(se) ? "" : " (" + NumberFormats.two(se) + ")")
                + (candidate == best ? PaperTable.BEST : member ? PaperTable.MAY_BE_BEST : "");
    }

    private static String mayBeBest(Evaluation evaluation) {
        return "may be best: no other candidate is shown to be better; the best one is among these with probability "
                + NumberFormats.shortest(evaluation.level()) + ".";
    }

    private static List<PaperTable> ofContrasts(Contrasts contrasts) {
        List<PaperTable> tables = new ArrayList<>();
        Evaluation evaluation = contrasts.evaluation();
        for (Contrasts.Part part : contrasts.parts()) {
            if (part.shown().isEmpty()) {
                continue;
            }
            String set = Wrap.visible(Evaluation.name(part.inference()));
            tables.add(PaperTable.of(
                    set + ", " + Wrap.visible(part.title()),
                    part.table(),
                    ContrastView.explained(
                            List.of(part.metric()), part.inference().evidence())));
            if (part.standings().size() > 0) {
                tables.add(PaperTable.of(
                        set + ", " + Wrap.visible(part.metric().metric().name()) + ": which may be the best",
                        part.standings(),
                        List.of(mayBeBest(evaluation))));
            }
        }
        return tables;
    }

    private static List<PaperTable> ofPicking(Picking picking) {
        List<PaperTable> tables = new ArrayList<>();
        for (Picking.OfSet set : picking.sets()) {
            if (set.picks().isEmpty()) {
                continue;
            }
            String name = Wrap.visible(Evaluation.name(set.inference()));
            List<String> notes = new ArrayList<>(of(picking.evaluation(), set.inference(), set.metric()));
            notes.add("size: effective number of parameters. Picked by the rule "
                    + picking.rule().label()
                    + (set.picks().get().frequency().isEmpty()
                            ? ""
                            : "; picked in draws: the share of draws in which that rule picks the candidate")
                    + ".");
            tables.add(PaperTable.of(
                    name + ": pick by " + Wrap.visible(picking.metric()) + ", candidates from the simplest on",
                    set.candidates(),
                    notes));
            tables.add(PaperTable.of(
                    name + ": rules of selection by " + Wrap.visible(picking.metric()),
                    set.rules(),
                    List.of(
                            "from the best: the mean of what the rule picks less the best mean, with the interval of that"
                                    + " difference alone.")));
        }
        picking.overall()
                .ifPresent(o -> tables.add(PaperTable.of(
                        "Mean ranks by " + Wrap.visible(picking.metric()) + " over "
                                + Plural.of(picking.sets().size(), "data set"),
                        o.table(),
                        List.of("1 is the best rank."))));
        return tables;
    }

    private static List<PaperTable> ofAcross(AcrossDataSets across) {
        return across.parts().stream()
                .flatMap(p -> Stream.of(acrossMeans(across, p), acrossPairs(p)))
                .toList();
    }

    private static String over(AcrossDataSets.OfMetric part) {
        return " over " + Plural.of(part.sets().across().sets(), "data set") + ", by " + Wrap.visible(part.name());
    }

    private static PaperTable acrossMeans(AcrossDataSets across, AcrossDataSets.OfMetric part) {
        String tests =
                AcrossView.tests(part.sets().across(), across.evaluation().level());
        return PaperTable.of(
                "Means and mean ranks of candidates" + over(part),
                part.means(),
                List.of("1 is the best rank. " + tests.replaceAll("\\s+", " ").strip()));
    }

    private static PaperTable acrossPairs(AcrossDataSets.OfMetric part) {
        return PaperTable.of(
                "Pairs of candidates" + over(part),
                part.favoured(),
                List.of("W+: rank sum in favour of the first candidate (Wilcoxon signed ranks); p adjusted: Holm's for"
                        + " all pairs."));
    }

    /** A table in parts that have one data set and metric each, where people have these as headings. */
    private static List<PaperTable> parted(ResultTable table, String caption) {
        for (Column column : table.columns()) {
            boolean heading = HEADINGS.contains(column.key())
                    && !table.forPeople().isEmpty()
                    && !table.forPeople().contains(column);
            Set<String> values = new LinkedHashSet<>();
            if (heading) {
                table.rows().forEach(r -> values.add(r.text(column.key())));
            }
            if (!values.isEmpty()) {
                return values.stream()
                        .flatMap(v -> parted(
                                table.where(column.key(), v).without(column.key()),
                                caption + (caption.isEmpty() ? "" : ", ") + Wrap.visible(v))
                                .stream())
                        .toList();
            }
        }
        return List.of(PaperTable.of(caption, table, List.of()));
    }
}
