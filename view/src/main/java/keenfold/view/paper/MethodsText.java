package keenfold.view.paper;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Plural;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.prepare.Setting;
import keenfold.core.run.Halving;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.KFold;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.view.text.PickView;
import keenfold.view.text.SchemeWords;
import keenfold.view.text.Wrap;

/**
 * What was done, as a paragraph for the methods section of a paper, with a table of candidates for its appendix. Every
 * sentence is made from what was done; what was not done is not spoken of.
 */
public final class MethodsText {
    /** A reference in a sentence, by the key of its entry. */
    private static final Pattern REFERENCE = Pattern.compile(" ?\\{([a-z0-9,]+)}");

    private final Picking picking;
    private final Facts facts;
    private final AlignedPredictions panel;
    private final MetricInference metric;
    private final InferenceSettings evidence;

    /**
     * What the results do not say.
     *
     * @param program with its version
     * @param bindEqual whether equal rows stayed on one side of every split
     * @param heldBack what was held back for the end; empty if nothing was
     * @param fingerprints of the data sets, in plan order; empty where there is none
     * @param across whether candidates were compared across data sets too
     */
    public record Facts(
            String program, boolean bindEqual, Optional<String> heldBack, List<String> fingerprints, boolean across) {
        /** Copies the list. */
        public Facts {
            fingerprints = List.copyOf(fingerprints);
        }
    }

    private MethodsText(Picking picking, Facts facts) {
        this.picking = picking;
        this.facts = facts;
        this.panel = picking.sets().get(0).inference().panel();
        this.metric = picking.sets().get(0).metric();
        this.evidence = picking.sets().get(0).inference().evidence();
    }

    /** Returns it in Markdown, with references as Pandoc reads them. */
    public static String markdown(Picking picking, Facts facts) {
        MethodsText text = new MethodsText(picking, facts);
        String sentences = text.sentences().stream()
                .map(s -> referred(
                        s,
                        keys -> " ["
                                + Stream.of(keys.split(",")).map(k -> "@" + k).collect(Collectors.joining("; ")) + "]"))
                .collect(Collectors.joining(" "));
        return "# Methods\n\n" + sentences + "\n\n# Appendix: candidates\n\n"
                + MarkdownTable.render(List.of(text.candidates()));
    }

    /** Returns it in LaTeX; references are cited from {@code methods.bib}. */
    public static String latex(Picking picking, Facts facts) {
        MethodsText text = new MethodsText(picking, facts);
        String sentences = text.sentences().stream()
                .map(s -> {
                    StringBuilder out = new StringBuilder();
                    Matcher matcher = REFERENCE.matcher(s);
                    int from = 0;
                    while (matcher.find()) {
                        out.append(LatexTable.escaped(s.substring(from, matcher.start())))
                                .append("~\\cite{")
                                .append(matcher.group(1))
                                .append('}');
                        from = matcher.end();
                    }
                    return out.append(LatexTable.escaped(s.substring(from))).toString();
                })
                .collect(Collectors.joining("\n"));
        return "% the references are in methods.bib: \\bibliography{methods}\n\\section{Methods}\n\n" + sentences
                + "\n\n\\section{Candidates}\n\n" + LatexTable.render(List.of(text.candidates()));
    }

    /** Returns the references that it makes, as BibTeX. */
    public static String bibtex(Picking picking, Facts facts) {
        Set<String> keys = new LinkedHashSet<>();
        for (String sentence : new MethodsText(picking, facts).sentences()) {
            Matcher matcher = REFERENCE.matcher(sentence);
            while (matcher.find()) {
                keys.addAll(List.of(matcher.group(1).split(",")));
            }
        }
        return "% references of a methods section, by Keen Fold\n\n"
                + keys.stream().map(Literature::entry).collect(Collectors.joining("\n"));
    }

