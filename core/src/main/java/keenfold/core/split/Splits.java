package keenfold.core.split;

import java.util.Arrays;
import java.util.HashSet;
import java.util.Set;
import keenfold.core.data.Checks;
import keenfold.core.data.Rows;

/**
 * The splits of one data set, by repeat and fold.
 *
 * <p>Either each repeat divides the rows into folds, each of which is tested while all other rows are trained on; or each
 * split names its own sides.
 */
public final class Splits {
    /** How splits belong together, on which it depends how scores are joined and what spread they show. */
    public enum Form {
        /** Repeats that divide the rows into folds; the folds of a repeat are scored together. */
        PARTITIONS("partitions"),
        /** Sides drawn anew for each split; each is scored by itself. */
        RANDOM("random"),
        /** Each split tests what came after its training rows; each is scored by itself. */
        IN_ORDER("in-order"),
        /** A single split. */
        SINGLE("single");

        private final String label;

        Form(String label) {
            this.label = label;
        }

        /** Returns the name in ledgers. */
        public String label() {
            return label;
        }

        /** Returns the form of a name. */
        public static Form of(String label) {
            return Arrays.stream(values())
                    .filter(f -> f.label.equals(label))
                    .findFirst()
                    .orElseThrow(() -> Checks.wrong("\"" + label + "\" is no form of splits"));
        }
    }

    private final Form form;
    private final int rows;
    private final int[] folds;
    /** Of partitions: per repeat and row the fold that tests it, −1 for a row that is only trained on. */
    private final int[][] foldOf;
    /** Otherwise: per split and row how often it is trained on, 0 for a tested row, −1 for neither. */
    private final int[][] counts;

    private final boolean bound;

    private Splits(Form form, int rows, int[] folds, int[][] foldOf, int[][] counts) {
        this.form = form;
        this.rows = rows;
        this.folds = folds;
        this.foldOf = foldOf;
        this.counts = counts;
        this.bound = false;
    }

    private Splits(Splits of) {
        this.form = of.form;
        this.rows = of.rows;
        this.folds = of.folds;
        this.foldOf = of.foldOf;
        this.counts = of.counts;
        this.bound = true;
    }

    /** Returns the same splits, of which it is known that equal rows were bound together. */
    public Splits bind() {
        return new Splits(this);
    }

    /** Returns whether equal rows were bound together, as divisions of a training side must then do too. */
    public boolean bound() {
        return bound;
    }

    /**
     * Returns the splits of given partitions.
     *
     * @param foldOf per repeat and row the 0-based fold that tests it; −1 for a row that this repeat only trains on
     * @throws IllegalArgumentException if a fold below the greatest has no row, or nothing is left to train on
     */
    public static Splits partitions(int[][] foldOf) {
        Checks.that(foldOf.length > 0, "no repeat");
        int n = foldOf[0].length;
        int[] folds = new int[foldOf.length];
        int[][] copy = new int[foldOf.length][];
        for (int r = 0; r < foldOf.length; r++) {
            copy[r] = foldOf[r].clone();
            Checks.that(copy[r].length == n, "repeat %d: %d rows instead of %d", r + 1, copy[r].length, n);
            folds[r] = Arrays.stream(copy[r]).max().orElse(-1) + 1;
            Checks.that(folds[r] >= 0 && folds[r] <= n, "repeat %d: fold %d of %d rows", r + 1, folds[r], n);
            int[] sizes = new int[folds[r]];
            for (int f : copy[r]) {
                Checks.that(f >= -1, "fold %d: expected -1 or more", f);
                if (f >= 0) {
                    sizes[f]++;
                }
            }
            Checks.that(folds[r] > 0, "repeat %d tests no row", r + 1);
            for (int f = 0; f < folds[r]; f++) {
                Checks.that(sizes[f] > 0, "repeat %d: fold %d has no row", r + 1, f + 1);
                Checks.that(
                        sizes[f] < n, "repeat %d: fold %d tests every row, and leaves none to train on", r + 1, f + 1);
            }
        }
        Form form = Arrays.stream(folds).sum() == 1 ? Form.SINGLE : Form.PARTITIONS;
        return new Splits(form, n, folds, copy, new int[0][]);
    }

