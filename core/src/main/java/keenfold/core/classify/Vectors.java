package keenfold.core.classify;

/** What is computed of rows of numbers again and again. */
public final class Vectors {
    private Vectors() {}

    /** Returns Σ a·b. Four running sums let the processor overlap the additions; their order is fixed, so the result is too. */
    public static double dot(double[] a, double[] b) {
        double s0 = 0;
        double s1 = 0;
        double s2 = 0;
        double s3 = 0;
        int i = 0;
        for (; i + 3 < a.length; i += 4) {
            s0 += a[i] * b[i];
            s1 += a[i + 1] * b[i + 1];
            s2 += a[i + 2] * b[i + 2];
            s3 += a[i + 3] * b[i + 3];
        }
        for (; i < a.length; i++) {
            s0 += a[i] * b[i];
        }
        return (s0 + s1) + (s2 + s3);
    }

    /** Returns the greatest absolute value; 0 of none. */
    public static double largest(double[] values) {
        double most = 0;
        for (double v : values) {
            most = Math.max(most, Math.abs(v));
        }
        return most;
    }
}
