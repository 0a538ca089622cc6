package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.learned.DatePart;

/**
 * Parts of a date from its days since 1970-01-01, in whole numbers: years begin with March here, so that a leap day is the last
 * day of one, and 400 of them have 146,097 days.
 *
 * <p>Reference: Richards (2013), Calendars, in: Explanatory Supplement to the Astronomical Almanac, 3rd ed., section 15.11.
 */
final class DateForm {
    private static final int DAYS_OF_400_YEARS = 146_097;
    private static final int MARCH_OF_YEAR_0 = 719_468;

    private final Fields fields;
    private final Field column;

    /** @param column of days */
    DateForm(Fields fields, Field column) {
        this.fields = fields;
        this.column = column;
    }

    /** Returns the fields of some parts. */
    List<Field> of(List<DatePart> parts) {
        Expression days = made("day", apply("floor", ref(column.name())));
        Expression since = made("days from March of year 0", plus(days, literal(MARCH_OF_YEAR_0)));
        Expression era = made("period of 400 years", quotient(since, DAYS_OF_400_YEARS));
        Expression inEra = made("day of 400 years", minus(since, times(era, DAYS_OF_400_YEARS)));
        Expression leapDays =
                minus(plus(minus(inEra, quotient(inEra, 1460)), quotient(inEra, 36_524)), quotient(inEra, 146_096));
        Expression yearOfEra = made("year of 400", quotient(leapDays, 365));
        Expression before = minus(plus(times(yearOfEra, 365), quotient(yearOfEra, 4)), quotient(yearOfEra, 100));
        Expression fromMarch = made("day from March", minus(inEra, before));
        Expression monthFromMarch = made("month from March", quotient(plus(times(fromMarch, 5), literal(2)), 153));
        Expression late = apply("lessThan", monthFromMarch, literal(10));
        Expression month =
                made("month", apply("if", late, plus(monthFromMarch, literal(3)), minus(monthFromMarch, literal(9))));
        Expression year =
                made("year", plus(plus(yearOfEra, times(era, 400)), apply("if", late, literal(0), literal(1))));
        List<Field> all = new ArrayList<>();
        for (DatePart part : parts) {
            String name = column.column() + "." + part.label();
            switch (part) {
                case YEAR -> all.add(number(name, year));
                case MONTH -> all.add(number(name, month));
                case DAY_OF_WEEK -> all.add(dayOfWeek(name, days));
                case DAY_OF_YEAR -> {
                    Expression leap =
                            made("leap", plus(minus(divides(year, 4), divides(year, 100)), divides(year, 400)));
                    // From January on, day 0 first: March begins 59 days after January, 60 in a leap year.
                    Expression day =
                            apply("if", late, plus(plus(fromMarch, literal(59)), leap), minus(fromMarch, literal(306)));
                    Expression angle =
                            made("angle", apply("/", apply("*", literal(2 * Math.PI), day), plus(literal(365), leap)));
                    all.add(number(name + "-sin", apply("sin", angle)));
                    all.add(number(name + "-cos", apply("cos", angle)));
                }
            }
        }
        return all;
    }

    /** Day 0 was a Thursday. */
    private Field dayOfWeek(String name, Expression days) {
        Expression fromMonday = plus(days, literal(3));
        String number = fields.number(
                "day of week(" + column.column() + ")", minus(fromMonday, times(quotient(fromMonday, 7), 7)));
        List<String> levels = DatePart.daysOfWeek();
        double[] edges = {0.5, 1.5, 2.5, 3.5, 4.5, 5.5};
        String field = fields.category(name, StepForm.discrete(number, edges, levels, false));
        return new Field(field, name, false, levels.stream().sorted().toList());
    }

    private Field number(String name, Expression made) {
        return new Field(fields.number(name, made), name, true, List.of());
    }

    private Expression made(String what, Expression how) {
        return ref(fields.number(what + "(" + column.column() + ")", how));
    }

    /** 1 where a whole number is one of so many times a whole number, 0 elsewhere. */
    private static Expression divides(Expression x, int by) {
        return minus(plus(literal(1), quotient(x, by)), quotient(plus(x, literal(by - 1)), by));
    }

    private static Expression quotient(Expression x, int by) {
        return apply("floor", apply("/", x, literal(by)));
    }

    private static Expression plus(Expression a, Expression b) {
        return apply("+", a, b);
    }

    private static Expression minus(Expression a, Expression b) {
        return apply("-", a, b);
    }

    private static Expression times(Expression a, int b) {
        return apply("*", a, literal(b));
    }
}
