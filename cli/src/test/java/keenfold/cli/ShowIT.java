package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;

/** A model shown, drawn, and handed to other programs, through the built program. */
class ShowIT {
    @TempDir
    private static Path folder;

    @BeforeAll
    static void train() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                seed: 5
                candidates:
                  bush: {classifier: tree, depth: 3, pruning: 0, smoothing: 0}
                  near: {classifier: nearest, neighbours: 5}
                """);
        for (String name : new String[] {"bush", "near"}) {
            program()
                    .run("train", "plan.yaml", "--candidate", name, "-o", name + ".kfm", "--quiet")
                    .expect(0);
        }
    }

    private static Program program() {
        return new Program(folder);
    }

    @Test
    void aTreeIsShownAsRulesThatAddUp() throws Exception {
        Program.Outcome shown = program().run("show", "bush.kfm").expect(0);
        assertThat(shown.out())
                .startsWith("swarm: bush\ntree (depth 3, pruning 0, smoothing 0), size ")
                .contains("tells swarmed: no, yes (positive)");
        assertThat(shown.out().lines()).allSatisfy(l -> assertThat(l.length()).isLessThanOrEqualTo(100));
        JsonNode document =
                program().run("show", "bush.kfm", "--json").expect(0).json();
        assertThat(document.get("classifier").asText()).isEqualTo("tree");
        JsonNode rules = document.get("parts").get(2).get("rows");
        int leaves = 0;
        for (JsonNode rule : rules) {
            leaves += rule.get("leaf").asText().isEmpty() ? 0 : rule.get("rows").asInt();
            assertThat(rule.get("no").asDouble() + rule.get("yes").asDouble()).isEqualTo(1);
        }
        assertThat(leaves).isEqualTo(96).isEqualTo(rules.get(0).get("rows").asInt());
        assertThat(rules.get(1).get("depth").asInt()).isEqualTo(1);
        assertThat(document.get("parts").get(0).get("rows")).hasSize(5);
    }

    /** The rules of a tree keep their depth, and all that stands in the text stands in the tables. */
    @Test
    void whatWasLearnedIsTabledForAPaper() throws Exception {
        String text = new Program(folder).run("show", "bush.kfm").expect(0).out();
        String latex =
                new Program(folder).run("show", "bush.kfm", "--latex").expect(0).out();
        String markdown = new Program(folder)
                .run("show", "bush.kfm", "--markdown")
                .expect(0)
                .out();
        assertThat(latex)
                .startsWith("% needs \\usepackage{booktabs}")
                .contains("\\midrule\n", "\\phantom{0}\\phantom{0}");
        // Each line of the rules is a row, its cells the same.
        List<List<String>> rows = markdown.lines()
                .filter(l -> l.startsWith("| "))
                .map(l -> Stream.of(l.replace("\\", "").split("\\|", -1))
                        .map(c -> c.replace('\u2007', ' ').strip())
                        .filter(c -> !c.isEmpty())
                        .toList())
                .toList();
        List<List<String>> rules = text.lines()
                .filter(l -> l.startsWith("  ") && l.matches(".* (>|<=|is) .*0\\.\\d{3}.*"))
                .map(l -> List.of(l.strip().split(" {2,}", -1)))
                .toList();
        assertThat(rules).hasSizeGreaterThan(5);
        assertThat(rows).containsAll(rules);
        assertThat(new Program(folder)
                        .run("show", "bush.kfm", "--figure", "t.svg", "--latex")
                        .expect(2)
                        .said())
                .contains("--figure draws into a file and prints nothing; leave it out, or --latex");
        String rule = text.lines()
                .filter(l -> l.startsWith("  ") && l.contains(" > "))
                .findFirst()
                .orElseThrow();
        String bare = rule.stripLeading();
        String column = bare.split(" ", -1)[0];
        assertThat(markdown)
                .contains("| " + "\u2007".repeat(rule.length() - bare.length()) + column.replace("_", "\\_") + " \\> ");
    }

    @Test
    void aTreeIsDrawn() throws Exception {
        program().run("show", "bush.kfm", "--figure", "t.svg").expect(0);
        String svg = Files.readString(folder.resolve("t.svg"));
        String rule = program()
                .run("show", "bush.kfm", "--json")
                .expect(0)
                .json()
                .get("parts")
                .get(2)
                .get("rows")
                .get(1)
                .get("rule")
                .asText();
        assertThat(svg).contains(rule.replace("<", "&lt;").replace(">", "&gt;"), "96 rows");
        program().run("show", "bush.kfm", "--figure", "t.png", "--width", "900").expect(0);
        byte[] png = Files.readAllBytes(folder.resolve("t.png"));
        assertThat(new String(png, 1, 3, java.nio.charset.StandardCharsets.US_ASCII))
                .isEqualTo("PNG");
        assertThat(((png[18] & 0xFF) << 8) + (png[19] & 0xFF)).isEqualTo(1800);
        assertThat(program()
                        .run("show", "bush.kfm", "--figure", "t.gif")
                        .expect(2)
                        .err())
                .contains("expected a name that ends in .svg, .pdf or .png");
        assertThat(program()
                        .run("show", "near.kfm", "--figure", "n.svg")
                        .expect(3)
                        .err())
                .contains("holds a classifier nearest, and only a tree can be drawn");
        assertThat(program().run("show", "swarm.csv").expect(3).err())
                .contains("swarm.csv: is no model, as train makes one; it looks like a table");
    }

    @Test
    void aModelIsExportedWhereTheStandardHasAForm() throws Exception {
        program().run("export", "bush.kfm", "--what", "pmml", "-o", "bush.pmml").expect(0);
        DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
        factory.setNamespaceAware(true);
        Document document =
                factory.newDocumentBuilder().parse(folder.resolve("bush.pmml").toFile());
        assertThat(document.getDocumentElement().getNamespaceURI()).isEqualTo("http://www.dmg.org/PMML-4_4");
        assertThat(document.getElementsByTagName("TreeModel").getLength()).isEqualTo(1);
        String out =
                program().run("export", "bush.kfm", "--what", "pmml").expect(0).out();
        assertThat(out).isEqualTo(Files.readString(folder.resolve("bush.pmml")));
        Program.Outcome refused = program()
                .run("export", "near.kfm", "--what", "pmml", "-o", "near.pmml")
                .expect(3);
        assertThat(refused.err()).contains("near.kfm: nearest has no form in PMML");
        assertThat(folder.resolve("near.pmml")).doesNotExist();
        assertThat(new Program(folder).unfinished()).isEmpty();
    }
}
