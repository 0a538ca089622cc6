package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the catalog lists can be asked for, and what can be asked for is listed. */
class CatalogIT {
    @TempDir
    private Path folder;

    @Test
    void everyClassifierAndMetricOfTheCatalogRuns() throws Exception {
        Program program = new Program(folder);
        JsonNode all = program.run("catalog", "--json").expect(0).json();
        StringBuilder candidates = new StringBuilder();
        for (JsonNode classifier : all.get("classifiers")) {
            assertThat(classifier.get("source").asText()).isNotEmpty();
            assertThat(classifier.get("size").asText()).isNotEmpty();
            String name = classifier.get("name").asText();
            candidates.append("  ").append(name).append(": {classifier: ").append(name);
            for (JsonNode setting : classifier.get("settings")) {
                String key = setting.get("name").asText();
                String preset = setting.get("preset").asText();
                // Settings without a preset are lists; what says nothing to the presets beside it is refused.
                if (key.equals("run")) {
                    candidates.append(", run: [sh, -c, '(echo yes,no; sed 1d test.csv | sed s/.*/0.3,0.7/) >"
                            + " probabilities.csv']");
                } else if (key.equals("members")) {
                    candidates.append(", members: [majority, tree]");
                } else if (!preset.equals("none") && !key.equals("mix") && !key.equals("degree")) {
                    candidates.append(", ").append(key).append(": ").append(preset);
                }
            }
            candidates.append("}\n");
        }
        List<String> metrics = new ArrayList<>();
        for (JsonNode metric : all.get("metrics")) {
            String name = metric.get("name").asText();
            // Those that need a number say so; of two classes one is among the most probable.
            metrics.add(metric.get("definition").asText().contains("asked for as " + name + "=") ? name + "=1" : name);
        }
        assertThat(metrics).contains("auc", "log-loss", "top-k=1").hasSizeGreaterThan(8);
        Files.writeString(
                folder.resolve("p.yaml"),
                "keenfold: 1\ndata: [{file: " + Program.DEMO.resolve("swarm.csv")
                        + ", target: swarmed, positive: yes}]\n"
                        + "splits: {folds: 3, repeats: 1}\ncosts: {yes: {no: 2}, else: 1}\nmetrics: " + metrics
                        + "\ncandidates:\n" + candidates);
        program.run("run", "p.yaml", "-o", "l.kfl", "--allow-commands").expect(0);
        List<String> steps = new ArrayList<>();
        all.get("steps").forEach(s -> steps.add(s.get("name").asText()));
        assertThat(steps)
                .contains("fill", "one-hot", "standardise", "strongest")
                .hasSize(18);
        assertThat(all.get("steps")
                        .get(steps.indexOf("strongest"))
                        .get("learns_from_the_target")
                        .asText())
                .isEqualTo("yes");
        assertThat(all.get("splits")).hasSize(8);
    }

    @Test
    void oneSectionOrOneThingIsShownAndAMisspeltOneNamed() throws Exception {
        Program program = new Program(folder);
        Program.Outcome whole = program.run("catalog").expect(0);
        assertThat(whole.out().lines()).allMatch(l -> l.length() <= 100);
        assertThat(whole.out()).contains("\nclassifiers\n".strip(), "\nrules\n", "rolling-origin: trains only on what");
        assertThat(program.run("catalog", "rules").expect(0).out())
                .startsWith("rules\n\none-se: ")
                .doesNotContain("tree");
        assertThat(program.run("catalog", "nearest").expect(0).out())
                .contains("- neighbours: how many nearest training rows vote (a whole number from 1 to 1000000; 5 if")
                .doesNotContain("majority");
        assertThat(program.run("catalog", "neerest").expect(2).err()).contains("the nearest is \"nearest\"");
    }
}
