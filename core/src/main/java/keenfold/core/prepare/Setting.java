package keenfold.core.prepare;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.data.Checks;

/**
 * A setting of a step or a classifier: its name, what values it takes and what it means.
 *
 * @param name as plans write it
 * @param type what values it takes
 * @param preset the value where the plan names none; empty for no names
 * @param former the presets of earlier generations, from the first on; of those that are not listed, today's
 * @param bounds within which a number lies
 * @param words the values of a word; of a number, words that may stand in its place
 * @param simpler in which direction a candidate becomes simpler
 * @param meaning one line
 * @param condition of having any effect, if it has one
 */
public record Setting(
        String name,
        Type type,
        String preset,
        List<String> former,
        Bounds bounds,
        List<String> words,
        Simpler simpler,
        String meaning,
        Optional<Condition> condition) {
    /**
     * When a setting has an effect: by the value of another one.
     *
     * @param setting name of the other
     * @param value of it
     * @param is whether the other is to have that value, or any but that
     */
    public record Condition(String setting, String value, boolean is) {}

    /** The generation of today's presets: 2 since trees are pruned by inner folds and networks are wider. */
    public static final int GENERATION = 2;

    /** The most that a whole number of a setting can be: a slip of digits must not ask for a fit without end. */
    public static final int MOST = 1_000_000;

    /** The type of a setting's values. */
    public enum Type {
        /** A whole number. */
        WHOLE,
        /** A number. */
        NUMBER,
        /** A whole number from 1, or a share below 1. */
        COUNT_OR_SHARE,
        /** One of some words. */
        WORD,
        /** Any text. */
        TEXT,
        /** Names, as {@link Names} writes them in one text. */
        NAMES,
        /** A number above 0 for each of some labels, as {@link LabelWeights} writes them in one text. */
        LABEL_WEIGHTS
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

    /**
     * Where a number lies.
     *
     * @param least the least, perhaps −∞
     * @param open whether {@code least} itself is out
     * @param most the most, perhaps ∞
     */
    public record Bounds(double least, boolean open, double most) {
        /** Any number. */
        public static final Bounds NONE = new Bounds(Double.NEGATIVE_INFINITY, false, Double.POSITIVE_INFINITY);

        /** Returns numbers from {@code least} on. */
        public static Bounds from(double least) {
            return new Bounds(least, false, Double.POSITIVE_INFINITY);
        }

        /** Returns numbers above {@code least}. */
        public static Bounds above(double least) {
            return new Bounds(least, true, Double.POSITIVE_INFINITY);
        }

        /** Returns the same up to {@code limit}. */
        public Bounds to(double limit) {
            return new Bounds(least, open, limit);
        }

        boolean hold(double value) {
            return (open ? value > least : value >= least) && value <= most && !Double.isInfinite(value);
        }

        private String words() {
            String to = most == Double.POSITIVE_INFINITY ? "" : plain(most);
            if (least == Double.NEGATIVE_INFINITY) {
                return to.isEmpty() ? "" : " of at most " + to;
            }
            if (open) {
                return " above " + plain(least) + (to.isEmpty() ? "" : " and at most " + to);
            }
            return to.isEmpty() ? " of at least " + plain(least) : " from " + plain(least) + " to " + to;
        }

        private static String plain(double value) {
            return value == StrictMath.rint(value) ? Long.toString((long) value) : Double.toString(value);
        }
    }

    /** Copies the lists. */
    public Setting {
        former = List.copyOf(former);
        words = List.copyOf(words);
    }

    /** Returns a setting whose preset was always the same. */
    public Setting(
            String name, Type type, String preset, Bounds bounds, List<String> words, Simpler simpler, String meaning) {
        this(name, type, preset, List.of(), bounds, words, simpler, meaning, Optional.empty());
    }

    /**
     * Returns the same setting, of which earlier programs had other presets.
     *
     * @param presets by generation, from the first on
     */
    public Setting formerly(String... presets) {
        return new Setting(name, type, preset, List.of(presets), bounds, words, simpler, meaning, condition);
    }

    /** Returns the same setting, which has an effect only where another one has a value. */
    public Setting onlyWhere(String other, String value) {
        return on(new Condition(other, value, true));
    }

    /** Returns the same setting, which has no effect where another one has a value. */
    public Setting unless(String other, String value) {
        return on(new Condition(other, value, false));
    }

    private Setting on(Condition when) {
        return new Setting(name, type, preset, former, bounds, words, simpler, meaning, Optional.of(when));
    }

    /**
     * Returns whether it has an effect.
     *
     * @param all the settings of its kind
     * @param values those that are given
     */
    public boolean hasEffect(List<Setting> all, Settings values) {
        return condition
                .map(c -> all.stream()
                        .filter(s -> s.name.equals(c.setting))
                        .map(s -> values.text(s).equals(c.value) == c.is)
                        .findFirst()
                        .orElseThrow())
                .orElse(true);
    }

    /**
     * Returns the preset of a generation.
     *
     * @param generation 1 … {@value #GENERATION}
     */
    public String preset(int generation) {
        return generation <= former.size() ? former.get(generation - 1) : preset;
    }

    /** Returns a whole number from {@code least} to {@value #MOST}. */
    public static Setting whole(String name, int preset, int least, Simpler simpler, String meaning) {
        Bounds bounds = Bounds.from(least).to(MOST);
        return new Setting(name, Type.WHOLE, Integer.toString(preset), bounds, List.of(), simpler, meaning);
    }

    /** Returns a number. */
    public static Setting number(String name, String preset, Bounds bounds, Simpler simpler, String meaning) {
        return new Setting(name, Type.NUMBER, preset, bounds, List.of(), simpler, meaning);
    }

    /** Returns one of some words. */
    public static Setting word(String name, String preset, List<String> words, String meaning) {
        return new Setting(name, Type.WORD, preset, Bounds.NONE, words, Simpler.NEITHER, meaning);
    }

    /** Returns yes or no. */
    public static Setting choice(String name, boolean preset, String meaning) {
        return word(name, preset ? "yes" : "no", List.of("no", "yes"), meaning);
    }

    /** Returns a count or a share. */
    public static Setting countOrShare(String name, String preset, Simpler simpler, String meaning) {
        return new Setting(name, Type.COUNT_OR_SHARE, preset, Bounds.above(0), List.of(), simpler, meaning);
    }

    /** Returns any text. */
    public static Setting text(String name, String preset, String meaning) {
        return new Setting(name, Type.TEXT, preset, Bounds.NONE, List.of(), Simpler.NEITHER, meaning);
    }

    /** Returns names, none where the plan names none. */
    public static Setting names(String name, String meaning) {
        return new Setting(name, Type.NAMES, "", Bounds.NONE, List.of(), Simpler.NEITHER, meaning);
    }

    /** Returns numbers by label, none where the plan names none. */
    public static Setting labelWeights(String name, String meaning) {
        return new Setting(name, Type.LABEL_WEIGHTS, "", Bounds.NONE, List.of(), Simpler.NEITHER, meaning);
    }

    /** Returns the same setting that also takes some words in the place of a number. */
    public Setting or(String... more) {
        return new Setting(name, type, preset, former, bounds, List.of(more), simpler, meaning, condition);
    }

    /** Returns what would be a right value, in words. */
    public String range() {
        String numbers =
                switch (type) {
                    case WHOLE -> "a whole number" + bounds.words();
                    case NUMBER -> "a number" + bounds.words();
                    case COUNT_OR_SHARE -> "a whole number from 1, or a share below 1";
                    case WORD -> "";
                    case TEXT -> "any text";
                    case NAMES -> "a list";
                    case LABEL_WEIGHTS -> "a map of labels to numbers from 0.000001 to 1000000";
                };
        return words.isEmpty() || numbers.isEmpty()
                ? numbers + String.join(" or ", words)
                : numbers + ", or " + String.join(" or ", words);
    }

    /**
     * Checks a value.
     *
     * @throws IllegalArgumentException saying what was expected
     */
    public void check(String text) {
        boolean right =
                switch (type) {
                    case WORD -> words.contains(text);
                    case WHOLE ->
                        words.contains(text) || (text.matches("[0-9]{1,9}") && bounds.hold(Integer.parseInt(text)));
                    case NUMBER -> words.contains(text) || (isNumber(text) && bounds.hold(Double.parseDouble(text)));
                    case COUNT_OR_SHARE -> words.contains(text) || (isNumber(text) && countOrShare(text));
                    case TEXT -> true;
                    case NAMES -> !Names.split(text).isEmpty();
                    case LABEL_WEIGHTS -> LabelWeights.areIn(text);
                };
        if (!right) {
            throw Checks.wrong(String.format(Locale.ROOT, "%s = %s: expected %s", name, shown(text), range()));
        }
    }

    private String shown(String text) {
        return type == Type.LABEL_WEIGHTS ? LabelWeights.split(text).toString().replace("=", ": ") : text;
    }

    private static boolean countOrShare(String text) {
        double value = Double.parseDouble(text);
        return value > 0 && (value < 1 || (value == StrictMath.rint(value) && value < 1e9));
    }

    static boolean isNumber(String text) {
        return text.matches("[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]{1,3})?");
    }

    /**
     * Compares two values by which is the simpler one.
     *
     * @return below 0 if {@code a} is, 0 if neither is known to be
     */
    public int simplest(String a, String b) {
        if (simpler == Simpler.NEITHER || !isNumber(a) || !isNumber(b)) {
            return 0;
        }
        int rising = Double.compare(Double.parseDouble(a), Double.parseDouble(b));
        return simpler == Simpler.LOWER ? rising : -rising;
    }

    /**
     * Refuses what is not a setting of {@code owner}.
     *
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    public static void checkAll(String owner, List<Setting> settings, Settings given) {
        given.values().forEach((key, text) -> {
            Setting setting = settings.stream()
                    .filter(s -> s.name().equals(key))
                    .findFirst()
                    .orElseThrow(() -> Checks.wrong(owner + " has no setting \"" + key + "\"; it has "
                            + (settings.isEmpty()
                                    ? "none"
                                    : String.join(
                                            ", ",
                                            settings.stream().map(Setting::name).toList()))));
            setting.check(text);
        });
    }
}
