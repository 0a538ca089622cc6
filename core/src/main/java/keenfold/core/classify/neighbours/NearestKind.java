package keenfold.core.classify.neighbours;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.learned.NearestRows;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Settings;

/** The kind of {@link NearestNeighbours}: settings, presets and how it is made. */
public final class NearestKind {
    private static final Setting NEIGHBOURS =
            Setting.whole("neighbours", 5, 1, Simpler.HIGHER, "how many nearest training rows vote");
    private static final Setting DISTANCE = Setting.word(
            "distance",
            "euclidean",
            List.of("euclidean", "manhattan", "chebyshev", "mixed"),
            "how far two rows are apart");
    private static final Setting VOTES =
            Setting.word("votes", "even", List.of("even", "by-distance"), "whether nearer rows count more");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "nearest",
                    "class shares among the nearest training rows",
                    new About(
                            "the nearest training rows vote, alike or by 1/distance; rows tied at the last distance share the places"
                                    + " that are left; mixed is the mean over the columns that both rows have of |x - y|/range for"
                                    + " numbers and 0 or 1 for levels, and takes categories and gaps as they are",
                            "training rows / neighbours, times K - 1",
                            "Cover and Hart (1967), IEEE Trans. Inf. Theory 13(1), doi:10.1109/TIT.1967.1053964; mixed: Gower (1971),"
                                    + " Biometrics 27(4), doi:10.2307/2528823"),
                    List.of(NEIGHBOURS, DISTANCE, VOTES),
                    NearestKind::nearest,
                    Optional.of((all, training, fresh) -> NearestNeighbours.joint(
                            all.stream().map(NearestKind::nearest).toList(), training)))
            .inTier(4, "a prediction can be checked by the rows that it comes from");

    private NearestKind() {}

    private static NearestNeighbours nearest(Settings s) {
        return new NearestNeighbours(
                s.whole(NEIGHBOURS),
                s.constant(DISTANCE, NearestRows.Distance.class),
                s.text(VOTES).equals("by-distance"));
    }
}
