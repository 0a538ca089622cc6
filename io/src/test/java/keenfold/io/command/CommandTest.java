package keenfold.io.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import keenfold.core.classify.Model;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What passes between Keen Fold and a program, and what becomes of programs that do not do as they should. */
class CommandTest {
    @TempDir
    private Path folder;

    private static final Table COLUMNS = new Table(
            3,
            List.of(
                    Numbers.of("class", new double[] {0.1, Double.NaN, -2e-300}),
                    Categories.of("bloom, or not", "lime", null, "say \"heather\"")));

    private static Training training() {
        DataSet data = DataSet.of("d", COLUMNS, new Classes(List.of("no", "yes", "µ"), 0), new int[] {1, 0, 1});
        return Training.of(data, new double[] {1, 2, 1});
    }

    private Model shell(String script) {
        return new CommandClassifier(List.of("sh", "-c", script), new Programs(Optional.of(folder), true))
                .fit(training(), new Seed(1).chance());
    }

    @Test
    void aProgramIsHandedTrainingRowsTestRowsAndWhatTheyAre() throws IOException {
        shell("cp * '" + folder + "'; printf 'yes,no,µ\\n0.2,0.8,0\\n1,0,0\\n0.25,0.5005,.25\\n' > probabilities.csv")
                .probabilities(COLUMNS);
        assertThat(Files.readString(folder.resolve("train.csv")))
                .isEqualTo("class,weight,class,\"bloom, or not\"\nyes,1,0.1,lime\nno,2,,\nyes,1,-2E-300,\"say"
                        + " \"\"heather\"\"\"\n");
        assertThat(Files.readString(folder.resolve("test.csv")))
                .isEqualTo("class,\"bloom, or not\"\n0.1,lime\n,\n-2E-300,\"say \"\"heather\"\"\"\n");
        assertThat(Files.readString(folder.resolve("about.json")))
                .matches(
                        "\\{\"keenfold\":1,\"task\":\"fit\",\"classes\":\\[\"no\",\"yes\",\"µ\"],\"columns\":\\[\\{\"name\":\"class\","
                                + "\"kind\":\"number\"},\\{\"name\":\"bloom, or not\",\"kind\":\"category\"}],\"train_rows\":3,"
                                + "\"test_rows\":3,\"seed\":[0-9]+}");
    }

