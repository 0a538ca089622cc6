package keenfold.view.chart;

import java.util.List;

/** Small comparisons for tests of other packages. */
public final class SubjectsForTests {
    private SubjectsForTests() {}

    /** Returns what figures of a small comparison are about: four candidates, two of them a family. */
    public static FigureContext subject(List<String> labels, int seed) {
        return FiguresDrawnTest.subject(labels, seed);
    }
}
