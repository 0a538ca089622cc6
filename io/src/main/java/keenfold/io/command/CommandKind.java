package keenfold.io.command;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.classify.MoreClassifiers;
import keenfold.core.classify.Tier;
import keenfold.core.classify.catalog.Models;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.learned.OutsideModel;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.run.candidate.Candidate;

/** The kind of classifier that is a program of the user's. */
public final class CommandKind implements MoreClassifiers {
    /** Its name in plans. */
    public static final String NAME = "command";

    private static final Setting RUN = Setting.names(
            "run",
            "the program and its arguments; what names a file beside the plan is handed over with its full path");

    private static final About ABOUT = new About(
            "for each fit the program is started once in an empty folder of its own, with the training rows in train.csv, the"
                    + " test rows in test.csv and names, kinds and a seed in about.json; it writes the probability of each class"
                    + " for each test row to probabilities.csv; docs/command.md has an example; its time cannot be told apart"
                    + " and is all counted as training",
            "not known: it counts as the least simple of its tier",
            "the user's own");

    @Override
    public List<ClassifierKind> kinds() {
        return List.of(kind(Programs.NONE, false));
    }

    /** Returns a kind whose programs are looked for beside a plan; any other kind as it is. */
    public static ClassifierKind in(Programs programs, ClassifierKind kind) {
        return kind.name().equals(NAME) ? kind(programs, true) : kind;
    }

    private static ClassifierKind kind(Programs programs, boolean needsRun) {
        return new ClassifierKind(
                        NAME,
                        "a program of your own; it runs only with --allow-commands",
                        ABOUT,
                        List.of(RUN, Tier.SETTING),
                        s -> {
                            Checks.that(
                                    !needsRun || !s.names(RUN).isEmpty(),
                                    "command: run is missing: name the program and its arguments, such as run: [python3,"
                                            + " my_model.py]");
                            return new CommandClassifier(s.names(RUN), programs);
                        },
                        Optional.empty())
                .inTier(Tier.LAST, "nothing is known of it, unless it says its tier")
                .restoring(CommandKind::unstarted);
    }

    /** A model file is read without a program being started: {@link #restorer} says where it is, and lets it. */
    private static Model unstarted(State state) {
        return SavedProgram.of(new OutsideModel(NAME, state.texts("labels").size(), state), Programs.NONE);
    }

    /** Returns what makes models of kinds from outside again, programs among them. */
    public static Function<OutsideModel, Model> restorer(Programs programs) {
        return model -> model.of().equals(NAME) ? SavedProgram.of(model, programs) : Models.ofKind(model);
    }

    /** Returns the program of a candidate, if it is one. */
    public static Optional<CommandClassifier> of(Candidate candidate) {
        return candidate.kind().name().equals(NAME)
                        && candidate.recipe().classifier(candidate.settings()) instanceof CommandClassifier command
                ? Optional.of(command)
                : Optional.empty();
    }

    /** Returns SHA-256 of the files of each program that fitting a candidate starts; nothing if it starts none. */
    public static Optional<String> fingerprint(Candidate candidate) {
        List<String> programs = startedBy(candidate).stream()
                .map(CommandClassifier::fingerprint)
                .toList();
        return programs.isEmpty() ? Optional.empty() : Optional.of(String.join(" ", programs));
    }

    /** Returns the programs that fitting a candidate starts: its own, and those of its members and their members. */
    public static List<CommandClassifier> startedBy(Candidate candidate) {
        return Stream.concat(
                        of(candidate).stream(),
                        candidate.recipe().members().stream().flatMap(m -> startedBy(m).stream()))
                .distinct()
                .toList();
    }
}