    private static String referred(String sentence, java.util.function.UnaryOperator<String> form) {
        return REFERENCE.matcher(sentence).replaceAll(m -> Matcher.quoteReplacement(form.apply(m.group(1))));
    }

    /** A text of the user's, which may not be taken for a reference. */
    private static String named(String text) {
        return Wrap.visible(text).replace('{', '(').replace('}', ')');
    }

    private PaperTable candidates() {
        ResultTable table = ResultTable.<Candidate>define()
                .name("candidate", Candidate::name)
                .text("classifier", c -> c.kind().name())
                .text("settings in force", c -> settings(c))
                .text("steps before it; what it is wrapped in", Scores::steps)
                .of(panel.candidates());
        return PaperTable.of(
                "Candidates and their settings",
                table,
                List.of("Settings are those in force, presets included; the program's catalog defines them."));
    }

    private static String settings(Candidate c) {
        List<String> parts = new ArrayList<>();
        for (Setting setting : c.kind().settings()) {
            boolean chosen = c.tuning()
                    .filter(t -> t.choices().containsKey(setting.name()))
                    .isPresent();
            String value = c.settings().text(setting);
            if (!chosen && !value.isEmpty() && setting.hasEffect(c.kind().settings(), c.settings())) {
                parts.add(setting.name() + " " + value);
            }
        }
        c.tuning().ifPresent(t -> t.choices()
                .forEach((name, values) -> parts.add(name + " chosen from " + String.join(", ", values))));
        return String.join("; ", parts);
    }

    private List<String> sentences() {
        List<String> all = new ArrayList<>();
        all.add(subject());
        if (!panel.scoresOnly()) {
            all.addAll(division());
        }
        tuning().ifPresent(all::add);
        all.add(metrics());
        failures().ifPresent(all::add);
        uncertainty().ifPresent(all::add);
        differences().ifPresent(all::add);
        halves().ifPresent(all::add);
        if (facts.across()) {
            all.add("Over data sets, candidates were compared by their ranks: Friedman's test in the form of Iman and"
                    + " Davenport, and Wilcoxon's signed-rank test for pairs with Holm's adjustment {demsar2006}.");
        }
        for (Picking.OfSet set : picking.sets()) {
            set.picks().ifPresent(p -> all.add(found(set)));
        }
        facts.heldBack()
                .ifPresent(h -> all.add("Before anything else, " + h
                        + " were held back; no split, fit or score of the comparison saw them."));
        all.add(software());
        return all;
    }

    private String subject() {
        int count = panel.candidates().size();
        List<String> kinds = panel.candidates().stream()
                .map(c -> c.kind().name())
                .filter(k -> !k.equals("adopted"))
                .distinct()
                .map(k -> k + Literature.ofClassifier(k))
                .toList();
        String sets =
                picking.sets().stream().map(s -> set(s.inference().panel())).collect(Collectors.joining("; "));
        return "We compared " + Plural.of(count, "candidate classifier")
                + (kinds.isEmpty() ? "" : " (" + String.join(", ", kinds) + ")") + " on "
                + (picking.sets().size() == 1
                        ? "one data set: "
                        : picking.sets().size() + " data sets: ") + sets + ".";
    }

    private static String set(AlignedPredictions panel) {
        DataSet data = panel.task().data();
        String name = named(data.name());
        if (panel.scoresOnly()) {
            return name + " (scores taken over from elsewhere)";
        }
        int[] counts = data.classCounts();
        List<String> classes = new ArrayList<>();
        for (int c = 0; c < counts.length && c < 6; c++) {
            classes.add(named(data.classes().labels().get(c)) + " " + counts[c]);
        }
        String positive = data.classes().binary()
                ? "; positive class " + named(data.classes().positiveLabel())
                : "";
        return name + " (" + Plural.of(data.rows(), "row") + "; "
                + (counts.length > 6 ? counts.length + " classes" : "classes " + String.join(", ", classes)) + positive
                + ")";
    }

