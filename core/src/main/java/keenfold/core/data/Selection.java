package keenfold.core.data;

/** The k-th smallest of unsorted numbers. */
public final class Selection {
    private Selection() {}

    /**
     * Returns the value that would stand at a position if the values were sorted; the array is reordered.
     *
     * <p>Hoare's quickselect with the median of three as pivot: O(n) on the average.
     */
    public static double smallest(double[] values, int position) {
        int low = 0;
        int high = values.length - 1;
        while (low < high) {
            double pivot = medianOfThree(values[low], values[(low + high) >>> 1], values[high]);
            int i = low;
            int j = high;
            while (i <= j) {
                while (values[i] < pivot) {
                    i++;
                }
                while (values[j] > pivot) {
                    j--;
                }
                if (i <= j) {
                    double kept = values[i];
                    values[i++] = values[j];
                    values[j--] = kept;
                }
            }
            if (position <= j) {
                high = j;
            } else if (position >= i) {
                low = i;
            } else {
                return values[position];
            }
        }
        return values[position];
    }

    private static double medianOfThree(double a, double b, double c) {
        return Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
    }
}
