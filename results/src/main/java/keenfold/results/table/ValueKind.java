package keenfold.results.table;

import java.util.Collection;
import java.util.Optional;

/** What kind of value a column holds, and so how people read it. */
public final class ValueKind {
    /** Names of candidates, columns, classes. */
    public static final ValueKind NAME = new ValueKind(Alignment.NAME, false, (v, se) -> v.toString());

    /** Other texts. */
    public static final ValueKind TEXT = new ValueKind(Alignment.LEFT, false, (v, se) -> v.toString());

    /** Several texts. */
    public static final ValueKind LIST = new ValueKind(
            Alignment.LEFT,
            false,
            (v, se) -> v instanceof Collection<?> all
                    ? String.join(", ", all.stream().map(Object::toString).toList())
                    : v.toString());

    /** Whole numbers, truths, and anything else that is shown as it is written, on the right. */
    public static final ValueKind WHOLE = new ValueKind(Alignment.RIGHT, true, (v, se) -> v.toString());

    /** A mean, to the second significant digit of its standard error. */
    public static final ValueKind MEAN = number(Alignment.POINT, NumberFormats::mean);

    /** A difference, with its sign, to the second significant digit of its standard error. */
    public static final ValueKind DIFFERENCE = number(Alignment.POINT, NumberFormats::signed);

    /** A standard error or deviation, to two significant digits. */
    public static final ValueKind DEVIATION = number(Alignment.POINT, (v, se) -> NumberFormats.two(v));

    /** An effective number of parameters. */
    public static final ValueKind SIZE = number(Alignment.POINT, (v, se) -> NumberFormats.significant(v, 3));

    /** A share, in per cent. */
    public static final ValueKind SHARE = number(Alignment.RIGHT, (v, se) -> NumberFormats.percent(v));

    /** A time in seconds. */
    public static final ValueKind SECONDS = number(Alignment.RIGHT, (v, se) -> NumberFormats.seconds(v));

    /** A number as short as three significant digits allow. */
    public static final ValueKind SHORT = number(Alignment.RIGHT, (v, se) -> NumberFormats.shortest(v));

    /** A p-value that does not come from draws. */
    public static final ValueKind P = number(Alignment.RIGHT, (v, se) -> NumberFormats.p(v, 0));

    /** Both ends of an interval, with the decimals of the standard error. */
    static final ValueKind INTERVAL = new ValueKind(
            Alignment.RIGHT,
            true,
            (v, se) -> v instanceof Ends e ? NumberFormats.interval(e.low(), e.high(), se) : v.toString());

    private final Alignment alignment;
    private final boolean number;
    private final Shower shower;

    /** Both ends of an interval. */
    record Ends(double low, double high) {}

    private interface Shower {
        String shown(Object value, double standardError);
    }

    private interface NumberShower {
        String shown(double value, double standardError);
    }

    private ValueKind(Alignment alignment, boolean number, Shower shower) {
        this.alignment = alignment;
        this.number = number;
        this.shower = shower;
    }

    private static ValueKind number(Alignment alignment, NumberShower shower) {
        return new ValueKind(
                alignment, true, (v, se) -> v instanceof Number n ? shower.shown(n.doubleValue(), se) : v.toString());
    }

    /** Returns numbers with so many decimals. */
    public static ValueKind fixed(int decimals) {
        return number(Alignment.POINT, (v, se) -> NumberFormats.fixed(v, decimals));
    }

    /** Returns the same kind of value, aligned otherwise. */
    public ValueKind aligned(Alignment other) {
        return new ValueKind(other, number, shower);
    }

    /**
     * Returns p-values, of which the least that so many draws can give is shown as a bound; 0 draws for none. A
     * pair without a standard error was not tested, and has no p-value.
     */
    public static ValueKind p(int draws) {
        return number(
                Alignment.RIGHT, (v, se) -> Double.isNaN(se) ? NumberFormats.UNDEFINED : NumberFormats.p(v, draws));
    }

    /** Returns how cells are aligned. */
    public Alignment alignment() {
        return alignment;
    }

    /** Whether the values are numbers, which are sorted as such. */
    public boolean isNumber() {
        return number;
    }

    /**
     * Returns a value as people read it.
     *
     * @param value a text, number, truth or list; an empty optional shows nothing
     * @param standardError of a number; NaN if none is known
     */
    String shown(Object value, double standardError) {
        return value instanceof Optional<?> o
                ? o.map(v -> shower.shown(v, standardError)).orElse("")
                : shower.shown(value, standardError);
    }
}