    private List<String> division() {
        List<String> all = new ArrayList<>();
        Optional<Scheme> scheme = picking.evaluation().scheme();
        boolean elsewhere =
                panel.candidates().stream().allMatch(c -> c.kind().name().equals("adopted"));
        String verb = elsewhere ? "Predictions were made elsewhere" : "Every candidate was trained and tested";
        if (scheme.filter(s -> s instanceof KFold).isPresent()) {
            KFold folds = (KFold) scheme.get();
            all.add(verb + " on the same " + folds.folds() + "-fold"
                    + (folds.stratified() ? " stratified" : "") + " cross-validation"
                    + (folds.repeats() > 1 ? ", repeated " + folds.repeats() + " times with new folds" : "")
                    + " {kohavi1995}.");
        } else if (scheme.filter(s -> s instanceof RollingOrigin).isPresent()) {
            all.add(verb + " on the same "
                    + named(SchemeWords.of(
                            panel.task().data().withGroups(Optional.empty()),
                            panel.task().splits(),
                            scheme))
                    + ".");
        } else {
            all.add(verb + " on the same splits ("
                    + named(SchemeWords.of(
                            panel.task().data().withGroups(Optional.empty()),
                            panel.task().splits(),
                            scheme))
                    + ").");
        }
        picking.sets().forEach(s -> s.inference()
                .panel()
                .task()
                .data()
                .groups()
                .ifPresent(g -> all.add("All rows of one " + named(g.name()) + " ("
                        + g.levels().size() + " groups"
                        + (picking.sets().size() > 1 ? " of " + named(Evaluation.name(s.inference())) : "")
                        + ") stayed on one side of every split.")));
        if (facts.bindEqual()) {
            all.add("Rows that are equal in every column stayed on one side of every split.");
        }
        if (!elsewhere) {
            all.add(learned());
            filled().ifPresent(all::add);
        }
        return all;
    }

    /** How missing values were filled, by the candidates that have a step for it; nothing where none has. */
    private Optional<String> filled() {
        Map<String, List<String>> byWay = new LinkedHashMap<>();
        List<String> none = new ArrayList<>();
        for (Candidate c : panel.candidates()) {
            Optional<String> fill =
                    c.stepTexts().stream().filter(t -> t.matches("fill( .*)?")).findFirst();
            if (fill.isPresent()) {
                byWay.computeIfAbsent(fillWords(fill.get()), k -> new ArrayList<>())
                        .add(named(c.name()));
            } else {
                none.add(named(c.name()));
            }
        }
        if (byWay.isEmpty()) {
            return Optional.empty();
        }
        String ways = byWay.size() == 1
                ? byWay.keySet().iterator().next()
                : byWay.entrySet().stream()
                        .map(e -> e.getKey() + " (" + String.join(", ", e.getValue()) + ")")
                        .collect(Collectors.joining("; "));
        return Optional.of("Missing values were filled by what the training rows of the split show: " + ways
                + (none.isEmpty() ? "" : "; " + String.join(", ", none) + " had no such step") + ".");
    }

    private static String fillWords(String step) {
        List<String> words = List.of(step.split(" ", -1));
        String way = words.size() > 1 && !words.get(1).contains("=") ? words.get(1) : "median";
        String marked = words.contains("mark=yes") ? ", with a column that marks the gaps" : "";
        return switch (way) {
            case "constant" -> "numbers with a constant, categories with a level of its own" + marked;
            case "mode" -> "numbers and categories with the most frequent value" + marked;
            default -> "numbers with the " + way + ", categories with the most frequent level" + marked;
        };
    }

