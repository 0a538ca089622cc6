package keenfold.cli.console;

import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import keenfold.core.data.ValueException;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;

/** What options are read as: the one way from a {@link ValueException} to a line about the command line. */
public final class OptionValues {
    private OptionValues() {}

    /** Runs something whose complaints are about the options of a command. */
    public static <T> T checked(CommandSpec command, Supplier<T> made) {
        return checked(command, made, why -> why);
    }

    /**
     * Does the same in other words.
     *
     * @param words what is said, from what was complained of
     */
    public static <T> T checked(CommandSpec command, Supplier<T> made, UnaryOperator<String> words) {
        try {
            return made.get();
        } catch (ValueException e) {
            throw new ParameterException(command.commandLine(), words.apply(String.valueOf(e.getMessage())), e);
        }
    }
}
