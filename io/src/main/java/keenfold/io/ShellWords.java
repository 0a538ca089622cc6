package keenfold.io;

/** Words of commands as a shell reads them. */
public final class ShellWords {
    private ShellWords() {}

    /** Returns a word that a POSIX shell takes as one: as it is, or in quotes where it needs them. */
    public static String quoted(String text) {
        return text.matches("[A-Za-z0-9_./:=@%+,-]+") ? text : always(text);
    }

    /** Returns a word in quotes, whatever it holds. */
    public static String always(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }
}
