package keenfold.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import keenfold.io.InputException;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A program that names the wrong file loses nothing. */
class StudyFilesTest {
    private static final String PLAN =
            """
            keenfold: 1
            data: [{file: swarm.csv, target: swarmed, positive: yes}]
            splits: {scheme: k-fold, folds: 3, repeats: 2, stratified: true}
            seed: 7
            metrics: [accuracy]
            candidates: {guess: {classifier: majority}, tree: {classifier: tree, depth: 2}}
            evidence: {draws: 100}
            """;

    private static void refused(Path file, ThrowingCallable call, String why) throws IOException {
        byte[] before = Files.readAllBytes(file);
        assertThatThrownBy(call)
                .isInstanceOf(InputException.class)
                .hasMessageContaining(file.toString())
                .hasMessageContaining(why);
        assertThat(file).hasBinaryContent(before);
    }

    @Test
    void noInputAndNoStrangersFileIsReplaced(@TempDir Path folder) throws IOException {
        Path data = Files.copy(Path.of("../demo/swarm.csv"), folder.resolve("swarm.csv"));
        Path plan = Files.writeString(folder.resolve("swarm.yaml"), PLAN);
        Path ledger = folder.resolve("swarm.kfl");
        Path notes = Files.writeString(folder.resolve("notes.txt"), "colony 12 is weak");
        Path page = Files.writeString(folder.resolve("report.html"), "<p>colony 12</p>");
        String read = "is read by this very command";

        refused(plan, () -> Study.run(plan, plan), read);
        refused(data, () -> Study.run(plan, data), read);

        Study study = Study.run(plan, ledger);
        refused(ledger, () -> study.train(ledger), read);
        refused(data, () -> study.train(data), read);
        refused(notes, () -> study.train(notes), "is not a model");
        refused(page, () -> study.report(folder), "is not a report");
        assertThat(folder.resolve("figures")).doesNotExist();

        Path model = folder.resolve("swarm.kfm");
        study.train(model);
        study.train(model);
        assertThat(model).isNotEmptyFile();
    }
}
