package keenfold.core.prepare;

/**
 * Draws in the far values of number columns by a logarithm that takes any number.
 *
 * <p>Definition: sign(x)·ln(1 + |x|/unit), the modulus transformation of John and Draper (1980), Appl. Statist. 29(2),
 * doi:10.2307/2986305, with exponent 0. It learns nothing.
 *
 * @param unit about where it goes over from straight to logarithmic, above 0
 */
record Log(double unit, Some some) implements StepOnSome {
    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(training, some, n -> new Change.Logged(unit), k -> Change.KEEP);
    }
}