    /** What was learned inside training rows: the steps, choices and wrappers that candidates have, and the classifiers. */
    private String learned() {
        List<String> parts = new ArrayList<>();
        List<String> steps = panel.candidates().stream()
                .flatMap(c -> c.stepTexts().stream())
                .map(t -> t.replaceFirst(" .*", ""))
                .distinct()
                .toList();
        if (!steps.isEmpty()) {
            parts.add("the preparation of columns (" + String.join(", ", steps) + ")");
        }
        List<String> wrappers = panel.candidates().stream()
                .flatMap(c -> c.recipe().wrappers().stream())
                .map(w -> w.name())
                .distinct()
                .toList();
        if (!wrappers.isEmpty()) {
            parts.add("what classifiers are wrapped in (" + String.join(", ", wrappers) + ")");
        }
        return "Whatever is learned from data was learned from the training rows of each split alone: "
                + (parts.isEmpty() ? "" : String.join(", ", parts) + " and ") + "the classifiers.";
    }

    private Optional<String> tuning() {
        List<Candidate> tuned =
                panel.candidates().stream().filter(c -> c.tuning().isPresent()).toList();
        if (tuned.isEmpty()) {
            return Optional.empty();
        }
        String each = tuned.stream()
                .map(c -> named(c.name()) + " ("
                        + String.join(", ", c.tuning().orElseThrow().choices().keySet())
                        + ", by " + c.tuning().orElseThrow().metric() + " over "
                        + c.tuning().orElseThrow().folds() + " inner folds)")
                .collect(Collectors.joining(", "));
        return Optional.of("Settings were chosen anew inside the training rows of every split for " + each
                + ", so that the scores include the choice {varma2006}.");
    }

    private String metrics() {
        List<String> others = picking.evaluation().metrics().stream()
                .filter(m -> !m.equals(picking.metric()))
                .map(Wrap::visible)
                .toList();
        String main = named(picking.metric());
        boolean binary = picking.sets().stream()
                .allMatch(s -> s.inference().panel().task().data().classes().binary());
        return "Candidates were compared by " + main + Literature.ofMetric(picking.metric(), binary)
                + " (" + (metric.metric().higherIsBetter() ? "higher" : "lower") + " is better)"
                + (others.isEmpty()
                        ? ""
                        : "; " + String.join(", ", others) + (others.size() == 1 ? " was" : " were") + " scored too")
                + ".";
    }

    private Optional<String> failures() {
        long failed = picking.sets().stream()
                .flatMapToInt(s -> java.util.stream.IntStream.range(
                                0, s.inference().panel().candidates().size())
                        .map(s.inference().panel()::failedCount))
                .sum();
        return failed == 0
                ? Optional.empty()
                : Optional.of(Plural.of(failed, "fit")
                        + " failed; means are over the splits in which no compared candidate failed.");
    }

    private Optional<String> uncertainty() {
        if (metric.compared().isEmpty() || metric.draws() == 0) {
            return Optional.empty();
        }
        long grouped = picking.sets().stream()
                .filter(s -> s.inference().panel().task().data().groups().isPresent())
                .count();
        String unit = grouped == 0
                ? "rows"
                : grouped == picking.sets().size() ? "groups" : "rows (whole groups where rows belong to groups)";
        String draws = "Standard errors come from " + metric.draws() + " bootstrap draws of tested " + unit
                + ", the same for all candidates {efron1979}";
        return Optional.of(
                switch (metric.form()) {
                    case WIDENED ->
                        draws + "; their variance V, times m/(m - 1) for the m " + unit
                                + " drawn, was widened to V(1 + lambda) for what other training rows would have changed,"
                                + " lambda between 0 and 2 being estimated from how the standing of rows changes between"
                                + " repeats {keenfold2026,nadeau2003}.";
                    case INFLATED ->
                        draws + ", inflated by the ratio of tested to training rows, as for the corrected t-test"
                                + " {nadeau2003}.";
                    case RESAMPLED ->
                        "Standard errors come from the spread of the splits, corrected for the training rows that they"
                                + " share {nadeau2003}.";
                    case CASES -> draws + "; they hold for these fitted models only.";
                });
    }

