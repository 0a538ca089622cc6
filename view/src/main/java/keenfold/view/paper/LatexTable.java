package keenfold.view.paper;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.results.table.Alignment;

/** Tables as LaTeX with the rules of booktabs, numbers aligned at their points. */
final class LatexTable {
    private static final String HEAD = "% needs \\usepackage{booktabs}; made by Keen Fold\n";

    private static final Map<Character, String> SPECIAL = Map.ofEntries(
            Map.entry('\\', "\\textbackslash{}"),
            Map.entry('{', "\\{"),
            Map.entry('}', "\\}"),
            Map.entry('&', "\\&"),
            Map.entry('%', "\\%"),
            Map.entry('$', "\\$"),
            Map.entry('#', "\\#"),
            Map.entry('_', "\\_"),
            Map.entry('^', "\\textasciicircum{}"),
            Map.entry('~', "\\textasciitilde{}"),
            Map.entry('<', "$<$"),
            Map.entry('>', "$>$"),
            Map.entry('|', "$|$"),
            // Closing quotes, since the straight one is not in every encoding of fonts.
            Map.entry('"', "''"));

    private LatexTable() {}

    static String render(List<PaperTable> tables) {
        return HEAD + tables.stream().map(LatexTable::render).collect(Collectors.joining("\n"));
    }

    private static String render(PaperTable table) {
        int columns = table.heads().size();
        List<List<String>> cells = new ArrayList<>();
        for (int c = 0; c < columns; c++) {
            cells.add(table.aligned(c, "\u2007", "\u2008"));
        }
        String form = table.heads().stream()
                .map(h -> h.alignment() == Alignment.LEFT || h.alignment() == Alignment.NAME ? "l" : "r")
                .collect(Collectors.joining());
        StringBuilder text = new StringBuilder("\\begin{table}\n\\centering\n");
        if (!table.caption().isEmpty()) {
            text.append("\\caption{")
                    .append(escaped(table.caption()))
                    .append(".}\n\\label{tab:")
                    .append(table.label())
                    .append("}\n\\vspace{0.6ex}\n");
        }
        text.append("\\begin{tabular}{").append(form).append("}\n\\toprule\n");
        text.append(line(table.heads().stream().map(h -> escaped(h.text())).toList()));
        text.append("\\midrule\n");
        for (int r = 0; r < table.rows().size(); r++) {
            int row = r;
            boolean strong = table.strong().get(r);
            text.append(line(IntStream.range(0, columns)
                    .mapToObj(c -> cell(cells.get(c).get(row)))
                    .map(t -> strong && !t.isBlank() ? "\\textbf{" + t + "}" : t)
                    .toList()));
        }
        text.append("\\bottomrule\n\\end{tabular}\n");
        if (!table.notes().isEmpty()) {
            text.append("\n\\medskip\n\\parbox{0.9\\linewidth}{\\footnotesize ")
                    .append(escaped(String.join(" ", table.notes())))
                    .append("}\n");
        }
        return text.append("\\end{table}\n").toString();
    }

    /** A cell with its mark raised, which takes no room, so that numbers stay in line. */
    private static String cell(String cell) {
        String mark = PaperTable.mark(cell);
        return escaped(PaperTable.unmarked(cell)) + (mark.isEmpty() ? "" : "\\rlap{\\textsuperscript{" + mark + "}}");
    }

    private static String line(List<String> cells) {
        return String.join(" & ", cells) + " \\\\\n";
    }

    /** A sign before a number is that of mathematics; what only takes room is a phantom. */
    static String escaped(String text) {
        StringBuilder escaped = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            boolean times = c == 'x'
                    && text.substring(0, i).matches(".*[0-9] ")
                    && text.substring(i + 1).matches(" [0-9].*");
            boolean sign = (c == '-' || c == '+')
                    && i + 1 < text.length()
                    && Character.isDigit(text.charAt(i + 1))
                    && (i == 0 || text.charAt(i - 1) == ' ');
            boolean orEqual = (c == '<' || c == '>') && text.startsWith("=", i + 1);
            if (orEqual) {
                escaped.append(c == '<' ? "$\\le$" : "$\\ge$");
                i++;
            } else if (times) {
                escaped.append("$\\times$");
            } else if (sign) {
                escaped.append('$').append(c).append('$');
            } else if (c == '\u2007') {
                escaped.append("\\phantom{0}");
            } else if (c == '\u2008') {
                escaped.append("\\phantom{.}");
            } else {
                escaped.append(SPECIAL.getOrDefault(c, Character.toString(c)));
            }
        }
        return escaped.toString();
    }
}
