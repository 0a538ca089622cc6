package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/** The kinds of steps there are, with all presets in one place. */
public final class StepKinds {
    private static final Setting COLUMNS = Some.setting();
    private static final Setting WITH = Setting.word(
            "with",
            "median",
            List.of("median", "mean", "mode", "constant"),
            "what numbers get; categories get their mode, or with constant a level of its own");
    private static final Setting VALUE =
            Setting.number("value", "0", Bounds.NONE, Simpler.NEITHER, "with constant: what numbers get");
    private static final Setting LEVEL = Setting.text("level", "missing", "with constant: what categories get");
    private static final Setting MARK =
            Setting.choice("mark", false, "whether a column of zeros and ones says where the gaps were");
    private static final Setting RARE = Setting.whole(
            "rare", 1, 1, Simpler.HIGHER, "least training rows of a level that gets a column; rarer ones give zeros");
    private static final Setting LOW =
            Setting.number("low", "0", Bounds.NONE, Simpler.NEITHER, "what the least value becomes");
    private static final Setting HIGH =
            Setting.number("high", "1", Bounds.NONE, Simpler.NEITHER, "what the greatest value becomes");
    private static final Setting UNIT = Setting.number(
            "unit", "1", Bounds.above(0), Simpler.NEITHER, "about where straight goes over into logarithmic");
    private static final Setting EXPONENT = Setting.number(
                    "exponent", "fitted", Bounds.NONE, Simpler.NEITHER, "the power, of each column its own if fitted")
            .or("fitted");
    private static final Setting ORDER_BY =
            Setting.word("by", "name", List.of("name", "count"), "levels by code point, or the rarest first");
    private static final Setting ORDER = new Setting(
            "order",
            Setting.Type.NAMES,
            "",
            Bounds.NONE,
            List.of(),
            Simpler.NEITHER,
            "the levels from low to high; others count as unseen");
    private static final Setting BINS = Setting.whole("bins", 5, 2, Simpler.LOWER, "at most so many");
    private static final Setting EDGES =
            Setting.word("by", "quantiles", List.of("quantiles", "widths"), "equal weights, or equal widths");
    private static final Setting AS = Setting.word(
            "as", "categories", List.of("categories", "numbers"), "what a bin becomes: a level, or its number");
    private static final Setting KEEP = Setting.countOrShare(
            "keep", "0.95", Simpler.LOWER, "how many components, or the least share of the variance that they hold");
    private static final Setting NUMBER = Setting.whole("number", 10, 1, Simpler.LOWER, "how many columns are kept");
    private static final Setting STRENGTH_BY =
            Setting.word("by", "f", List.of("f", "information"), "the F statistic, or mutual information");
    private static final Setting SHARE = Setting.number(
            "share", "1", Bounds.above(0).to(1), Simpler.LOWER, "least share of one value in a column that goes");
    private static final Setting ABOVE = Setting.number(
            "above", "0.95", Bounds.from(0).to(1), Simpler.LOWER, "the greatest correlation that is let pass");
    private static final Setting SQUARES = Setting.choice("squares", false, "whether each column's square is added");
    private static final Setting LEFT_OUT = Setting.names("columns", "those that go");
    private static final Setting KEPT = Setting.names("columns", "those that stay");

    /** Fills missing values. */
    public static final StepKind FILL = new StepKind(
            "fill",
            "puts something into missing values",
            new About(
                    "numbers: the training rows' weighted median, mean or mode, or a constant; categories: their mode, the"
                            + " first in code point order among equals, or a level of its own; a column without any value:"
                            + " 0, or its first level",
                    "",
                    ""),
            false,
            List.of(WITH, VALUE, LEVEL, MARK, COLUMNS),
            s -> new Fill(
                    Fill.With.valueOf(upper(s.text(WITH))), s.number(VALUE), s.text(LEVEL), s.yes(MARK), some(s)));

    /** Gives number columns mean 0 and standard deviation 1. */
    public static final StepKind STANDARDISE = new StepKind(
            "standardise",
            "gives number columns mean 0 and standard deviation 1",
            new About(
                    "(x - m)/s with the weighted mean m and standard deviation s of the training rows (divisor n); columns"
                            + " that are constant there are dropped",
                    "",
                    ""),
            false,
            List.of(COLUMNS),
            s -> new Standardise(some(s)));

    /** Turns categories into columns of zeros and ones. */
    public static final StepKind ONE_HOT = new StepKind(
            "one-hot",
            "turns categories into columns of zeros and ones",
            new About(
                    "one column per level that the training rows show, one for two levels, none for one; a level they do not"
                            + " show gives zeros",
                    "",
                    ""),
            false,
            List.of(RARE, COLUMNS),
            s -> new OneHot(s.whole(RARE), some(s)));

