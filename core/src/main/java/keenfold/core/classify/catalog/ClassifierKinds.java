package keenfold.core.classify.catalog;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.MoreClassifiers;
import keenfold.core.classify.baseline.MajorityKind;
import keenfold.core.classify.bayes.NaiveBayesKind;
import keenfold.core.classify.boosting.BoostingKind;
import keenfold.core.classify.discriminant.DiscriminantKind;
import keenfold.core.classify.ensemble.StackKind;
import keenfold.core.classify.ensemble.VoteKind;
import keenfold.core.classify.linear.LogisticKind;
import keenfold.core.classify.neighbours.NearestKind;
import keenfold.core.classify.network.NetworkKind;
import keenfold.core.classify.svm.SvmKind;
import keenfold.core.classify.tree.ForestKind;
import keenfold.core.classify.tree.TreeKind;
import keenfold.core.data.Checks;
import keenfold.core.data.ValueException;

/** The kinds of classifiers there are. */
public final class ClassifierKinds {
    private static final List<ClassifierKind> ALL = List.of(
            MajorityKind.KIND,
            LogisticKind.KIND,
            DiscriminantKind.KIND,
            NearestKind.KIND,
            NaiveBayesKind.KIND,
            TreeKind.KIND,
            ForestKind.KIND,
            BoostingKind.KIND,
            SvmKind.KIND,
            NetworkKind.KIND,
            VoteKind.KIND,
            StackKind.of(List.of(
                    LogisticKind.KIND,
                    DiscriminantKind.KIND,
                    NearestKind.KIND,
                    NaiveBayesKind.KIND,
                    TreeKind.KIND,
                    ForestKind.KIND,
                    BoostingKind.KIND)));

    private ClassifierKinds() {}

    /**
     * Returns all kinds, the simplest first, those from outside last.
     *
     * @throws IllegalArgumentException if a plug-in cannot be used, with the reason
     */
    public static List<ClassifierKind> all() {
        return Stream.concat(ALL.stream(), Outside.kinds().stream()).toList();
    }

    /**
     * Returns the kind of a name.
     *
     * @throws IllegalArgumentException if none of the core has that name and a plug-in cannot be used, with the reason
     */
    public static Optional<ClassifierKind> of(String name) {
        return ALL.stream()
                .filter(k -> k.name().equals(name))
                .findFirst()
                // Plug-ins are looked for only when they are wanted.
                .or(() -> Outside.kinds().stream()
                        .filter(k -> k.name().equals(name))
                        .findFirst());
    }

    /** Kinds from outside the core, found once. */
    private static final class Outside {
        private static final Outside FOUND = new Outside();

        private final List<ClassifierKind> kinds;
        private final Optional<ValueException> refused;

        private Outside() {
            List<ClassifierKind> found = List.of();
            Optional<ValueException> why = Optional.empty();
            try {
                found = find(ServiceLoader.load(MoreClassifiers.class));
            } catch (ValueException e) {
                why = Optional.of(e);
            }
            this.kinds = found;
            this.refused = why;
        }

        static List<ClassifierKind> kinds() {
            if (FOUND.refused.isPresent()) {
                throw Checks.wrong(String.valueOf(FOUND.refused.get().getMessage()), FOUND.refused.get());
            }
            return FOUND.kinds;
        }
    }

    /** Gathers the kinds of plug-ins, refusing names that are taken. */
    static List<ClassifierKind> find(Iterable<MoreClassifiers> sources) {
        List<ClassifierKind> kinds = new ArrayList<>();
        try {
            for (MoreClassifiers source : sources) {
                for (ClassifierKind kind : source.kinds()) {
                    Checks.that(
                            Stream.concat(ALL.stream(), kinds.stream())
                                    .noneMatch(k -> k.name().equals(kind.name())),
                            "the plug-in %s brings a classifier called \"%s\", but there is one of that name already",
                            source.getClass().getName(),
                            kind.name());
                    Checks.that(
                            kind.name().matches("[a-z][a-z0-9-]*"),
                            "the plug-in %s brings a classifier called \"%s\": a name is made of small letters, digits"
                                    + " and hyphens",
                            source.getClass().getName(),
                            kind.name());
                    kinds.add(kind);
                }
            }
        } catch (ServiceConfigurationError | LinkageError e) {
            throw Checks.wrong("a plug-in cannot be loaded: " + e.getMessage(), e);
        }
        kinds.sort(Comparator.comparing(ClassifierKind::name));
        return List.copyOf(kinds);
    }
}
