package keenfold.core.prepare.step;

import java.util.List;
import java.util.OptionalDouble;
import keenfold.core.data.Numbers;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Makes number columns more like a normal distribution by a power.
 *
 * <p>Definition (Yeo and Johnson 2000, Biometrika 87(4), doi:10.1093/biomet/87.4.954): for x ≥ 0 ((x + 1)^λ − 1)/λ, or
 * ln(x + 1) at λ = 0; for x &lt; 0 −((1 − x)^(2 − λ) − 1)/(2 − λ), or −ln(1 − x) at λ = 2. Unless it is given, λ maximises
 * the normal log-likelihood of the training rows, −(W/2)·ln σ²(λ) + (λ − 1)·Σ w·sign(x)·ln(|x| + 1), within −3 … 5, to
 * 1e-6. Being concave in λ it is searched by golden sections. A column of fewer than two values is left as it is.
 *
 * @param exponent λ, fitted if absent
 */
record Power(OptionalDouble exponent, Some some) implements StepOnSome {
    private static final Setting EXPONENT = Setting.number(
                    "exponent", "fitted", Bounds.NONE, Simpler.NEITHER, "the power, of each column its own if fitted")
            .or("fitted");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "power",
            "makes number columns more like a normal distribution",
            new About(
                    "the Yeo-Johnson power of each column whose exponent, from -3 to 5, has the greatest normal likelihood in"
                            + " the training rows",
                    "",
                    "Yeo and Johnson (2000), Biometrika 87(4), doi:10.1093/biomet/87.4.954"),
            false,
            List.of(EXPONENT, Some.COLUMNS),
            s -> new Power(
                    s.text(EXPONENT).equals("fitted") ? OptionalDouble.empty() : OptionalDouble.of(s.number(EXPONENT)),
                    Some.of(s)));

    private static final double LEAST = -3;
    private static final double MOST = 5;
    private static final double TOLERANCE = 1e-6;
    private static final double GOLDEN = (Math.sqrt(5) - 1) / 2;

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(
                training,
                some,
                n -> {
                    if (exponent.isEmpty() && !Moments.of(n, training).varies()) {
                        return ColumnTransform.KEEP;
                    }
                    double lambda = exponent.isPresent() ? exponent.getAsDouble() : new Likelihood(n, training).best();
                    return new ColumnTransform.Powered(lambda);
                },
                k -> ColumnTransform.KEEP);
    }

    /** The profile likelihood of λ over one column. */
    private static final class Likelihood {
        private final double[] x;
        private final double[] log;
        private final double[] w;
        private double weight;
        private double slope;

        Likelihood(Numbers column, Training training) {
            int n = column.rows() - column.countMissing();
            x = new double[n];
            log = new double[n];
            w = new double[n];
            for (int i = 0, at = 0; i < column.rows(); i++) {
                if (!column.missing(i)) {
                    x[at] = column.get(i);
                    log[at] = StrictMath.log1p(Math.abs(x[at]));
                    w[at] = training.weight(i);
                    weight += w[at];
                    slope += w[at] * Math.copySign(log[at], x[at]);
                    at++;
                }
            }
        }

        double best() {
            double low = LEAST;
            double high = MOST;
            double left = high - GOLDEN * (high - low);
            double right = low + GOLDEN * (high - low);
            double atLeft = at(left);
            double atRight = at(right);
            while (high - low > TOLERANCE) {
                if (atLeft >= atRight) {
                    high = right;
                    right = left;
                    atRight = atLeft;
                    left = high - GOLDEN * (high - low);
                    atLeft = at(left);
                } else {
                    low = left;
                    left = right;
                    atLeft = atRight;
                    right = low + GOLDEN * (high - low);
                    atRight = at(right);
                }
            }
            return (low + high) / 2;
        }

        private double at(double lambda) {
            double sum = 0;
            double[] y = new double[x.length];
            for (int i = 0; i < y.length; i++) {
                y[i] = ColumnTransform.Powered.power(x[i], log[i], lambda);
                sum += w[i] * y[i];
            }
            double mean = sum / weight;
            double squares = 0;
            for (int i = 0; i < y.length; i++) {
                squares += w[i] * (y[i] - mean) * (y[i] - mean);
            }
            double likelihood = -weight / 2 * StrictMath.log(squares / weight) + (lambda - 1) * slope;
            return Double.isFinite(likelihood) ? likelihood : Double.NEGATIVE_INFINITY;
        }
    }
}
