package keenfold.io.plan;

import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.prepare.Setting;
import keenfold.core.run.Halving;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.split.LeaveOneOut;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.Reason;
import keenfold.io.command.Programs;
import keenfold.io.table.DataSpec;
import keenfold.io.table.parse.TableFormat;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.composer.Composer;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.parser.ParserImpl;
import org.yaml.snakeyaml.reader.StreamReader;
import org.yaml.snakeyaml.resolver.Resolver;

/** Reads plans. Every complaint names file, line, column and key. */
public final class PlanReader {
    private static final Pattern UNNAMEABLE = Pattern.compile("[/,\\p{Cc}\\p{Cf}\\p{Zl}\\p{Zp}]");

    private final PlanNode root;
    private final Map<String, PlanNode> keys;

    private final Programs programs;
    private final boolean kept;

    private PlanReader(PlanNode root, Programs programs, boolean kept) {
        this.kept = kept;
        this.root = root;
        this.programs = programs;
        this.keys = root.map(names(PlanKeys.PLAN));
    }

    /**
     * Reads a plan file, of which no program may be started.
     *
     * @throws InputException if it is not a plan
     */
    public static Plan read(Path file) {
        return read(file, false);
    }

    /**
     * Reads a plan file.
     *
     * @param allowCommands whether the programs that it names may be started
     * @throws InputException if it is not a plan
     */
    public static Plan read(Path file, boolean allowCommands) {
        InputFile.require(file, file.toString(), "a plan (YAML)");
        try {
            long size = Files.size(file);
            if (size > PlanLimits.BYTES) {
                throw new InputException(
                        file.toString(),
                        "is no plan: it has " + size + " bytes, and a plan has at most " + PlanLimits.BYTES
                                + "; a table is given to compare, survey or draft");
            }
            return parse(
                    file.toString(),
                    Files.readString(file),
                    new Programs(
                            Optional.of(
                                    Optional.ofNullable(file.toAbsolutePath().getParent())
                                            .orElse(file.toAbsolutePath())),
                            allowCommands),
                    false);
        } catch (NoSuchFileException e) {
            throw new InputException(file.toString(), "there is no such file; a plan is a YAML file", e);
        } catch (CharacterCodingException e) {
            FileLook look = FileLook.of(file);
            boolean misencoded = look == FileLook.PLAN || look == FileLook.UNCLEAR;
            throw new InputException(
                    file.toString(),
                    misencoded ? "not valid UTF-8; save the plan as UTF-8" : "is no plan" + look.words(),
                    e);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** Reads a plan from its text; {@code file} goes into complaints. Its programs are neither looked for nor started. */
    public static Plan parse(String file, String text) {
        return parse(file, text, Programs.NONE, false);
    }

    /**
     * Reads a plan that was carried out before, from the text that a ledger or model keeps. Its names are what they are; where
     * it does not say whose presets hold, those of the first programs do. Its programs are neither looked for nor started.
     *
     * @param file for messages
     */
    public static Plan kept(String file, String text) {
        return parse(file, text, Programs.NONE, true);
    }

    /**
     * Reads a plan that was carried out before, with the programs that it names.
     *
     * @param file for messages
     * @param programs where they are looked for, and whether they may be started
     */
    public static Plan kept(String file, String text, Programs programs) {
        return parse(file, text, programs, true);
    }

    /**
     * What a plan says of testing and picking.
     *
     * @param evidence how differences are tested
     * @param choosing how a candidate is picked
     */
    public record Statement(InferenceSettings evidence, Choosing choosing) {}

    /**
     * Reads what a plan of before says of testing and picking alone: its candidates may need a plug-in that is gone.
     *
     * @param file for messages
     */
    public static Statement statement(String file, String text) {
        PlanReader reader = reader(file, text, Programs.NONE, true);
        return new Statement(
                reader.key("evidence").map(e -> evidence(e, name -> name)).orElse(InferenceSettings.DEFAULT),
                reader.choosing());
    }

    private static Plan parse(String file, String text, Programs programs, boolean kept) {
        return reader(file, text, programs, kept).plan();
    }

    private static PlanReader reader(String file, String text, Programs programs, boolean kept) {
        LoaderOptions options = new LoaderOptions();
        options.setNestingDepthLimit(20);
        options.setCodePointLimit(PlanLimits.BYTES);
        try {
            // Only the tree is wanted, so that scalars stay the text they are; no objects are made of it.
            Node node = new Composer(new ParserImpl(new StreamReader(text), options), new Resolver(), options)
                    .getSingleNode();
            if (node == null) {
                throw new InputException(file, "the plan is empty; it begins with \"keenfold: 1\"");
            }
            if (!(node instanceof MappingNode)) {
                throw new InputException(
                        file,
                        "is no plan: a plan is YAML that begins with \"keenfold: 1\"; a table is given to compare, survey"
                                + " or draft");
            }
            return new PlanReader(new PlanNode(file, node, ""), programs, kept);
        } catch (MarkedYAMLException e) {
            String place = e.getProblemMark() == null
                    ? file
                    : file + ", line " + (e.getProblemMark().getLine() + 1) + ", column "
                            + (e.getProblemMark().getColumn() + 1);
            // What is no YAML may be no plan at all: of a table, a parser's words about it would not help.
            boolean table = !kept && FileLook.of(Path.of(file)) == FileLook.TABLE;
            throw new InputException(
                    table ? file : place,
                    table ? "is no plan" + FileLook.TABLE.words() : "not valid YAML: " + e.getProblem(),
                    e);
        } catch (YAMLException e) {
            throw new InputException(file, "not valid YAML: " + e.getMessage(), e);
        }
    }

    static List<String> names(List<PlanKeys.Key> keys) {
        return keys.stream().map(PlanKeys.Key::name).toList();
    }

    private Plan plan() {
        required(keys, root, "keenfold").as(v -> {
            Checks.that(v.equals("1"), "keenfold: %s: this program reads plans of version 1", v);
            return v;
        });
        List<DataSpec> data = new ArrayList<>();
        Set<String> taken = new HashSet<>();
        for (PlanNode entry : required(keys, root, "data").listOrOne()) {
            DataSpec spec = data(entry, kept);
            if (!taken.add(spec.name())) {
                throw entry.wrong("a data set called \"" + spec.name() + "\" is there already; give one a name");
            }
            data.add(spec);
        }
        Division division = DivisionReader.read(key("splits"), key("holdout"));
        if (data.size() > 1 && sourceOfOneSet(division)) {
            throw required(keys, root, "data")
                    .wrong("splits or a holdout from a file belong to one data set; this plan has " + data.size());
        }
        Costs costs = key("costs").map(PlanReader::costs).orElse(Costs.NONE);
        List<MetricName> metrics =
                metrics(division).stream().map(m -> m.withCosts(costs)).toList();
        MetricName primary = primary(metrics, costs);
        List<Candidate> candidates =
                new CandidateReader(required(keys, root, "candidates"), primary, costs, programs, presets()).read();
        return new Plan(
                key("note").map(PlanNode::text),
                data,
                division,
                key("seed").map(PlanReader::seed),
                metrics,
                costs,
                primary,
                candidates,
                key("evidence")
                        .map(e -> evidence(e, name -> known(name, candidates)))
                        .orElse(InferenceSettings.DEFAULT),
                choosing(),
                key("effort").map(e -> effort(e, candidates)).orElse(Map.of()));
    }

    /** Whose presets hold. */
    private int presets() {
        return key("presets")
                .map(n -> n.check(() -> {
                    int generation = n.whole();
                    Checks.that(
                            generation >= 1 && generation <= Setting.GENERATION,
                            "presets = %d: this program knows those of the generations 1 to %d",
                            generation,
                            Setting.GENERATION);
                    return generation;
                }))
                .orElse(kept ? 1 : Setting.GENERATION);
    }

    private Optional<PlanNode> key(String name) {
        return Optional.ofNullable(keys.get(name));
    }

    static PlanNode required(Map<String, PlanNode> map, PlanNode at, String name) {
        PlanNode found = map.get(name);
        if (found == null) {
            throw at.wrong("the key \"" + name + "\" is missing");
        }
        return found;
    }

    /** @param kept whether the plan is one that was carried out already: its names are what they are */
    private static DataSpec data(PlanNode node, boolean kept) {
        Map<String, PlanNode> map = node.map(names(PlanKeys.DATA));
        String file = required(map, node, "file").text();
        TableFormat format = new TableFormat(
                Optional.ofNullable(map.get("separator")).map(n -> n.as(PlanReader::separator)),
                map.containsKey("missing") ? Set.copyOf(texts(map, "missing")) : Set.copyOf(TableFormat.MISSING),
                Set.copyOf(texts(map, "text")),
                Set.copyOf(texts(map, "number")),
                Optional.ofNullable(map.get("decimal"))
                        .map(n -> n.as(PlanReader::decimal))
                        .orElse('.'),
                Optional.ofNullable(map.get("encoding")).map(n -> n.as(PlanReader::encoding)));
        return new DataSpec(
                file,
                Optional.ofNullable(map.get("name"))
                        .map(n -> kept ? n.text() : n.as(PlanReader::plainName))
                        .orElseGet(() -> DataSpec.stem(file)),
                required(map, node, "target").text(),
                Optional.ofNullable(map.get("positive")).map(PlanNode::text),
                Optional.ofNullable(map.get("groups")).map(PlanNode::text),
                Optional.ofNullable(map.get("order")).map(PlanNode::text),
                Optional.ofNullable(map.get("weights")).map(PlanNode::text),
                texts(map, "leave-out"),
                format);
    }

    /** Reads what stands between fields. */
    public static char separator(String text) {
        String one = text.equals("tab") ? "\t" : text;
        Checks.that(
                one.length() == 1 && ",;\t|".contains(one),
                "separator \"%s\": expected a comma, a semicolon, a vertical bar or tab",
                text);
        return one.charAt(0);
    }

    /** Reads what stands before the decimals of a number. */
    public static char decimal(String text) {
        Checks.that(text.equals(".") || text.equals(","), "decimal \"%s\": expected a point or a comma", text);
        return text.charAt(0);
    }

    /** Reads the name of an encoding. */
    public static Charset encoding(String text) {
        try {
            return Charset.forName(text);
        } catch (IllegalArgumentException e) {
            throw Checks.wrong(
                    "encoding \"" + text + "\" is not known; expected one such as UTF-8, windows-1252 or UTF-16", e);
        }
    }

    /**
     * Checks the name of a data set or a candidate.
     *
     * @throws IllegalArgumentException if it is blank, or holds a slash, a comma, a control character or one without a shape
     */
    public static String plainName(String text) {
        Checks.that(
                !text.isBlank() && !UNNAMEABLE.matcher(text).find(),
                "name \"%s\": a name holds no slash, comma or control character",
                text);
        return text;
    }

    private static List<String> texts(Map<String, PlanNode> map, String name) {
        PlanNode node = map.get(name);
        return node == null
                ? List.of()
                : node.listOrOne().stream().map(PlanNode::text).distinct().toList();
    }

    private static long seed(PlanNode node) {
        return node.as(t -> {
            Checks.that(t.matches("[+-]?[0-9]{1,18}"), "seed \"%s\": expected a whole number", t);
            return Long.parseLong(t);
        });
    }

    private static boolean sourceOfOneSet(Division division) {
        return division.source() instanceof SplitSource.Apart
                || division.holdout().flatMap(Division.SetAside::file).isPresent();
    }

    private List<MetricName> metrics(Division division) {
        List<MetricName> metrics = new ArrayList<>();
        for (PlanNode node : key("metrics").map(PlanNode::listOrOne).orElse(List.of())) {
            MetricName metric = node.as(MetricWord::parse);
            if (metrics.contains(metric)) {
                throw node.wrong("metric \"" + metric.text() + "\" is there already");
            }
            metrics.add(metric);
        }
        return key("metrics").isPresent() && !metrics.isEmpty()
                ? metrics
                : key("primary").map(p -> withPrimary(p.as(MetricWord::parse))).orElse(presetFor(division));
    }

    /** The metrics where a plan names none. */
    public static List<MetricName> presetFor(Division division) {
        return division.scheme().filter(s -> s instanceof LeaveOneOut).isPresent()
                ? Plan.METRICS_OF_ROWS
                : Plan.METRICS;
    }

    /** The preset metrics with the primary one first. */
    public static List<MetricName> withPrimary(MetricName primary) {
        List<MetricName> metrics = new ArrayList<>(Plan.METRICS);
        metrics.remove(primary);
        metrics.add(0, primary);
        return metrics;
    }

    private MetricName primary(List<MetricName> metrics, Costs costs) {
        return key("primary")
                .map(node -> node.as(t -> {
                    MetricName primary = MetricWord.parse(t).withCosts(costs);
                    Checks.that(
                            metrics.contains(primary),
                            "\"%s\" is not among the metrics; add it there or name one of %s",
                            t,
                            metrics.stream().map(MetricName::text).toList());
                    return primary;
                }))
                .orElse(metrics.get(0));
    }

    private static Costs costs(PlanNode node) {
        Map<String, Map<String, Double>> byActual = new LinkedHashMap<>();
        OptionalDouble[] others = {OptionalDouble.empty()};
        node.entries().forEach((actual, row) -> {
            // A class may be called so, too: then it has costs of its own.
            if (actual.text().equals(Costs.ELSE) && !row.isMap()) {
                others[0] = OptionalDouble.of(row.number());
                return;
            }
            Map<String, Double> own = new LinkedHashMap<>();
            row.entries().forEach((predicted, cost) -> own.put(predicted.text(), cost.number()));
            byActual.put(actual.text(), own);
        });
        return node.check(() -> new Costs(byActual, others[0]));
    }

    private static Map<String, Double> effort(PlanNode node, List<Candidate> candidates) {
        List<String> known = Family.of(candidates).stream().map(Family::name).toList();
        Map<String, Double> effort = new LinkedHashMap<>();
        node.entries().forEach((name, seconds) -> {
            String family = name.as(t -> {
                Checks.that(known.contains(t), "no candidate is called \"%s\"%s", t, Suggestion.hint(t, known));
                return t;
            });
            double value = seconds.number();
            if (!(value > 0)) {
                throw seconds.wrong("expected a number above 0");
            }
            effort.put(family, value);
        });
        return effort;
    }

    private Choosing choosing() {
        return key("pick").map(PlanReader::choosing).orElse(Choosing.PRESET);
    }

    private static String known(String name, List<Candidate> candidates) {
        List<String> known = candidates.stream().map(Candidate::name).toList();
        Checks.that(known.contains(name), "no candidate is called \"%s\"%s", name, Suggestion.hint(name, known));
        return name;
    }

    /** @param candidate checks the name of the candidate that others are compared with */
    private static InferenceSettings evidence(PlanNode node, UnaryOperator<String> candidate) {
        Map<String, PlanNode> map = node.map(names(PlanKeys.EVIDENCE));
        InferenceSettings preset = InferenceSettings.DEFAULT;
        Optional<String> against = Optional.ofNullable(map.get("against")).map(n -> n.as(candidate));
        return node.check(() -> new InferenceSettings(
                Optional.ofNullable(map.get("draws"))
                        .map(n -> PlanLimits.most("draws", n.whole(), PlanLimits.DRAWS))
                        .orElse(preset.draws()),
                Optional.ofNullable(map.get("level")).map(PlanNode::number).orElse(preset.level()),
                Optional.ofNullable(map.get("margin")).map(PlanNode::number).orElse(preset.margin()),
                against,
                Optional.ofNullable(map.get("method"))
                        .map(n -> n.as(t -> named("method", t, Method.labels(), Method::of)))
                        .orElse(preset.method()),
                Optional.ofNullable(map.get("adjust"))
                        .map(n -> n.as(t -> named("adjust", t, Adjust.labels(), Adjust::of))),
                Optional.ofNullable(map.get("halves")).map(PlanReader::halving).orElse(preset.halving())));
    }

    /** A number of splits, or {@code {splits: NUMBER, repeats: NUMBER}}. */
    private static Halving halving(PlanNode node) {
        if (!node.isMap()) {
            return node.check(() -> new Halving(halves(node), Halving.PRESET_REPEATS));
        }
        Map<String, PlanNode> map = node.map(names(PlanKeys.HALVES));
        PlanNode splits = required(map, node, "splits");
        return node.check(() -> new Halving(
                halves(splits),
                Optional.ofNullable(map.get("repeats")).map(PlanNode::whole).orElse(Halving.PRESET_REPEATS)));
    }

    private static int halves(PlanNode node) {
        return PlanLimits.most("halves", node.whole(), PlanLimits.HALVES);
    }

    /** Reads one of some names. */
    private static <T> T named(String key, String text, List<String> known, Function<String, Optional<T>> of) {
        return of.apply(text)
                .orElseThrow(() -> Checks.wrong(key + " \"" + text + "\" is not known" + Suggestion.hint(text, known)));
    }

    private static Choosing choosing(PlanNode node) {
        Map<String, PlanNode> map = node.map(names(PlanKeys.PICK));
        Choosing preset = Choosing.PRESET;
        return new Choosing(
                Optional.ofNullable(map.get("rule")).map(PlanReader::rule).orElse(preset.rule()),
                Optional.ofNullable(map.get("simpler-by"))
                        .map(n -> n.as(t -> named("simpler-by", t, SimplerBy.labels(), SimplerBy::of)))
                        .orElse(preset.simplerBy()),
                Optional.ofNullable(map.get("failed"))
                        .map(n -> n.as(t -> {
                            Checks.that(
                                    t.equals("allow") || t.equals("refuse"), "failed: %s: expected allow or refuse", t);
                            return t.equals("allow");
                        }))
                        .orElse(preset.failedAllowed()));
    }

    /** A name, or {@code {m-se: NUMBER}}. */
    private static Rule rule(PlanNode node) {
        if (!node.isMap()) {
            return node.as(PlanReader::ruleNamed);
        }
        PlanNode number = required(node.map(List.of(Rule.Kind.M_SE.label())), node, Rule.Kind.M_SE.label());
        return node.check(() -> new Rule(Rule.Kind.M_SE, number.number()));
    }

    private static Rule ruleNamed(String text) {
        String name = text.substring(0, text.indexOf('=') < 0 ? text.length() : text.indexOf('='));
        if (!Rule.labels().contains(name)) {
            throw Checks.wrong("rule \"" + text + "\" is not known" + Suggestion.hint(text, Rule.labels()));
        }
        return Rule.parse(text);
    }
}