    private static final List<StepKind> ALL = List.of(
            FILL,
            STANDARDISE,
            new StepKind(
                    "rescale",
                    "moves number columns to run from 0 to 1",
                    new About(
                            "low + (high - low)(x - least)/(greatest - least) of the training rows; other rows may land beyond the"
                                    + " ends; columns that are constant there are dropped",
                            "",
                            ""),
                    false,
                    List.of(LOW, HIGH, COLUMNS),
                    s -> new Rescale(s.number(LOW), s.number(HIGH), some(s))),
            new StepKind(
                    "log",
                    "draws in far values by a logarithm that takes any number",
                    new About(
                            "sign(x) ln(1 + |x|/unit); learns nothing",
                            "",
                            "John and Draper (1980), Appl. Statist. 29(2), doi:10.2307/2986305"),
                    false,
                    List.of(UNIT, COLUMNS),
                    s -> new Log(s.number(UNIT), some(s))),
            new StepKind(
                    "power",
                    "makes number columns more like a normal distribution",
                    new About(
                            "the Yeo-Johnson power of each column whose exponent, from -3 to 5, has the greatest normal likelihood in"
                                    + " the training rows",
                            "",
                            "Yeo and Johnson (2000), Biometrika 87(4), doi:10.1093/biomet/87.4.954"),
                    false,
                    List.of(EXPONENT, COLUMNS),
                    s -> new Power(
                            s.text(EXPONENT).equals("fitted")
                                    ? OptionalDouble.empty()
                                    : OptionalDouble.of(s.number(EXPONENT)),
                            some(s))),
            ONE_HOT,
            new StepKind(
                    "ordinal",
                    "turns a category column into the places of its levels",
                    new About(
                            "1, 2, … for the levels of the training rows in their order, whatever the classes; 0 for a level that they"
                                    + " do not show",
                            "",
                            ""),
                    false,
                    List.of(ORDER_BY, ORDER, COLUMNS),
                    s -> new Ordinal(Ordinal.By.valueOf(upper(s.text(ORDER_BY))), s.names(ORDER), some(s))),
            new StepKind(
                    "bins",
                    "divides number columns into intervals",
                    new About(
                            "edges at the quantiles of the training rows, equal ones once, or at equal widths; a value on an edge lies"
                                    + " below it; values beyond the ends fall into the first or last bin",
                            "",
                            ""),
                    false,
                    List.of(BINS, EDGES, AS, COLUMNS),
                    s -> new Bins(
                            s.whole(BINS),
                            Bins.By.valueOf(upper(s.text(EDGES))),
                            s.text(AS).equals("numbers"),
                            some(s))),
            new StepKind(
                    "components",
                    "puts principal components in the place of number columns",
                    new About(
                            "the eigenvectors of the training rows' covariance matrix with the greatest eigenvalues, on the scale that"
                                    + " columns have (put standardise before)",
                            "",
                            "Hotelling (1933), J. Educ. Psychol. 24(6), doi:10.1037/h0071325"),
                    false,
                    List.of(KEEP),
                    s -> new Components(s.number(KEEP))),
            new StepKind(
                    "strongest",
                    "keeps the columns that tell the classes apart best, each by itself",
                    new About(
                            "the greatest F of an analysis of variance over the classes (numbers only), or the greatest mutual"
                                    + " information less its bias (numbers in 10 quantile bins, a gap being a value)",
                            "",
                            "Fisher (1925), Statistical Methods for Research Workers; Miller (1955), Information Theory in"
                                    + " Psychology"),
                    true,
                    List.of(NUMBER, STRENGTH_BY),
                    s -> new Strongest(s.whole(NUMBER), Strongest.By.valueOf(upper(s.text(STRENGTH_BY))))),
            new StepKind(
                    "drop-constant",
                    "takes away columns that hardly vary",
                    new About(
                            "columns of which one value has at least the share of all values that are not missing in the training"
                                    + " rows",
                            "",
                            ""),
                    false,
                    List.of(SHARE),
                    s -> new DropConstant(s.number(SHARE))),
            new StepKind(
                    "drop-correlated",
                    "takes away number columns that say nearly the same as an earlier one",
                    new About(
                            "in the order of columns, one goes whose absolute Pearson correlation with one that stayed is above the"
                                    + " limit in the training rows",
                            "",
                            ""),
                    false,
                    List.of(ABOVE),
                    s -> new DropCorrelated(s.number(ABOVE))),
            new StepKind(
                    "interactions",
                    "adds the products of pairs of number columns",
                    new About("a*b behind the columns there are, with squares also a*a; learns nothing", "", ""),
                    false,
                    List.of(SQUARES, COLUMNS),
                    s -> new Interactions(s.yes(SQUARES), some(s))),
            new StepKind(
                    "leave-out",
                    "takes columns away by name",
                    new About("a name also stands for the columns that one-hot made of it", "", ""),
                    false,
                    List.of(LEFT_OUT),
                    s -> new Keep(false, named("leave-out", s, LEFT_OUT))),
            new StepKind(
                    "keep-only",
                    "takes all columns away but those named",
                    new About("a name also stands for the columns that one-hot made of it", "", ""),
                    false,
                    List.of(KEPT),
                    s -> new Keep(true, named("keep-only", s, KEPT))));

    private StepKinds() {}

    private static String upper(String text) {
        return text.toUpperCase(Locale.ROOT);
    }

    private static Some some(Settings s) {
        return new Some(s.names(COLUMNS));
    }

    private static Some named(String step, Settings s, Setting names) {
        if (s.names(names).isEmpty()) {
            throw new IllegalArgumentException(step + " needs the names of columns, as in {" + step + ": [a, b]}");
        }
        return new Some(s.names(names));
    }

    /** Returns all kinds, in the order in which they are commonly used. */
    public static List<StepKind> all() {
        return ALL;
    }

    /** Returns the kind of a name. */
    public static Optional<StepKind> of(String name) {
        return ALL.stream().filter(k -> k.name().equals(name)).findFirst();
    }

    /** Returns the steps that a classifier gets when the plan names none. */
    public static List<StepKind> neededBy(Needs needs) {
        List<StepKind> steps = new ArrayList<>();
        if (needs.noMissing()) {
            steps.add(FILL);
        }
        if (needs.numbersOnly()) {
            steps.add(ONE_HOT);
        }
        if (needs.oneScale()) {
            steps.add(STANDARDISE);
        }
        return List.copyOf(steps);
    }
}
