package keenfold.io.table;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.LeaveOneOut;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.export.CsvExport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

class GivenSplitsTest {
    @TempDir
    private Path folder;

    /** Twelve rows of which the file's second and last were left out: source rows 1, 3, 4 and so on. */
    private static DataSet data() {
        int[] source = IntStream.rangeClosed(1, 13).filter(i -> i != 2).toArray();
        int[] target = IntStream.range(0, 12).map(i -> i % 2).toArray();
        return DataSet.of(
                        "bees",
                        new Table(12, List.of()),
                        new Classes(List.of("a", "b"), 0),
                        target,
                        Optional.empty(),
                        source)
                .withOrder(Numbers.of(
                        "day", IntStream.range(0, 12).asDoubleStream().toArray()));
    }

    static Stream<Scheme> schemes() {
        return Stream.of(
                new KFold(4, 3, true),
                new LeaveOneOut(),
                new MonteCarlo(0.25, 4, true),
                new OutOfBag(5, false),
                new RollingOrigin(0.5, 0.2, 0.1, OptionalDouble.of(0.4)));
    }

    @ParameterizedTest
    @MethodSource("schemes")
    void exportedFoldsReadBackGiveTheSameSplits(Scheme scheme) throws IOException {
        Splits splits = scheme.divide(data(), 5);
        StringWriter csv = new StringWriter();
        Task task = Task.of(data(), splits, List.of(MetricName.parse("accuracy")));
        CsvExport.foldsOf(List.of(task), csv);
        Files.writeString(folder.resolve("folds.csv"), csv.toString());
        assertThat(GivenSplits.read(data(), "folds.csv", List.of(folder))).isEqualTo(splits);
    }

    /** Rows that count for several cases stand there once for each; one mention alone is for all of them. */
    @ParameterizedTest
    @MethodSource("schemes")
    void casesOfARowAreToldApart(Scheme scheme) throws IOException {
        int[] times = IntStream.range(0, 12).map(i -> 1 + i % 3).toArray();
        DataSet data = data().repeated(times);
        assertThat(data.rows()).isEqualTo(24);
        Splits splits = scheme.divide(data, 5);
        StringWriter csv = new StringWriter();
        CsvExport.foldsOf(List.of(Task.of(data, splits, List.of(MetricName.parse("accuracy")))), csv);
        Files.writeString(folder.resolve("folds.csv"), csv.toString());
        assertThat(GivenSplits.read(data, "folds.csv", List.of(folder))).isEqualTo(splits);

        StringBuilder once = new StringBuilder("row,repeat,fold\n");
        int middle = data().sourceRow(6);
        for (int row : data().sourceRows()) {
            once.append(row).append(",1,").append(row <= middle ? 1 : 2).append('\n');
        }
        Files.writeString(folder.resolve("folds.csv"), once);
        int[] foldOf = IntStream.range(0, 24)
                .map(i -> data.sourceRow(i) <= middle ? 0 : 1)
                .toArray();
        assertThat(GivenSplits.read(data, "folds.csv", List.of(folder)))
                .isEqualTo(Splits.partitions(new int[][] {foldOf}));
        Files.writeString(folder.resolve("folds.csv"), once.toString() + data().sourceRow(2) + ",1,2\n");
        assertThatThrownBy(() -> GivenSplits.read(data, "folds.csv", List.of(folder)))
                .hasMessageContaining("counts for 3 cases and stands here 2 times: expected once");
    }

    @Test
    void aColumnOfNumbersOfWordsOrOfSidesIsRead() {
        double[] numbers = IntStream.range(0, 12).mapToDouble(i -> 9 + i % 3).toArray();
        Splits three = GivenSplits.of(data(), Numbers.of("f", numbers));
        assertThat(three.folds(0)).isEqualTo(3);
        assertThat(three.foldOf(0, 1)).as("10 comes after 9").isEqualTo(1);
        String[] words = IntStream.range(0, 12)
                .mapToObj(i -> i == 0 ? null : i % 2 == 0 ? "x" : "y")
                .toArray(String[]::new);
        Splits two = GivenSplits.of(data(), Categories.of("f", words));
        assertThat(two.foldOf(0, 0))
                .as("a row without a fold is only trained on")
                .isEqualTo(-1);
        assertThat(two.folds(0)).isEqualTo(2);
        String[] sides =
                IntStream.range(0, 12).mapToObj(i -> i < 9 ? "train" : "test").toArray(String[]::new);
        Splits one = GivenSplits.of(data(), Categories.of("f", sides));
        assertThat(one.form()).isEqualTo(Splits.Form.SINGLE);
        assertThat(one.at(0, 0).test().toArray()).containsExactly(9, 10, 11);
        sides[0] = null;
        assertThat(GivenSplits.of(data(), Categories.of("f", sides))).isEqualTo(one);
    }

    @Test
    void aDataSetMayBeCalledByANumber() throws IOException {
        DataSet year =
                DataSet.of("2024", new Table(4, List.of()), new Classes(List.of("a", "b"), 0), new int[] {0, 1, 0, 1});
        Files.writeString(
                folder.resolve("folds.csv"),
                "dataset,row,repeat,fold\n2024,1,1,1\n2024,2,1,1\n2024,3,1,2\n2024,4,1,2\n2025,9,1,1\n");
        assertThat(GivenSplits.read(year, "folds.csv", List.of(folder)))
                .isEqualTo(Splits.partitions(new int[][] {{0, 0, 1, 1}}));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "row,repeat,fold;2,1,1|data row 1: row 2 is not among the 12 rows",
                "row,repeat,fold;1,1,1;1,1,1|data row 2: row 1 stands twice in repeat 1, fold 1",
                "row,repeat,fold;1,1,1;1,1,2|row 1 is tested in two folds of repeat 1",
                "row,repeat,fold;1,0,1|data row 1: repeat must be a whole number from 1",
                "row,repeat,fold;1,1,1.5|data row 1: fold must be a whole number from 1",
                "row,repeat;1,1|there is no column \"fold\"",
                "row,repeat,fold,part;1,1,1,tset|part \"tset\": expected train or test",
                "row,repeat,fold,part;1,1,1,test|repeat 1, fold 1: no row is left to train on",
                "dataset,row,repeat,fold;ants,1,1,1|no line is about data set \"bees\""
            })
    void whatCannotBeReadSaysWhere(String lines, String message) throws IOException {
        Files.writeString(folder.resolve("folds.csv"), lines.replace(';', '\n') + "\n");
        assertThatThrownBy(() -> GivenSplits.read(data(), "folds.csv", List.of(folder)))
                .isInstanceOf(InputException.class)
                .hasMessageContaining(message);
    }
}
