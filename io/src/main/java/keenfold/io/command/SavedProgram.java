package keenfold.io.command;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.Model;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.OutsideModel;
import keenfold.io.InputException;

/**
 * A program with what it kept when it was trained: it is asked for predictions alone.
 *
 * @param classifier the program
 * @param fingerprint of its files when it was trained
 * @param classes labels, in their order
 * @param present indices of the classes that it was trained on
 * @param kept what it kept
 * @param seed that chance depends on
 */
public record SavedProgram(
        CommandClassifier classifier,
        String fingerprint,
        List<String> classes,
        List<Integer> present,
        KeptFiles kept,
        int seed)
        implements Model {
    private static final int MOST_SEED = Integer.MAX_VALUE;

    /** Copies the lists. */
    public SavedProgram {
        classes = List.copyOf(classes);
        present = List.copyOf(present);
    }

    /**
     * Makes a saved program again.
     *
     * @param programs where it is looked for, and whether it may be started
     * @throws IllegalArgumentException if the state is none of a program
     */
    public static SavedProgram of(OutsideModel model, Programs programs) {
        State state = model.learned();
        List<String> classes = state.texts("labels");
        Checks.that(classes.size() == model.classes(), "%d labels of %d classes", classes.size(), model.classes());
        return new SavedProgram(
                new CommandClassifier(state.texts("run"), programs),
                state.text("fingerprint"),
                classes,
                state.wholes("present", 0, classes.size() - 1),
                KeptFiles.of(state),
                state.whole("seed", 0, MOST_SEED));
    }

    @Override
    public double[] probabilities(Table table) {
        if (!classifier.programs().allowed()) {
            throw new InputException(
                    classifier.text(),
                    "is a program that makes the predictions of this model; if you trust it, let it with"
                            + " --allow-commands");
        }
        if (!classifier.fingerprint().equals(fingerprint)) {
            throw new FitFailure("its program (" + classifier.text()
                    + ") is not that which it was trained with: put the files that it runs beside the model, as they"
                    + " were then, or name their folder with --programs");
        }
        Task task = new Task(
                Task.Kind.PREDICT, classes, present, Optional.empty(), Optional.of(table), Optional.of(kept), seed);
        try (Exchange exchange = new Exchange(task)) {
            ProgramRun.of(classifier, exchange).await();
            return exchange.answer();
        }
    }

    @Override
    public boolean asksAnotherProgram() {
        return true;
    }

    @Override
    public Optional<LearnedModel> learned() {
        State state = State.of("program")
                .withTexts("run", classifier.run())
                .with("fingerprint", fingerprint)
                .withTexts("labels", classes)
                .withWholes("present", present)
                .with("seed", seed);
        return Optional.of(new OutsideModel(CommandKind.NAME, classes.size(), kept.add(state)));
    }

    @Override
    public double size() {
        return Double.NaN;
    }
}
