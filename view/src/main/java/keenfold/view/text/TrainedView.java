package keenfold.view.text;

import keenfold.results.TrainedModel;
import keenfold.results.table.NumberFormats;

/** What is known of a model that was just trained. */
public final class TrainedView {
    private TrainedView() {}

    /** Returns what was trained, its scores, and where it is kept; {@code bytes} is how large the file is. */
    public static String render(TrainedModel model, int bytes, Ink ink) {
        String trained = model.classifier()
                + (model.settings().isEmpty() ? "" : " (" + model.settings() + ")") + ", size "
                + NumberFormats.significant(model.size(), 3) + ", trained on " + model.rows() + " rows"
                + (model.heldBack() > 0 ? ", all but the " + model.heldBack() + " of the holdout" : "");
        String holdout = "The holdout's score is of this one model on these rows; it is set beside the others without a"
                + " test.\n";
        return ink.strong(model.dataset() + ": " + model.candidate() + ", " + model.why()) + "\n"
                + Wrap.lines(trained, 0)
                + (model.scores().isEmpty()
                        ? ""
                        : "\n" + TextTable.of(model.table()).render(ink)
                                + (model.heldBack() > 0 ? ink.quiet(holdout) : ""))
                + "\nwrote " + model.file() + ", " + NumberFormats.significant(bytes / 1000.0, 2) + " kB\n";
    }
}
