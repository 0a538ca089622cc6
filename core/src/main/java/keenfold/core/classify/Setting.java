package keenfold.core.classify;

import java.util.List;
import java.util.Locale;
import keenfold.core.data.Checks;

/**
 * A setting of a classifier: its name, what values it takes and what it means.
 *
 * @param name as plans write it
 * @param type what values it takes
 * @param preset the value where the plan names none
 * @param least the least value of a number
 * @param words the values of a word
 * @param simpler in which direction a candidate becomes simpler
 * @param meaning one line
 */
public record Setting(
        String name, Type type, String preset, double least, List<String> words, Simpler simpler, String meaning) {
    /** The type of a setting's values. */
    public enum Type {
        /** A whole number. */
        WHOLE,
        /** A number. */
        NUMBER,
        /** One of some words. */
        WORD
    }

    /** In which direction of a setting a candidate becomes simpler. */
    public enum Simpler {
        /** Higher values are simpler. */
        HIGHER,
        /** Lower values are simpler. */
        LOWER,
        /** Neither is. */
        NEITHER
    }

    /** Copies the words. */
    public Setting {
        words = List.copyOf(words);
    }

    static Setting whole(String name, int preset, int least, Simpler simpler, String meaning) {
        return new Setting(name, Type.WHOLE, Integer.toString(preset), least, List.of(), simpler, meaning);
    }

    static Setting number(String name, String preset, double least, Simpler simpler, String meaning) {
        return new Setting(name, Type.NUMBER, preset, least, List.of(), simpler, meaning);
    }

    static Setting word(String name, String preset, List<String> words, String meaning) {
        return new Setting(name, Type.WORD, preset, 0, words, Simpler.NEITHER, meaning);
    }

    /** Returns what would be a right value, in words. */
    public String range() {
        return switch (type) {
            case WHOLE -> "a whole number of at least " + (long) least;
            case NUMBER -> "a number of at least " + (least == StrictMath.rint(least) ? "" + (long) least : "" + least);
            case WORD -> String.join(" or ", words);
        };
    }

    /**
     * Checks a value.
     *
     * @throws IllegalArgumentException saying what was expected
     */
    public void check(String text) {
        switch (type) {
            case WORD -> Checks.that(words.contains(text), "%s = %s: expected %s", name, text, range());
            case WHOLE -> Checks.that(text.matches("[0-9]{1,9}") && wholeOf(text) >= least, complaint(text));
            case NUMBER -> {
                Checks.that(text.matches("[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]{1,3})?"), complaint(text));
                double value = Double.parseDouble(text);
                Checks.that(value >= least && !Double.isInfinite(value), complaint(text));
            }
        }
    }

    private static int wholeOf(String text) {
        return Integer.parseInt(text);
    }

    private String complaint(String text) {
        return String.format(Locale.ROOT, "%s = %s: expected %s", name, text, range())
                .replace("%", "%%");
    }
}
