package keenfold.core.pick;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.Checks;

/**
 * How a candidate is chosen: the simplest of those that are near enough to the best mean, each rule having its own idea of
 * near enough.
 *
 * @param kind the rule
 * @param number of {@link Kind#M_SE} the multiple m of the standard error; NaN for the others
 */
public record Rule(Kind kind, double number) {
    /** The rules by name. */
    public enum Kind {
        /**
         * Mean no more than one standard error of the best mean below it, limit inclusive.
         *
         * <p>Reference: Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, section 3.4.3.
         */
        ONE_SE("one-se", "the simplest within one se of the best mean"),
        /** The same with a multiple of the standard error. */
        M_SE("m-se", "the simplest within m se of the best mean"),
        /** Difference from the best no more than one standard error of that difference. */
        ONE_SE_PAIRED(
                "one-se-paired", "the simplest whose difference from the best is within one se of that difference"),
        /** As {@link #ONE_SE} with the sd of a repeat's fold scores/√folds, averaged over repeats. */
        FOLD_SE("fold-se", "the simplest within the textbook's se, sd of fold scores/sqrt(folds), of the best mean"),
        /** No other candidate is shown to be better; see {@link keenfold.core.infer.contrast.Standings}. */
        MAY_BE_BEST("may-be-best", "the simplest of those that may be the best, none being shown to be better"),
        /** Mean no more than the margin of equivalence below the best. */
        WITHIN_MARGIN("within-margin", "the simplest within the margin of the best mean"),
        /** The best mean. */
        BEST_MEAN("best-mean", "the best mean");

        private final String label;
        private final String meaning;

        Kind(String label, String meaning) {
            this.label = label;
            this.meaning = meaning;
        }

        /** Returns the name without a number. */
        public String label() {
            return label;
        }

        /** Returns what it picks, in words. */
        public String meaning() {
            return meaning;
        }

        /** Returns where the rule comes from, empty if it speaks for itself. */
        public String source() {
            return switch (this) {
                case ONE_SE, M_SE, FOLD_SE ->
                    "Breiman, Friedman, Olshen and Stone (1984), Classification and Regression Trees, section 3.4.3";
                case MAY_BE_BEST -> "Gupta (1965), Technometrics 7(2); Hsu (1984), Ann. Statist. 12(3)";
                case ONE_SE_PAIRED, WITHIN_MARGIN, BEST_MEAN -> "";
            };
        }
    }

    /** Within one standard error. */
    public static final Rule ONE_SE = new Rule(Kind.ONE_SE, Double.NaN);
    /** The best mean. */
    public static final Rule BEST_MEAN = new Rule(Kind.BEST_MEAN, Double.NaN);

    private static final double HALF = 0.5;

    /** Checks the number. */
    public Rule {
        if (kind == Kind.M_SE) {
            Checks.that(
                    Double.isFinite(number) && number >= 0,
                    "rule m-se: %s: expected a number of standard errors from 0, such as m-se=0.5",
                    number);
        } else {
            Checks.that(Double.isNaN(number), "rule %s takes no number", kind.label);
        }
    }

    /** Returns the rule of a kind; half a standard error for {@link Kind#M_SE}. */
    public static Rule of(Kind kind) {
        return new Rule(kind, kind == Kind.M_SE ? HALF : Double.NaN);
    }

    /**
     * Returns the rule of a name, such as {@code one-se} or {@code m-se=0.5}.
     *
     * @throws IllegalArgumentException if there is none
     */
    public static Rule parse(String text) {
        int equals = text.indexOf('=');
        String name = equals < 0 ? text : text.substring(0, equals);
        Kind kind = Arrays.stream(Kind.values())
                .filter(k -> k.label.equals(name))
                .findFirst()
                .orElseThrow(() ->
                        Checks.wrong("rule \"" + text + "\" is not known; there are " + String.join(", ", labels())));
        if (equals < 0) {
            return of(kind);
        }
        try {
            return new Rule(kind, Double.parseDouble(text.substring(equals + 1)));
        } catch (NumberFormatException e) {
            throw Checks.wrong("rule \"" + text + "\": expected a number such as m-se=0.5", e);
        }
    }

    /** Returns the names. */
    public static List<String> labels() {
        return Arrays.stream(Kind.values()).map(Kind::label).toList();
    }

    /** Returns every rule once, this one in the place of its kind. */
    List<Rule> withOthers() {
        return Arrays.stream(Kind.values()).map(k -> k == kind ? this : of(k)).toList();
    }

    /** Returns the name that plans use. */
    public String label() {
        return kind == Kind.M_SE ? String.format(Locale.ROOT, "m-se=%s", shortest(number)) : kind.label;
    }

    /** Returns what it picks, in words. */
    public String meaning() {
        return kind == Kind.M_SE ? kind.meaning.replace("m se", shortest(number) + " se") : kind.meaning;
    }

    private static String shortest(double number) {
        return new java.math.BigDecimal(number)
                .round(new java.math.MathContext(6))
                .stripTrailingZeros()
                .toPlainString();
    }
}
