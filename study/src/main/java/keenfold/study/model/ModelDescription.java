package keenfold.study.model;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.model.Schema;
import keenfold.results.ModelScore;
import keenfold.results.Result;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;
import keenfold.view.model.ModelPart;
import keenfold.view.model.ModelView;
import keenfold.view.model.TreeRule;
import keenfold.view.paper.PaperTables;
import keenfold.view.text.Ink;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;

/** What a model learned, in the columns and units of its data, and where it comes from. */
public final class ModelDescription implements Result {
    private static final int SHORT_PRINT = 16;

    private final ModelFile file;
    private final Set<String> dates;
    private final List<ModelPart> parts;

    public ModelDescription(ModelFile file) {
        this.file = file;
        this.dates = file.columns().columns().stream()
                .filter(c -> c.kind() == Schema.Kind.DATE)
                .map(Schema.OfColumn::name)
                .collect(Collectors.toSet());
        this.parts = ModelView.parts(file.predictor(), file.columns().empty(), file.classes(), dates);
    }

    /** Returns the rules of a tree; none of another classifier. */
    public List<TreeRule> rules() {
        return TreeRule.of(file.predictor(), file.columns().empty(), dates);
    }

    /** Returns the scores that are known of it. */
    @Override
    public ResultTable table() {
        return ModelScore.table(file.origin().scores(), "interval");
    }

    /** Returns it as text. */
    public String render(Ink ink) {
        Origin origin = file.origin();
        FittedPipeline predictor = file.predictor();
        String print = origin.fingerprint();
        StringBuilder text = new StringBuilder(ink.strong(Wrap.visible(origin.data() + ": " + origin.candidate())))
                .append('\n')
                .append(Wrap.lines(
                        settings(file) + ", size " + NumberFormats.significant(predictor.size(), 3) + ", trained on "
                                + origin.rows() + " rows by " + origin.program() + ", seed " + origin.seed(),
                        0))
                .append(Wrap.lines("tells " + file.target() + ": " + classes(file), 2))
                .append(Wrap.lines("from " + columns(file), 2))
                .append(Wrap.lines(
                        "data " + print.substring(0, Math.min(SHORT_PRINT, print.length()))
                                + " (SHA-256 of the parsed values)",
                        2));
        if (!origin.scores().isEmpty()) {
            text.append('\n').append(TextTable.of(table()).render(ink));
        }
        parts.forEach(p -> text.append('\n').append(p.render(ink)));
        return text.toString();
    }

    /** Returns its tables as LaTeX that needs the package booktabs alone. */
    public String latex() {
        return PaperTables.latex(name(), table(), parts);
    }

    /** Returns its tables as Markdown. */
    public String markdown() {
        return PaperTables.markdown(name(), table(), parts);
    }

    private String name() {
        return file.origin().data() + ", " + file.origin().candidate();
    }

    private static String classes(ModelFile file) {
        List<String> all = new ArrayList<>();
        for (int c = 0; c < file.classes().size(); c++) {
            boolean marked = file.classes().size() == 2 && c == file.predictor().positive();
            all.add(file.classes().get(c) + (marked ? " (positive)" : ""));
        }
        return String.join(", ", all);
    }

    private static String columns(ModelFile file) {
        return file.columns().columns().stream()
                .map(c -> c.name() + " ("
                        + (c.kind() == Schema.Kind.CATEGORY
                                ? c.levels().size() + " levels"
                                : c.kind().name().toLowerCase(Locale.ROOT))
                        + ")")
                .collect(Collectors.joining(", "));
    }

    private static String settings(ModelFile file) {
        String settings = file.origin().settings();
        return file.predictor().classifier() + (settings.isEmpty() ? "" : " (" + settings + ")");
    }

    @Override
    public Map<String, Object> document() {
        Origin origin = file.origin();
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("dataset", origin.data());
        document.put("candidate", origin.candidate());
        document.put("classifier", file.predictor().classifier());
        document.put("settings", origin.settings());
        document.put("target", file.target());
        document.put("positive", file.classes().get(file.predictor().positive()));
        document.put("program", origin.program());
        document.put("fingerprint", origin.fingerprint());
        List<Map<String, Object>> all = new ArrayList<>();
        all.add(part(
                "columns of the data",
                List.of(),
                ResultTable.<Schema.OfColumn>define()
                        .name("column", Schema.OfColumn::name)
                        .text("kind", c -> c.kind().name().toLowerCase(Locale.ROOT))
                        .column("levels", ValueKind.WHOLE, c -> c.levels().size())
                        .of(file.columns().columns())));
        all.add(part("scores", List.of(), table()));
        parts.forEach(p -> all.add(part(p.title(), p.lines(), p.table())));
        document.put("parts", all);
        return document;
    }

    private static Map<String, Object> part(String title, List<String> lines, ResultTable rows) {
        Map<String, Object> part = new LinkedHashMap<>();
        part.put("title", title);
        part.put("lines", lines);
        part.put("rows", rows);
        return part;
    }

    @Override
    public List<Notice> notices() {
        return List.of();
    }
}
