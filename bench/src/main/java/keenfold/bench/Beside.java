package keenfold.bench;

import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.ToDoubleFunction;

/**
 * Times fits of two Keen Folds side by side, taking turns in one process: the archive of this one and that of another
 * commit. Prints the least times of each and their ratio, as a table of Markdown.
 */
public final class Beside {
    /** What takes longer, in nanoseconds, is timed once. */
    private static final long LONG = 3_000_000_000L;

    private Beside() {}

    /**
     * Runs it.
     *
     * @param arguments the other's {@code keenfold-all.jar}; how often each fit is timed; perhaps a word that the fits must
     *     contain
     */
    public static void main(String[] arguments) throws Exception {
        URL own = Beside.class.getProtectionDomain().getCodeSource().getLocation();
        URL other = Path.of(arguments[0]).toUri().toURL();
        int times = Integer.parseInt(arguments[1]);
        try (URLClassLoader before = new URLClassLoader(new URL[] {other, own}, ClassLoader.getPlatformClassLoader());
                URLClassLoader now = new URLClassLoader(new URL[] {own}, ClassLoader.getPlatformClassLoader())) {
            List<ToDoubleFunction<String>> both = List.of(timer(before), timer(now));
            System.out.println("| fit | before | now | ratio |\n|---|---|---|---|");
            for (String fit : fits()) {
                if (arguments.length > 2 && !fit.contains(arguments[2])) {
                    continue;
                }
                double[] least = {Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY};
                boolean slow = false;
                for (int t = 0; t < times && !(slow && t > 0); t++) {
                    for (int k = 0; k < 2; k++) {
                        long begin = System.nanoTime();
                        double ms = both.get(k).applyAsDouble(fit);
                        least[k] = Double.isNaN(ms) ? Double.NaN : Math.min(least[k], ms);
                        slow |= System.nanoTime() - begin > LONG;
                    }
                }
                System.out.printf(
                        Locale.ROOT,
                        "| `%s` | %s | %s | %.2f |%n",
                        fit,
                        text(least[0]),
                        text(least[1]),
                        least[1] / least[0]);
            }
        }
    }

    private static String text(double ms) {
        return Double.isNaN(ms) ? "fails" : String.format(Locale.ROOT, ms < 100 ? "%.1f ms" : "%.0f ms", ms);
    }

    @SuppressWarnings("unchecked")
    private static ToDoubleFunction<String> timer(ClassLoader loader) throws ReflectiveOperationException {
        return (ToDoubleFunction<String>)
                loader.loadClass(FitTime.class.getName()).getConstructor().newInstance();
    }

    private static List<String> fits() {
        List<String> fits = new ArrayList<>();
        for (String settings :
                List.of("strength=1", "strength=0.1", "penalty=lasso:strength=1", "penalty=lasso:strength=0.1")) {
            for (MadeUpTable table : MadeUpTable.SMALL) {
                fits.add("logistic:" + settings + shape(table));
                fits.add("folds/logistic:" + settings + shape(table));
            }
        }
        MadeUpTable dance = MadeUpTable.SMALL.get(2);
        String strengths = "0.1|0.2|0.5|1|2|5|10|20|50|100";
        fits.add("logistic:penalty=lasso:strength=" + strengths + shape(dance));
        MadeUpTable many = new MadeUpTable("many", 1800, 20, 2, 0.5, false);
        for (MadeUpTable table : List.of(MadeUpTable.SMALL.get(1), dance, many)) {
            for (String kind : Arrays.asList(
                    "forest",
                    "forest:thresholds=drawn",
                    "forest:bagged=no:thresholds=drawn",
                    "forest:bagged=no:depth=8",
                    "forest:bagged=no:depth=8:thresholds=drawn",
                    "boosting",
                    "boosting:depth=6")) {
                fits.add(kind + shape(table));
            }
        }
        for (int rows : new int[] {1000, 2000, 4000, 8000, 16000}) {
            fits.add("svm" + shape(new MadeUpTable("rows", rows, 10, 2, 0.3, false)));
        }
        return fits;
    }

    private static String shape(MadeUpTable table) {
        return " " + table.rows() + " " + table.columns() + " " + table.classes() + " " + table.spread() + " "
                + table.answers();
    }
}
