package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import javax.tools.ToolProvider;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The plug-in of the manual, compiled against the built program and put beside it. */
class PlugInIT {
    private static final String SERVICE = "META-INF/services/keenfold.core.classify.MoreClassifiers";

    @TempDir
    private Path folder;

    @Test
    void theExampleOfTheManualIsListedAndCompared() throws Exception {
        String manual = Files.readString(Program.ROOT.resolve("docs/plug-ins.md"));
        int from = manual.indexOf("```java\n") + "```java\n".length();
        Path source = folder.resolve("Middles.java");
        Files.writeString(source, manual.substring(from, manual.indexOf("```", from)));
        Path classes = folder.resolve("classes");
        Files.createDirectories(classes.resolve(SERVICE).getParent());
        Files.writeString(classes.resolve(SERVICE), "apiary.Middles\n");
        int code = ToolProvider.getSystemJavaCompiler()
                .run(
                        null,
                        null,
                        null,
                        "-cp",
                        System.getProperty("keenfold.jar"),
                        "-d",
                        classes.toString(),
                        source.toString());
        assertThat(code).isZero();
        Program program = new Program(folder).beside(classes);
        assertThat(program.run("catalog", "middles").expect(0).out())
                .contains("the class whose mean row is nearest", "sharpness: how fast probability falls");
        program.run(
                        "compare",
                        Program.DEMO.resolve("hives.csv").toString(),
                        "--target",
                        "wintered",
                        "--folds",
                        "3",
                        "--repeats",
                        "2",
                        "--seed",
                        "1",
                        "--try",
                        "majority",
                        "--try",
                        "middles sharpness=0.1,1",
                        "-o",
                        "l.kfl")
                .expect(0);
        assertThat(program.run("scores", "l.kfl", "--draws", "200").expect(0).out())
                .contains("middles/0.1", "middles/1");
        // What it learned is kept by its own hands, and is the same when it is read again.
        program.run("train", "l.kfl", "--candidate", "middles/1", "-o", "m.kfm", "--data", Program.DEMO.toString())
                .expect(0);
        Files.copy(Program.DEMO.resolve("hives.csv"), folder.resolve("hives.csv"));
        assertThat(program.run("predict", "m.kfm", "hives.csv").expect(0).out().lines())
                .hasSize(641);
        assertThat(program.run("show", "m.kfm").expect(0).out()).contains("sharpness  1");
        assertThat(new Program(folder)
                        .run("predict", "m.kfm", "hives.csv")
                        .expect(3)
                        .said())
                .contains("it is of a classifier \"middles\", which is not there");
        // Without it the ledger says what is missing.
        Program without = new Program(folder);
        assertThat(without.run("scores", "l.kfl").expect(3).said()).contains("classifier \"middles\" is not known");
        // Once it is out of the plan, nobody needs it but who asks for what is not in the plan any more.
        program.run("export", "l.kfl", "--what", "plan", "-o", "p.yaml").expect(0);
        Files.writeString(
                folder.resolve("p.yaml"),
                Files.readString(folder.resolve("p.yaml"))
                        .replaceAll("(?m)^  middles: .*\n", "  logit: {classifier: logistic}\n"));
        assertThat(program.run("run", "p.yaml", "-o", "l.kfl", "--data", Program.DEMO.toString())
                        .expect(0)
                        .said())
                .contains("not in the plan any more: middles/0.1@1");
        assertThat(without.run("scores", "l.kfl", "--draws", "200").expect(0).out())
                .contains("logit");
        assertThat(without.run("history", "l.kfl").expect(0).out()).contains("middles/0.1@1");
        without.run("run", "p.yaml", "-o", "l.kfl", "--data", Program.DEMO.toString())
                .expect(0);
        assertThat(without.run("scores", "l.kfl", "--with-former").expect(3).said())
                .contains("classifier \"middles\" is not known");
        without.run("forget", "l.kfl", "--former").expect(0);
        assertThat(without.run("scores", "l.kfl", "--with-former", "--draws", "200")
                        .expect(0)
                        .out())
                .contains("logit");
    }

    @Test
    void aPlugInThatDoesNotLoadIsNamed() throws Exception {
        Path classes = folder.resolve("classes");
        Files.createDirectories(classes.resolve(SERVICE).getParent());
        Files.writeString(classes.resolve(SERVICE), "apiary.Gone\n");
        assertThat(new Program(folder).beside(classes).run("catalog").expect(3).said())
                .contains("a plug-in cannot be loaded")
                .contains("apiary.Gone");
    }
}