    /** Runs on halves of the rows, where they were asked for. */
    private Optional<String> halves() {
        Halving halving = evidence.halving();
        return halving.halves() == 0
                ? Optional.empty()
                : Optional.of(String.format(
                        Locale.ROOT,
                        "%s the rows were divided %d times at random within classes into two halves, in each of which every"
                                + " candidate was run %s over the same number of folds {mccarthy1969}.",
                        metric.method() == Method.HALVES ? "For these variances" : "As a check of these variances,",
                        halving.splits(),
                        halving.repeats() == 1 ? "once" : halving.repeats() + " times"));
    }

    private Optional<String> differences() {
        int pairs = metric.contrasts().size();
        if (pairs == 0) {
            return Optional.empty();
        }
        String test =
                switch (metric.method()) {
                    case PIVOT ->
                        metric.form() == VarianceForm.RESAMPLED
                                ? "by t-tests with that variance"
                                : "on the same draws, each divided by its standard error";
                    case CASES, CASES_BCA -> "on draws of tested rows alone, for these fitted models only";
                    case CORRECTED_T -> "by the corrected resampled t-test {nadeau2003}";
                    case HALVES -> "by runs on random halves of the rows {mccarthy1969}";
                    case MCNEMAR -> "by McNemar's exact test {mcnemar1947}";
                };
        String adjusted =
                switch (evidence.adjustment()) {
                    case MAX_T -> "adjusted for all " + pairs + " comparisons by the step-down maximum {westfall1993}";
                    case HOLM -> "adjusted for all " + pairs + " comparisons by Holm's method {holm1979}";
                    case NONE -> "not adjusted for multiple comparisons, of which there are " + pairs;
                };
        String what = evidence.against()
                .map(a -> "Differences from " + named(a) + ", named beforehand,")
                .orElse("Differences of all pairs");
        return Optional.of(what + " were tested " + test + "; p-values are "
                + (pairs == 1 ? "of the one comparison" : adjusted) + ", at a level of "
                + NumberFormats.shortest(1 - evidence.level())
                + (evidence.margin() > 0
                        ? "; candidates whose difference is surely within " + NumberFormats.shortest(evidence.margin())
                                + " are called equivalent {schuirmann1987}"
                        : "")
                + (metric.standings().isPresent()
                        ? "; candidates that no other is shown to exceed form the set that may be the best"
                                + " {gupta1965}"
                        : "")
                + ".");
    }

    private String found(Picking.OfSet set) {
        String quote = PickView.said(set, picking.evaluation().scheme()).quote();
        String plain = quote.startsWith("\"") ? quote.substring(1, quote.length() - 1) : quote;
        String cited = named(plain).replace("(Breiman et al., 1984)", "{breiman1984}");
        String on = picking.sets().size() > 1 ? "On " + named(Evaluation.name(set.inference())) + ", of" : "Of";
        boolean corrected = plain.contains("corrected for choosing");
        String sentence = cited.startsWith("Of ") ? on + cited.substring(2) : cited;
        return corrected
                ? sentence.replaceFirst("corrected for choosing,", "corrected for choosing {tsamardinos2018},")
                : sentence;
    }

    private String software() {
        List<String> prints = new ArrayList<>();
        for (int t = 0; t < Math.min(facts.fingerprints().size(), picking.sets().size()); t++) {
            if (!facts.fingerprints().get(t).isEmpty()) {
                prints.add(named(Evaluation.name(picking.sets().get(t).inference())) + " "
                        + facts.fingerprints()
                                .get(t)
                                .substring(
                                        0,
                                        Math.min(16, facts.fingerprints().get(t).length())));
            }
        }
        return String.format(
                Locale.ROOT,
                "All was computed with %s, seed %d%s.",
                facts.program(),
                panel.seed(),
                prints.isEmpty() ? "" : "; fingerprints of the data: " + String.join(", ", prints));
    }
}
