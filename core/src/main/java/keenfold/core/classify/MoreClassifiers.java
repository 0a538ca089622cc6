package keenfold.core.classify;

import java.util.List;

/**
 * Kinds of classifiers from outside: what a plug-in implements, and names in {@code
 * META-INF/services/keenfold.core.classify.MoreClassifiers} of its jar, with a public constructor without arguments.
 * docs/plug-ins.md has an example.
 */
public interface MoreClassifiers {
    /** Returns the kinds; their names must be new. */
    List<ClassifierKind> kinds();
}
