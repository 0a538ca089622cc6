package keenfold.view.text;

/** Emphasis on a terminal that shows it. */
public final class Ink {
    private final boolean on;

    private Ink(boolean on) {
        this.on = on;
    }

    /** Returns ink that emphasises, or ink that leaves text as it is. */
    public static Ink of(boolean on) {
        return new Ink(on);
    }

    /** Whether four bytes are one of the sequences that begin or end emphasis. */
    public static boolean isEmphasis(byte[] bytes) {
        return bytes[0] == 0x1B && bytes[1] == '[' && bytes[2] >= '0' && bytes[2] <= '2' && bytes[3] == 'm';
    }

    /** Returns what stands out: titles, the pick. */
    public String strong(String text) {
        return on ? "\u001B[1m" + text + "\u001B[0m" : text;
    }

    /** Returns what stands back: explanations. */
    public String quiet(String text) {
        return on ? "\u001B[2m" + text + "\u001B[0m" : text;
    }
}
