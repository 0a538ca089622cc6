package keenfold.core.prepare;

/**
 * Moves each number column to run from {@code low} to {@code high} over the training rows.
 *
 * <p>Definition: low + (high − low)·(x − least)/(greatest − least). Values beyond the training rows' land beyond the ends.
 * A column that is constant in the training rows is dropped.
 */
record Rescale(double low, double high, Some some) implements StepOnSome {
    Rescale {
        if (!(low < high)) {
            throw new IllegalArgumentException("rescale: low = " + low + " is not below high = " + high);
        }
    }

    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    Moments m = Moments.of(n, training);
                    return m.varies() ? new Change.Rescaled(low, high, m.low(), m.high()) : Change.DROP;
                },
                k -> Change.KEEP);
    }
}
