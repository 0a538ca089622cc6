package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.data.Checks;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.DatePart;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Turns columns of dates, which are days since 1970-01-01, into their parts. It learns nothing.
 *
 * @param parts what is made of each date, in order
 */
record DateParts(List<DatePart> parts, Some some) implements StepOnSome {
    private static final String NAME = "date-parts";
    private static final Setting COLUMNS = Setting.names("columns", "the columns of dates; required");
    private static final Setting PARTS = Setting.names(
            "parts",
            "some of year, month, day-of-week (a category) and day-of-year (a sine and a cosine); all of them if left out");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            NAME,
            "turns dates into year, month, day of the week and day of the year",
            new About(
                    "year and month as numbers, the day of the week as a category, day d of a year of L days as a point on a"
                            + " circle, sin and cos of 2 pi (d - 1)/L, so that the end of December is near the beginning of"
                            + " January; the date itself goes. Learns nothing",
                    "",
                    "Mardia and Jupp (2000), Directional Statistics, for angles as points on a circle"),
            false,
            List.of(COLUMNS, PARTS),
            s -> new DateParts(
                    parts(s.names(PARTS)), new Some(Keep.named(NAME, s, COLUMNS).names())));

    DateParts {
        parts = List.copyOf(parts);
    }

    private static List<DatePart> parts(List<String> names) {
        if (names.isEmpty()) {
            return List.of(DatePart.values());
        }
        List<DatePart> parts = new ArrayList<>();
        for (String name : names) {
            DatePart part = DatePart.of(name)
                    .orElseThrow(() -> Checks.wrong("parts = " + name + ": expected some of " + DatePart.labels()));
            if (parts.contains(part)) {
                throw Checks.wrong("parts: " + name + " stands there twice");
            }
            parts.add(part);
        }
        return parts;
    }

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(training, some, n -> new ColumnTransform.DateSplit(parts), k -> {
            throw new FitFailure(String.format(
                    Locale.ROOT, "%s: column \"%s\" is not one of ISO dates (2026-03-31)", NAME, k.name()));
        });
    }
}
