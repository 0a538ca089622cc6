package keenfold.cli.console;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import keenfold.core.data.Checks;
import keenfold.io.InputException;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;

/** Only what was checked is told as a fault of the user's. */
class OptionValuesTest {
    @Command(name = "look")
    private static final class Look {}

    private static final CommandSpec SPEC = new CommandLine(new Look()).getCommandSpec();

    private static int refused() {
        throw Checks.wrong("folds = 1: expected at least 2");
    }

    @Test
    void whatWasCheckedBecomesALineAboutTheOptionOrTheFile() {
        assertThat(OptionValues.checked(SPEC, () -> 7)).isEqualTo(7);
        assertThatThrownBy(() -> OptionValues.checked(SPEC, OptionValuesTest::refused))
                .isInstanceOf(ParameterException.class)
                .hasMessage("folds = 1: expected at least 2");
        assertThatThrownBy(() -> InputException.at("plan.yaml, line 3", OptionValuesTest::refused))
                .isInstanceOf(InputException.class)
                .hasMessage("plan.yaml, line 3: folds = 1: expected at least 2");
    }

    @Test
    void aFaultOfTheProgramOrTheJdkStaysWhatItIs() {
        assertThatThrownBy(() -> OptionValues.checked(SPEC, () -> Integer.parseInt("seven")))
                .isInstanceOf(NumberFormatException.class);
        assertThatThrownBy(() -> InputException.at("plan.yaml", () -> new int[-1].length))
                .isInstanceOf(NegativeArraySizeException.class);
        assertThatThrownBy(() -> InputException.at("plan.yaml", () -> Thread.State.valueOf("ASLEEP")))
                .isExactlyInstanceOf(IllegalArgumentException.class);
    }
}
