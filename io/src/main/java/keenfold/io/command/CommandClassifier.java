package keenfold.io.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;
import keenfold.io.InputException;
import keenfold.io.Reason;

/**
 * A program that is trained and asked at once.
 *
 * @param run the program and its arguments, as the plan has them
 * @param programs where it is looked for, and whether it may be started
 */
public record CommandClassifier(List<String> run, Programs programs) implements Classifier {
    private static final int MOST_SEED = Integer.MAX_VALUE;

    /** Copies the words. */
    public CommandClassifier {
        run = List.copyOf(run);
    }

    @Override
    public Needs needs() {
        return Needs.NOTHING;
    }

    @Override
    public boolean readsTexts() {
        return true;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return new Program(this, training, chance.below(MOST_SEED));
    }

    /** Returns the program and its arguments in one line. */
    public String text() {
        return String.join(" ", run);
    }

    /** The words with the full paths of what lies beside the plan. A bare first word is looked for where the system does. */
    List<String> words() {
        List<String> words = new ArrayList<>(run);
        for (int i = 0; i < words.size(); i++) {
            String word = words.get(i);
            if (i > 0 || word.indexOf('/') >= 0) {
                words.set(i, beside(word).map(Path::toString).orElse(word));
            }
        }
        return words;
    }

    private Optional<Path> beside(String word) {
        try {
            return programs.folder()
                    .filter(f -> !word.isEmpty())
                    .map(f -> f.resolve(word).toAbsolutePath().normalize())
                    .filter(Files::exists);
        } catch (InvalidPathException e) {
            return Optional.empty();
        }
    }

    /**
     * Returns the SHA-256 of the files beside the plan that the words name; a program that has changed is another candidate.
     */
    public String fingerprint() {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            for (String word : run) {
                Optional<Path> file = beside(word).filter(Files::isRegularFile);
                if (file.isPresent()) {
                    digest.update(Files.readAllBytes(file.get()));
                }
            }
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        } catch (IOException e) {
            throw new InputException(text(), "a file that it runs cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** What is asked is trained first, by the program itself. */
    private record Program(CommandClassifier classifier, Training training, int seed) implements Model {
        @Override
        public double[] probabilities(Table table) {
            try (Exchange exchange = new Exchange(Task.fit(training, table, seed))) {
                ProgramRun.of(classifier, exchange).await();
                return exchange.answer();
            }
        }

        @Override
        public boolean trainsAsItPredicts() {
            return true;
        }

        @Override
        public boolean asksAnotherProgram() {
            return true;
        }

        /** The program is trained to be kept, which is another call of it. */
        @Override
        public Optional<LearnedModel> learned() {
            try (Exchange exchange = new Exchange(Task.train(training, seed))) {
                ProgramRun.of(classifier, exchange).await();
                return new SavedProgram(
                                classifier,
                                classifier.fingerprint(),
                                training.labels(),
                                Task.present(training),
                                exchange.kept(),
                                seed)
                        .learned();
            }
        }

        @Override
        public double size() {
            return Double.NaN;
        }
    }
}
