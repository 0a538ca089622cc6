package keenfold.io.plan;

import keenfold.core.split.Scheme;

/** Where the splits of a plan come from. */
public sealed interface SplitSource {
    /**
     * Made by a scheme.
     *
     * @param scheme with its settings
     */
    record Made(Scheme scheme) implements SplitSource {}

    /**
     * Read from a column: rows with the same value are tested together.
     *
     * @param column its name
     */
    record GivenColumn(String column) implements SplitSource {}

    /**
     * Read from a CSV file of folds, as this program exports them.
     *
     * @param file as the plan writes it
     */
    record GivenFile(String file) implements SplitSource {}

    /**
     * One split: a second file is tested.
     *
     * @param test the second file, as the plan writes it
     */
    record Apart(String test) implements SplitSource {}
}
