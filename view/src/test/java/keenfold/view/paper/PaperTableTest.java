package keenfold.view.paper;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.Result;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;
import org.junit.jupiter.api.Test;

class PaperTableTest {
    private record Line(String set, String name, double value, double se, double change) {}

    private static Result result(Line... lines) {
        ResultTable table = ResultTable.<Line>define()
                .name("dataset", Line::set)
                .programs()
                .name("candidate", Line::name)
                .number("mean", ValueKind.MEAN, Line::value)
                .error("se")
                .number("se", ValueKind.DEVIATION, Line::se)
                .number("change", ValueKind.fixed(1), Line::change)
                .text("", l -> "")
                .people()
                .of(List.of(lines), l -> l.name().equals("b_2"));
        return new Result() {
            @Override
            public ResultTable table() {
                return table;
            }

            @Override
            public Map<String, Object> document() {
                return Map.of();
            }

            @Override
            public List<Notice> notices() {
                return List.of();
            }
        };
    }

    private static final Result TWO_SETS = result(
            new Line("one & two", "a|b <i>", 0.5, 0.012, -1.5),
            new Line("one & two", "b_2", 0.25, 0.0012, 2),
            new Line("three", "100%", Double.NaN, 0.012, 0));

    @Test
    void markdownHasOneTableForEachDataSetAndNumbersInLine() {
        assertThat(PaperTables.markdown(TWO_SETS))
                .isEqualTo(
                        """
                **one & two**

                | candidate | mean | se | change |
                | :-- | --: | --: | --: |
                | a\\|b \\<i\\> | 0.500\u2007 | 0.012\u2007 | −1.5 |
                | **b\\_2** | **0.2500** | **0.0012** | **2.0** |

                **three**

                | candidate | mean | se | change |
                | :-- | --: | --: | --: |
                | 100% | - | 0.012 | 0.0 |
                """);
    }

    @Test
    void latexEscapesWhatItWouldTakeForItsOwn() {
        assertThat(PaperTables.latex(TWO_SETS))
                .startsWith(
                        """
                        % needs \\usepackage{booktabs}; made by Keen Fold
                        \\begin{table}
                        \\centering
                        \\caption{one \\& two.}
                        \\label{tab:one-two}
                        \\vspace{0.6ex}
                        \\begin{tabular}{lrrr}
                        \\toprule
                        candidate & mean & se & change \\\\
                        \\midrule
                        a$|$b $<$i$>$ & 0.500\\phantom{0} & 0.012\\phantom{0} & $-$1.5 \\\\
                        \\textbf{b\\_2} & \\textbf{0.2500} & \\textbf{0.0012} & \\textbf{2.0} \\\\
                        \\bottomrule
                        \\end{tabular}
                        \\end{table}
                        """)
                .contains("100\\% & - & 0.012 & 0.0 \\\\")
                .contains("\\caption{three.}");
        // Every brace that is opened is closed.
        String text = PaperTables.latex(TWO_SETS).replaceAll("\\\\[{}]", "");
        assertThat(text.chars().filter(c -> c == '{').count())
                .isEqualTo(text.chars().filter(c -> c == '}').count());
    }
}
