package keenfold.core.classify.boosting;

/**
 * How trees grow.
 *
 * @param depth most splits between root and leaf
 * @param leaves most leaves; the split that gains most comes first
 * @param leafRows least weight of a leaf
 * @param ridge added to the second derivative of a leaf
 * @param rate by which a leaf's value is multiplied
 */
public record Growth(int depth, int leaves, double leafRows, double ridge, double rate) {}
