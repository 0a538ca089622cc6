package keenfold.core.data;

import java.util.Locale;

/** Numbers of things, in words that agree. */
public final class Plural {
    private Plural() {}

    /** Returns "1 row" or "7 rows", thousands set apart by commas from 10,000 on. */
    public static String of(long count, String one) {
        return of(count, one, one + "s");
    }

    /** The same of a word whose plural has another form, such as "class" and "classes". */
    public static String of(long count, String one, String many) {
        String number = count < 10_000 ? Long.toString(count) : String.format(Locale.ROOT, "%,d", count);
        return number + " " + (count == 1 ? one : many);
    }
}
