package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class AdoptionTest {
    @TempDir
    private Path folder;

    private static final String SOUND =
            """
            row,repeat,fold,candidate,actual,p:ill,p:well
            7,1,1,mine,ill,0.75,0.25
            2,1,1,mine,well,0.5,0.5
            3,1,2,mine,ill,0.25,0.75
            9,1,2,mine,well,0,1
            2,1,1,other,well,0.25,0.75
            7,1,1,other,ill,1,0
            3,1,2,other,ill,0.5,0.5
            9,1,2,other,well,0.125,0.875
            """;

    private Path write(String name, String text) throws IOException {
        return Files.writeString(folder.resolve(name), text);
    }

    private Results adopted(String text, String... metrics) throws IOException {
        Path ledger = folder.resolve("l.kfl");
        Files.deleteIfExists(ledger);
        Adoption.adopt(
                List.of(write("p.csv", text)),
                ledger,
                Optional.empty(),
                List.of(metrics).stream().map(MetricName::parse).toList());
        return LedgerReader.read(ledger).results();
    }

    @Test
    void predictionsAreReadInAnyOrderOfLines() throws IOException {
        Results results = adopted(SOUND, "accuracy", "log-loss");
        assertThat(results.kept()).isEqualTo(Results.Kept.PROBABILITIES);
        assertThat(results.tasks().get(0).data().name()).isEqualTo("p");
        assertThat(results.tasks().get(0).data().sourceRows()).containsExactly(2, 3, 7, 9);
        assertThat(results.tasks().get(0).data().classes().labels()).containsExactly("ill", "well");
        assertThat(results.tasks().get(0).splits().form()).isEqualTo(Splits.Form.PARTITIONS);
        Fit first = results.fits().get(0);
        // Row 2 is a tie and goes to the first class, ill; row 7 is right.
        assertThat(first.result().orElseThrow().score(0)).isEqualTo(0.5);
        assertThat(first.result().orElseThrow().score(1))
                .isCloseTo(-(Math.log(0.5) + Math.log(0.75)) / 2, within(1e-12));
        assertThat(results.candidates()).extracting("name").containsExactly("mine", "other");
    }

    /** Every number is kept as it was written, also where those of a line sum to 1 but for rounding: ties stay ties. */
    @Test
    void numbersOfThreeClassesAreKeptAsTheyWereWritten() throws IOException {
        double third = 0.3333333333333333;
        Results results = adopted("row,candidate,actual,p:a,p:b,p:c\n"
                + "1,mine,c," + third + "," + third + "," + third + "\n"
                + "2,mine,a,0.6666666666666666," + third + ",0\n"
                + "3,mine,b,0.1,0.7,0.2\n"
                + "4,mine,c,0.333,0.333,0.333\n");
        var outcomes = results.fits().get(0).result().orElseThrow().outcomes();
        double[][] written = {
            {third, third, third}, {0.6666666666666666, third, 0}, {0.1, 0.7, 0.2}, {0.333, 0.333, 0.333}
        };
        for (int i = 0; i < written.length; i++) {
            for (int c = 0; c < 3; c++) {
                assertThat(outcomes.probability(i, c)).isEqualTo(written[i][c]);
            }
        }
        assertThat(outcomes.labels()).containsExactly(0, 0, 1, 0);
    }

    @Test
    void whatIsNoProbabilityIsRefusedWhereItStands() {
        assertThatThrownBy(() -> adopted("row,candidate,actual,p:a,p:b\n1,mine,a,1.0005,0\n2,mine,b,0,1\n"))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("line 2, column \"p:a\": 1.0005 is no probability: expected 0 to 1");
        assertThatThrownBy(() -> adopted("row,candidate,actual,p:a,p:b\n1,mine,a,1,0\n2,mine,b,0.4,0.598\n"))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("line 3, column \"p:a\": the probabilities of the line sum to 0.998");
    }

    @Test
    void labelsMayDifferFromTheMostProbableClass() throws IOException {
        String own = SOUND.lines()
                .map(l -> l.startsWith("row") ? l + ",predicted" : l + ",ill")
                .reduce("", (a, b) -> a + b + "\n");
        Results results = adopted(own, "recall:class=ill", "auc");
        assertThat(results.fits())
                .allSatisfy(f -> assertThat(f.result().orElseThrow().score(0)).isEqualTo(1));
        assertThat(results.fits().get(1).result().orElseThrow().outcomes().labels())
                .containsExactly(0, 0);
    }

    @Test
    void labelsAloneAllowMetricsOfLabels() throws IOException {
        String labels = "row,candidate,actual,predicted\n1,a,x,x\n2,a,y,x\n3,a,y,y\n1,b,x,y\n2,b,y,y\n3,b,y,y\n";
        Results results = adopted(labels);
        assertThat(results.kept()).isEqualTo(Results.Kept.LABELS);
        assertThat(results.tasks().get(0).splits().form()).isEqualTo(Splits.Form.SINGLE);
        assertThat(results.fits().get(0).result().orElseThrow().score(0)).isCloseTo(2 / 3.0, within(1e-15));
        assertThatThrownBy(() -> adopted(labels, "auc"))
                .hasMessageContaining("auc needs probabilities, columns p:CLASS");
    }

    @Test
    void scoresAloneAreKeptAsTheyAre() throws IOException {
        Results results = adopted("dataset,candidate,repeat,fold,metric,value\n"
                + "d,a,1,1,accuracy,0.5\nd,a,1,2,accuracy,0.75\nd,b,1,1,accuracy,\nd,b,1,2,accuracy,1\n");
        assertThat(results.kept()).isEqualTo(Results.Kept.SCORES);
        assertThat(results.fits().get(1).result().orElseThrow().score(0)).isEqualTo(0.75);
        assertThat(results.fits().get(2).result().orElseThrow().score(0)).isNaN();
        assertThat(results.tasks().get(0).splits().mostFolds()).isEqualTo(2);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "7,1,1,mine,ill,0.75,0.25 | 7,1,1,mine,ill,0.75,0.5 | line 2, column \"p:ill\": the probabilities of the line sum to 1.25",
                "9,1,2,other,well,0.125,0.875 | 8,1,2,other,well,0.125,0.875 | line 9, column \"row\": row 8 is predicted by \"other\" in repeat 1, fold 2, but not there by \"mine\"",
                "9,1,2,other,well,0.125,0.875 | 3,1,2,other,ill,0.5,0.5 | line 9, column \"row\": row 3 is predicted twice by \"other\" in repeat 1, first on line 8",
                "3,1,2,other,ill,0.5,0.5 | 3,1,2,other,well,0.5,0.5 | line 8, column \"actual\": row 3 is of class \"well\" here, and \"ill\" further up",
                "2,1,1,mine,well,0.5,0.5 | x,1,1,mine,well,0.5,0.5 | line 3, column \"row\": \"x\" is no whole number from 1",
                "2,1,1,mine,well,0.5,0.5 | 2,1,0,mine,well,0.5,0.5 | line 3, column \"fold\": \"0\" is no whole number from 1",
                "2,1,1,mine,well,0.5,0.5 | 2,1,1,mine,well,1.5,-0.5 | line 3, column \"p:ill\": 1.5 is no probability",
                "2,1,1,mine,well,0.5,0.5 | 2,1,1,mine,well,half,0.5 | line 3, column \"p:ill\": \"half\" is not a number",
                "9,1,2,other,well,0.125,0.875 | 9,1,1,other,well,0.125,0.875 | but not there by \"mine\"",
                "p:well | q:well | is empty",
            })
    void complaintsNameTheirLine(String before, String after, String complaint) {
        String text = SOUND.replace(before, after);
        if (after.equals("q:well")) {
            assertThatThrownBy(() -> adopted(text)).isInstanceOf(InputException.class);
            return;
        }
        assertThatThrownBy(() -> adopted(text))
                .isInstanceOf(InputException.class)
                .hasMessageContaining(complaint);
        assertThat(folder.resolve("l.kfl")).doesNotExist();
    }

    @Test
    void tablesThatAreNoPredictionsAreRefused() throws IOException {
        assertThatThrownBy(() -> adopted("a,b\n1,2\n")).hasMessageContaining("column \"row\" is missing");
        assertThatThrownBy(() -> adopted("")).hasMessageContaining("holds no line below its header");
        assertThatThrownBy(() -> adopted("candidate,metric,value\na,accurcy,1\n"))
                .hasMessageContaining("line 2, column \"metric\": metric \"accurcy\" is not known");
        assertThatThrownBy(() -> adopted("candidate,metric,value\na,auc,1\na,auc,2\n"))
                .hasMessageContaining("there are two values of auc for \"a\"");
    }

    @Test
    void candidatesAreAddedWhereRowsAndFoldsAreTheSame() throws IOException {
        Path ledger = folder.resolve("l.kfl");
        adopted(SOUND, "accuracy");
        Path third = write(
                "third.csv",
                SOUND.lines()
                        .filter(l -> !l.contains("other"))
                        .map(l -> l.replace("mine", "third"))
                        .reduce("", (a, b) -> a + b + "\n"));
        Adoption.adopt(List.of(third), ledger, Optional.empty(), List.of());
        Results results = LedgerReader.read(ledger).results();
        assertThat(results.candidates()).extracting("name").containsExactly("mine", "other", "third");
        assertThat(results.fits()).hasSize(6);
        assertThat(results.fits().get(4).result().orElseThrow().scores())
                .isEqualTo(results.fits().get(0).result().orElseThrow().scores());
        assertThatThrownBy(() -> Adoption.adopt(List.of(third), ledger, Optional.empty(), List.of()))
                .hasMessageContaining("a candidate called \"third\" is in");
        Path otherFolds = write(
                "f.csv", Files.readString(third).replace("third", "fourth").replace("7,1,1", "7,1,2"));
        assertThatThrownBy(() -> Adoption.adopt(List.of(otherFolds), ledger, Optional.empty(), List.of()))
                .hasMessageContaining("tested in other folds than before");
        Path otherRows =
                write("r.csv", Files.readString(third).replace("third", "fifth").replace("\n7,", "\n8,"));
        assertThatThrownBy(() -> Adoption.adopt(List.of(otherRows), ledger, Optional.empty(), List.of()))
                .hasMessageContaining("has other rows or classes than before");
    }
}