    /**
     * Returns partitions that were made elsewhere, of which it need not be known what was trained on: a single fold may test
     * every row.
     *
     * @param foldOf as for {@link #partitions}
     */
    public static Splits elsewhere(int[][] foldOf) {
        int[] folds = Arrays.stream(foldOf)
                .mapToInt(of -> Arrays.stream(of).max().orElse(-1) + 1)
                .toArray();
        Checks.that(Arrays.stream(folds).allMatch(k -> k > 0), "a repeat tests no row");
        if (Arrays.stream(folds).sum() > 1) {
            return partitions(foldOf);
        }
        return new Splits(
                Form.SINGLE,
                foldOf[0].length,
                folds,
                Arrays.stream(foldOf).map(int[]::clone).toArray(int[][]::new),
                new int[0][]);
    }

    /**
     * Returns splits that name their sides.
     *
     * @param form not that of partitions
     * @param folds number of folds of each repeat
     * @param counts per split, by repeat and fold, and row: how often it is trained on, 0 if it is tested, −1 for neither
     * @throws IllegalArgumentException if a side of a split is empty
     */
    public static Splits sides(Form form, int[] folds, int[][] counts) {
        Checks.that(form != Form.PARTITIONS, "partitions do not name their sides");
        Checks.that(Arrays.stream(folds).sum() == counts.length, "%d splits", counts.length);
        int[][] copy = new int[counts.length][];
        int split = 0;
        for (int r = 0; r < folds.length; r++) {
            for (int f = 0; f < folds[r]; f++) {
                int[] own = counts[split].clone();
                Checks.that(
                        Arrays.stream(own).allMatch(c -> c >= -1 && c <= own.length),
                        "repeat %d, fold %d: a row is trained on less than -1 times, or more often than there are rows",
                        r + 1,
                        f + 1);
                Checks.that(
                        Arrays.stream(own).anyMatch(c -> c == 0), "repeat %d, fold %d: no row is tested", r + 1, f + 1);
                Checks.that(
                        Arrays.stream(own).anyMatch(c -> c > 0),
                        "repeat %d, fold %d: no row is left to train on",
                        r + 1,
                        f + 1);
                copy[split++] = own;
            }
        }
        return new Splits(counts.length == 1 ? Form.SINGLE : form, counts[0].length, folds.clone(), new int[0][], copy);
    }

    /**
     * Returns the splits of the first repeats.
     *
     * @param number how many, from 1 to {@link #repeats}
     */
    public Splits first(int number) {
        Checks.that(number >= 1 && number <= repeats(), "%d of %d repeats", number, repeats());
        if (number == repeats()) {
            return this;
        }
        Splits first = namesSides()
                ? sides(form, Arrays.copyOf(folds, number), Arrays.copyOf(counts, number(number, 0)))
                : elsewhere(Arrays.copyOf(foldOf, number));
        return bound ? first.bind() : first;
    }

    /** Returns whether one begins as the other does: as many repeats as both have are the same. */
    public boolean agrees(Splits other) {
        int both = Math.min(repeats(), other.repeats());
        return first(both).equals(other.first(both));
    }

    /** Returns how the splits belong together. */
    public Form form() {
        return form;
    }

    /** Returns whether the folds of a repeat are scored together; otherwise each split is scored by itself. */
    public boolean joined() {
        return form == Form.PARTITIONS;
    }

    /** Returns whether splits name their training rows, instead of training on all that they do not test. */
    public boolean namesSides() {
        return counts.length > 0;
    }

    /** Returns the number of rows of the data set. */
    public int rows() {
        return rows;
    }

    /** Returns whether every split tests rows of every class: only then do ranks and means over classes exist on each. */
    public boolean testEveryClass(int[] targets, int classes) {
        for (int r = 0; r < repeats(); r++) {
            for (int f = 0; f < folds(r); f++) {
                boolean[] seen = new boolean[classes];
                int[] sides = countsOf(r, f);
                for (int i = 0; i < sides.length; i++) {
                    seen[targets[i]] |= sides[i] == 0;
                }
                for (boolean s : seen) {
                    if (!s) {
                        return false;
                    }
                }
            }
        }
        return true;
    }

    /** Returns the number of repeats, R. */
    public int repeats() {
        return folds.length;
    }

    /** Returns the number of folds of a repeat, k. */
    public int folds(int repeat) {
        return folds[repeat];
    }

    /** Returns the greatest number of folds of a repeat. */
    public int mostFolds() {
        return Arrays.stream(folds).max().orElse(0);
    }

    /** Returns the number of splits, R·k where all repeats have k folds. */
    public int count() {
        return Arrays.stream(folds).sum();
    }

    /** Returns the fold that tests a row in a repeat of a partition, −1 if none does. */
    public int foldOf(int repeat, int row) {
        return foldOf[repeat][row];
    }

