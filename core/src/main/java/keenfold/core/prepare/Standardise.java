package keenfold.core.prepare;

/**
 * Shifts and scales each number column to mean 0 and standard deviation 1 over the training rows.
 *
 * <p>Definition: (x − m)/s with m the weighted mean and s² = Σw(x − m)²/Σw over the values that are not missing. A
 * column that is constant in the training rows is dropped: it tells nothing, and a test value off it would be measured on
 * no scale.
 */
record Standardise(Some some) implements StepOnSome {
    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    Moments m = Moments.of(n, training).finite(n.name());
                    return m.varies() ? new Change.Standardised(m.mean(), m.sd()) : Change.DROP;
                },
                k -> Change.KEEP);
    }
}