    @Test
    void whatIsHandedBackIsPutIntoTheOrderOfClassesAndKeptAsItStands() {
        // The class without training rows is left out.
        double[] p = shell("printf 'yes,no\\n0.2,0.8\\n1,0\\n0.4995,0.5\\n' > probabilities.csv")
                .probabilities(COLUMNS);
        assertThat(p).containsExactly(0.8, 0.2, 0, 0, 1, 0, 0.5, 0.4995, 0);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            exit 3                                                  | ended with code 3
            kill -9 $$                                              | ended with code 137
            true                                                    | wrote no probabilities.csv
            printf 'yes,no\\n1,0\\n1,0\\n' > probabilities.csv      | has 2 rows for the 3 of test.csv
            printf 'yes,no\\n1,0\\n1,0\\n1,0\\n1,0\\n' > probabilities.csv | has more rows than the 3 of test.csv
            printf 'yes,yes,no\\n' > probabilities.csv              | names class "yes" twice
            printf 'yes\\n1\\n1\\n1\\n' > probabilities.csv         | names class "no" nowhere
            printf 'yess,no\\n' > probabilities.csv                 | which is no class; the nearest is "yes"
            printf 'yes,no\\n0.4,0.5\\n' > probabilities.csv        | line 2: the probabilities sum to 0.9
            printf 'yes,no\\n1,0\\nNaN,1\\n' > probabilities.csv    | line 3: NaN is no probability
            printf 'yes,no\\n1,0\\n2,-1\\n' > probabilities.csv     | line 3: 2 is no probability
            printf 'yes,no\\n1,maybe\\n' > probabilities.csv        | line 2: "maybe" is no number
            printf 'yes,no\\n1,0,0\\n' > probabilities.csv          | 3 fields under a header of 2
            printf 'yes,no\\n\\377,0\\n' > probabilities.csv        | not UTF-8
            : > probabilities.csv                                   | has 0 rows
            mkdir probabilities.csv                                 | wrote no probabilities.csv
            """)
    void nonsenseIsAFailedFitThatSaysWhereAndKeepsStandardError(String script, String reason) {
        assertThatThrownBy(() -> shell("echo first >&2; echo why >&2; " + script.replace("\\\\", "\\"))
                        .probabilities(COLUMNS))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining(reason)
                .hasMessageEndingWith("\nstandard error:\nfirst\nwhy");
    }

    @Test
    void aProgramThatIsNotThereIsAFailedFit() {
        Model model = new CommandClassifier(List.of("./nowhere"), new Programs(Optional.of(folder), true))
                .fit(training(), new Seed(1).chance());
        assertThatThrownBy(() -> model.probabilities(COLUMNS))
                .isInstanceOf(FitFailure.class)
                .hasMessageStartingWith("./nowhere cannot be started: ");
    }

    @Test
    void whatIsNotAllowedIsNotStarted() {
        Path marker = folder.resolve("marker");
        Model model = new CommandClassifier(
                        List.of("touch", marker.toString()), new Programs(Optional.of(folder), false))
                .fit(training(), new Seed(1).chance());
        assertThatThrownBy(() -> model.probabilities(COLUMNS))
                .isInstanceOf(keenfold.io.InputException.class)
                .hasMessageContaining("run the plan with --allow-commands");
        assertThat(marker).doesNotExist();
    }

    @Test
    void whatAProgramNeverStopsSayingIsNeitherKeptNorWaitedFor() {
        assertThatThrownBy(() -> shell("yes xxxxxxxxx | head -c 20000000 | tr -d '\\n' >&2; echo last >&2; exit 4")
                        .probabilities(COLUMNS))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("ended with code 4\nstandard error: (its end)\nxxx")
                .hasMessageEndingWith("x" + "last")
                .satisfies(e -> assertThat(e.getMessage()).hasSizeLessThan(4400));
    }

    /** A child that made itself independent, and whose parent is gone, ends with the program all the same. */
    @Test
    void aChildInASessionOfItsOwnEndsToo() throws Exception {
        org.junit.jupiter.api.Assumptions.assumeTrue(
                Files.isDirectory(Path.of("/proc/self")) && Files.isExecutable(Path.of("/usr/bin/setsid")));
        Path child = folder.resolve("child");
        shell("setsid sh -c '(sleep 300 & echo $! > " + child + ") ' & wait; until [ -s " + child
                        + " ]; do sleep 0.1; done;" + " printf 'yes,no\n1,0\n1,0\n1,0\n' > probabilities.csv")
                .probabilities(COLUMNS);
        long pid = Long.parseLong(lines(child).get(0));
        Optional<ProcessHandle> left = ProcessHandle.of(pid);
        if (left.isPresent()) {
            left.get().onExit().get(600, java.util.concurrent.TimeUnit.SECONDS);
        }
        assertThat(ProcessHandle.of(pid).filter(ProcessHandle::isAlive)).isEmpty();
    }

    @Test
    void anInterruptedProgramEndsWithItsChildrenAndLeavesNoFolder() throws Exception {
        Path children = folder.resolve("children");
        Path place = folder.resolve("place");
        Model model = shell("pwd > '" + place + "'; (sleep 300 & echo $! >> '" + children
                + "'; sleep 300) & sleep 300 &" + " echo $! >> '" + children + "'; sleep 300");
        Thread fit = new Thread(() -> {
            try {
                model.probabilities(COLUMNS);
            } catch (FitFailure e) {
                // What is looked at is what it leaves behind.
            }
        });
        fit.start();
        for (int i = 0; i < 30_000 && lines(children).size() < 2; i++) {
            Thread.sleep(20);
        }
        List<ProcessHandle> started = lines(children).stream()
                .flatMap(pid -> ProcessHandle.of(Long.parseLong(pid)).stream())
                .toList();
        assertThat(started).hasSize(2).allMatch(ProcessHandle::isAlive);
        fit.interrupt();
        fit.join();
        for (ProcessHandle child : started) {
            child.onExit().get(600, java.util.concurrent.TimeUnit.SECONDS);
        }
        assertThat(Path.of(lines(place).get(0))).doesNotExist();
    }

    private static List<String> lines(Path file) throws IOException {
        if (!Files.exists(file)) {
            return List.of();
        }
        try (Stream<String> lines = Files.lines(file)) {
            return lines.filter(l -> !l.isBlank()).toList();
        }
    }
}