    /** Returns a copy of a partition's folds, one per row. */
    public int[] foldsOf(int repeat) {
        return foldOf[repeat].clone();
    }

    /** Returns per row how often a split trains on it, 0 if it tests it, −1 for neither. */
    public int[] countsOf(int repeat, int fold) {
        if (namesSides()) {
            return counts[number(repeat, fold)].clone();
        }
        int[] of = new int[rows];
        for (int i = 0; i < rows; i++) {
            of[i] = foldOf[repeat][i] == fold ? 0 : 1;
        }
        return of;
    }

    private int number(int repeat, int fold) {
        int before = 0;
        for (int r = 0; r < repeat; r++) {
            before += folds[r];
        }
        return before + fold;
    }

    /** Returns one split. */
    public Split at(int repeat, int fold) {
        int[] of = countsOf(repeat, fold);
        int[] test = new int[rows];
        int[] train = new int[rows];
        int[] times = new int[rows];
        int a = 0;
        int b = 0;
        for (int i = 0; i < rows; i++) {
            if (of[i] == 0) {
                test[a++] = i;
            } else if (of[i] > 0) {
                times[b] = of[i];
                train[b++] = i;
            }
        }
        return new Split(
                repeat,
                fold,
                Rows.of(Arrays.copyOf(train, b), Arrays.copyOf(times, b)),
                Rows.of(Arrays.copyOf(test, a)));
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Splits that
                && form == that.form
                && Arrays.equals(folds, that.folds)
                && Arrays.deepEquals(foldOf, that.foldOf)
                && Arrays.deepEquals(counts, that.counts);
    }

    @Override
    public int hashCode() {
        return 31 * Arrays.deepHashCode(foldOf) + Arrays.deepHashCode(counts);
    }

    @Override
    public String toString() {
        return form.label() + " " + Arrays.toString(folds);
    }

    /** Returns how many different partitions the repeats are, however their folds are numbered. */
    public int distinctPartitions() {
        Set<String> seen = new HashSet<>();
        for (int[] of : foldOf) {
            seen.add(canonical(of));
        }
        return seen.size();
    }

    /** Folds renumbered by first appearance: equal for equal partitions. */
    private static String canonical(int[] of) {
        int[] rename = new int[of.length + 1];
        Arrays.fill(rename, -1);
        int next = 0;
        int[] canonical = new int[of.length];
        for (int i = 0; i < of.length; i++) {
            if (of[i] >= 0 && rename[of[i]] < 0) {
                rename[of[i]] = next++;
            }
            canonical[i] = of[i] < 0 ? -1 : rename[of[i]];
        }
        return Arrays.toString(canonical);
    }

    /** Returns the share of the tested rows that are tested together with rows of another class. */
    public double shareInMixedCompany(int[] target) {
        long mixed = 0;
        long all = 0;
        int tests = namesSides() ? counts.length : folds.length;
        for (int t = 0; t < tests; t++) {
            int[] of = namesSides() ? counts[t] : foldOf[t];
            int most = namesSides() ? 1 : folds[t];
            int[] first = new int[most];
            boolean[] several = new boolean[most];
            int[] size = new int[most];
            Arrays.fill(first, -1);
            for (int i = 0; i < rows; i++) {
                boolean tested = namesSides() ? of[i] == 0 : of[i] >= 0;
                if (tested) {
                    int f = of[i];
                    size[f]++;
                    several[f] |= first[f] >= 0 && first[f] != target[i];
                    first[f] = target[i];
                }
            }
            for (int f = 0; f < most; f++) {
                all += size[f];
                mixed += several[f] ? size[f] : 0;
            }
        }
        return (double) mixed / all;
    }

    /** Returns ρ, test rows per distinct training row, averaged over the splits. */
    public double testPerTraining() {
        double sum = 0;
        for (int r = 0; r < folds.length; r++) {
            if (namesSides()) {
                for (int f = 0; f < folds[r]; f++) {
                    int[] of = counts[number(r, f)];
                    long test = Arrays.stream(of).filter(c -> c == 0).count();
                    long train = Arrays.stream(of).filter(c -> c > 0).count();
                    sum += (double) test / train;
                }
            } else {
                int[] sizes = new int[folds[r]];
                for (int f : foldOf[r]) {
                    if (f >= 0) {
                        sizes[f]++;
                    }
                }
                for (int size : sizes) {
                    sum += (double) size / (rows - size);
                }
            }
        }
        return sum / count();
    }
}
