package keenfold.core.infer.contrast;

/**
 * How a candidate stands among all that are compared.
 *
 * @param candidate its index
 * @param pBest probability of so large a deficit to another candidate if it were the best; 1 if nothing can be shown
 * @param mayBeBest whether it may be the best: no other candidate is shown to be better
 * @param rankLow the best rank that it may have: 1 and how many are shown to be better than it
 * @param rankHigh the worst rank that it may have: how many are compared, less those shown to be worse than it
 * @param deficit how far its mean may lie below that of another, as far as that is not excluded; 0 or more, infinite where
 *     nothing can be shown
 */
public record Standing(int candidate, double pBest, boolean mayBeBest, int rankLow, int rankHigh, double deficit) {}
