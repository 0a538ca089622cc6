package keenfold.core.infer.contrast;

import java.util.Optional;
import keenfold.core.infer.resample.Variance;

/** Tests nothing: there are too few fold scores, and nothing else, to tell how far a difference is by chance. */
public final class Untested implements Tester {
    @Override
    public PairResult find(int candidate, int against, Pairing pairing) {
        double no = Double.NaN;
        return new PairResult(
                candidate,
                against,
                pairing.difference(),
                new Variance(no, no, no, no, no, no),
                no,
                PairResult.Bounds.none(),
                Optional.empty(),
                "not tested");
    }

    @Override
    public boolean calls() {
        return false;
    }
}
