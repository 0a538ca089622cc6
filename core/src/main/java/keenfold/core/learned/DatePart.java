package keenfold.core.learned;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.ToDoubleFunction;
import java.util.stream.Collectors;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;

/** A part of a date, of the Gregorian calendar as ISO 8601 extends it. */
public enum DatePart {
    /** The year, a number. */
    YEAR,
    /** 1 to 12. */
    MONTH,
    /** Monday to Sunday, a category. */
    DAY_OF_WEEK,
    /** Sine and cosine of 2π(d − 1)/L for day d of a year of L days. */
    DAY_OF_YEAR;

    /** About as far as years have nine digits. */
    private static final double MOST_DAYS = 3.6e11;

    /** Returns the name in plans. */
    public String label() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Returns the names of all. */
    public static String labels() {
        return Arrays.stream(values()).map(DatePart::label).collect(Collectors.joining(", "));
    }

    /** Returns the part of a name. */
    public static Optional<DatePart> of(String label) {
        return Arrays.stream(values()).filter(p -> p.label().equals(label)).findFirst();
    }

    /** Returns the days of the week as levels, Monday first. */
    public static List<String> daysOfWeek() {
        return Arrays.stream(DayOfWeek.values())
                .map(d -> d.name().charAt(0) + d.name().substring(1).toLowerCase(Locale.ROOT))
                .toList();
    }

    /**
     * Returns this part of dates, named {@code COLUMN.PART}.
     *
     * @param days since 1970-01-01, of which whole days count; what is missing or beyond the calendar is missing
     */
    List<Column> of(Numbers days) {
        String name = days.name() + "." + label();
        return switch (this) {
            case YEAR -> List.of(numbers(name, days, LocalDate::getYear));
            case MONTH -> List.of(numbers(name, days, LocalDate::getMonthValue));
            case DAY_OF_WEEK -> List.of(dayOfWeek(name, days));
            case DAY_OF_YEAR ->
                List.of(
                        numbers(name + "-sin", days, d -> StrictMath.sin(angle(d))),
                        numbers(name + "-cos", days, d -> StrictMath.cos(angle(d))));
        };
    }

    private static Column dayOfWeek(String name, Numbers days) {
        int[] codes = new int[days.rows()];
        for (int i = 0; i < codes.length; i++) {
            codes[i] = isDay(days.get(i)) ? date(days.get(i)).getDayOfWeek().getValue() - 1 : -1;
        }
        return Categories.ofCodes(name, daysOfWeek(), codes);
    }

    private static double angle(LocalDate date) {
        return 2 * Math.PI * (date.getDayOfYear() - 1) / date.lengthOfYear();
    }

    private static boolean isDay(double x) {
        return Math.abs(x) <= MOST_DAYS;
    }

    private static LocalDate date(double x) {
        return LocalDate.ofEpochDay((long) Math.floor(x));
    }

    private static Numbers numbers(String name, Numbers days, ToDoubleFunction<LocalDate> part) {
        double[] values = new double[days.rows()];
        for (int i = 0; i < values.length; i++) {
            values[i] = isDay(days.get(i)) ? part.applyAsDouble(date(days.get(i))) : Double.NaN;
        }
        return Numbers.owning(name, values);
    }
}
