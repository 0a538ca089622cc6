package keenfold.view.paper;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;

/** The papers and books that methods are cited by, as BibTeX. */
final class Literature {
    private static final Pattern ENTRY = Pattern.compile("(?ms)^@\\w+\\{(\\w+),.*?^}\n");

    private static final Map<String, String> ENTRIES = load();

    /** References of metrics, in the form of sentences. */
    private static final Map<String, String> METRICS = Map.ofEntries(
            Map.entry("auc", " {hand2001}"),
            Map.entry("average-precision", " {davis2006}"),
            Map.entry("brier", " {brier1950}"),
            Map.entry("kappa", " {cohen1960}"),
            Map.entry("mcc", " {matthews1975}"),
            Map.entry("log-loss", " {good1952}"),
            Map.entry("balanced-accuracy", " {brodersen2010}"));

    /** References of classifiers, in the form of sentences. */
    private static final Map<String, String> CLASSIFIERS = Map.ofEntries(
            Map.entry("majority", " {holte1993}"),
            Map.entry("logistic", " {lecessie1992}"),
            Map.entry("discriminant", " {fisher1936,friedman1989}"),
            Map.entry("naive-bayes", " {duda1973}"),
            Map.entry("nearest", " {cover1967}"),
            Map.entry("tree", " {breiman1984}"),
            Map.entry("forest", " {breiman2001}"),
            Map.entry("boosting", " {friedman2001}"),
            Map.entry("svm", " {cortes1995,platt1999}"),
            Map.entry("network", " {rumelhart1986}"),
            Map.entry("vote", " {kuncheva2004}"),
            Map.entry("stack", " {wolpert1992}"));

    private Literature() {}

    private static Map<String, String> load() {
        try (InputStream in = Literature.class.getResourceAsStream("literature.bib")) {
            if (in == null) {
                throw new IllegalStateException("literature.bib is not in the jar");
            }
            Map<String, String> entries = new LinkedHashMap<>();
            Matcher matcher = ENTRY.matcher(new String(in.readAllBytes(), StandardCharsets.UTF_8));
            while (matcher.find()) {
                entries.put(matcher.group(1), matcher.group());
            }
            return entries;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /**
     * Returns an entry.
     *
     * @throws IllegalArgumentException if there is none of this key
     */
    static String entry(String key) {
        String entry = ENTRIES.get(key);
        if (entry == null) {
            throw Checks.wrong("no entry " + key);
        }
        return entry;
    }

    /** Returns the reference of a classifier; empty of one that comes from outside. */
    static String ofClassifier(String kind) {
        return CLASSIFIERS.getOrDefault(kind, "");
    }

    /**
     * Returns the reference of a metric; empty where it speaks for itself.
     *
     * @param binary whether there are two classes everywhere
     */
    static String ofMetric(String metric, boolean binary) {
        if (metric.equals("auc") && binary) {
            return " {hanley1982}";
        }
        return METRICS.getOrDefault(metric.replaceFirst(":.*", ""), "");
    }
}
