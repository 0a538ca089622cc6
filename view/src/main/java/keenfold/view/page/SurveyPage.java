package keenfold.view.page;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.core.survey.Breakdown;
import keenfold.results.Survey;
import keenfold.results.table.NumberFormats;
import keenfold.view.text.SurveyView;
import keenfold.view.text.Wrap;

/** A survey as one HTML page: what is to be looked into, then a card with a picture for each column. */
public final class SurveyPage {
    /** Classes that have a row of bars; of more, the most frequent ones. */
    private static final int MOST_CLASSES = 6;

    /** Levels that have a bar; of more, the most frequent ones. */
    private static final int MOST_LEVELS = 12;

    /** Bars that each have their name. */
    private static final int MOST_NAMED = 5;

    private static final int WIDTH = 280;
    private static final int LEFT = 66;
    private static final int BAR = 24;

    private SurveyPage() {}

    /**
     * What stands on the page.
     *
     * @param about rows and columns
     * @param heading of the cards
     * @param lead how to read them
     */
    public record Content(
            String title, String about, List<String> notices, String heading, String lead, List<Card> cards) {
        /** Copies the lists. */
        public Content {
            notices = List.copyOf(notices);
            cards = List.copyOf(cards);
        }
    }

    /**
     * A column.
     *
     * @param about its kind, missing values and range
     * @param auc how well it tells the classes; empty if they were not named
     * @param svg its values by class
     */
    public record Card(String name, String about, String auc, String svg) {}

    /**
     * Returns the page as HTML that needs no other file.
     *
     * @param parts each column by class, in the order of the survey's columns
     */
    public static String html(Survey survey, List<Breakdown> parts, String version) {
        String target = survey.target().map(t -> t.name()).orElse("");
        List<Card> cards = IntStream.range(0, parts.size())
                .boxed()
                .filter(j -> !survey.columns().get(j).profile().name().equals(target))
                .sorted(Comparator.comparingDouble(
                        j -> -defined(survey.columns().get(j).auc())))
                .map(j -> card(survey.columns().get(j), parts.get(j)))
                .toList();
        boolean named = survey.target().isPresent();
        String lead = named
                ? "Each row of bars is a class: how its rows are spread over the values of the column, so that rows that"
                        + " look alike tell nothing; in brown missing values. " + SurveyView.ofRanking(survey)
                : "How the rows are spread over the values of each column.";
        return Templates.html(
                "survey.ftlh",
                new Content(
                        Wrap.visible(survey.name()),
                        SurveyView.size(survey) + ". " + version,
                        survey.notices().stream()
                                .map(Notice::sentence)
                                .map(t -> t + ".")
                                .toList(),
                        named ? "Columns by what they tell of " + Wrap.visible(target) : "Columns",
                        lead,
                        cards));
    }

    /** Where no classes are named, columns stay in their order. */
    private static double defined(double auc) {
        return Double.isNaN(auc) ? 0 : auc;
    }

    private static Card card(Survey.OfColumn column, Breakdown parts) {
        String missing = column.profile().missing() == 0
                ? ""
                : ", "
                        + NumberFormats.percent(column.profile().missing()
                                / (double) column.profile().rows()) + " missing";
        boolean cut = column.profile().numbers().isEmpty() && column.profile().distinct() > MOST_LEVELS;
        String about = word(column.kind()) + ", " + column.profile().distinct() + " different"
                + (cut ? ", the " + MOST_LEVELS + " most frequent shown" : "") + missing;
        String auc = Double.isNaN(column.auc()) ? "" : NumberFormats.fixed(column.auc(), 3);
        return new Card(Wrap.visible(column.profile().name()), about, auc, svg(column, parts));
    }

    private static String word(Survey.Kind kind) {
        return switch (kind) {
            case NUMBERS -> "numbers";
            case DATES -> "dates";
            case CATEGORIES, TWO_VALUES -> "values";
            case UNREAD -> "numbers, not plainly written";
        };
    }

    private static String svg(Survey.OfColumn column, Breakdown all) {
        Breakdown b = column.profile().numbers().isPresent() ? all : frequent(all);
        int[] totals = new int[b.classes().size()];
        all.parts().forEach(p -> IntStream.range(0, totals.length)
                .forEach(c -> totals[c] += p.counts().get(c)));
        List<Integer> classes = IntStream.range(0, totals.length)
                .boxed()
                .sorted(Comparator.comparingInt(c -> -totals[c]))
                .limit(MOST_CLASSES)
                .toList();
        double most = classes.stream()
                .flatMapToDouble(
                        c -> b.parts().stream().mapToDouble(p -> p.counts().get(c) / (double) Math.max(1, totals[c])))
                .max()
                .orElse(1);
        int height = classes.size() * (BAR + 4) + 16;
        double step = (WIDTH - LEFT) / (double) Math.max(1, b.parts().size());
        StringBuilder text = new StringBuilder(String.format(
                Locale.ROOT,
                "<svg viewBox=\"0 0 %d %d\" role=\"img\" aria-label=\"%s by class\">",
                WIDTH,
                height,
                escaped(Wrap.visible(b.column()))));
        for (int i = 0; i < classes.size(); i++) {
            int c = classes.get(i);
            int floor = i * (BAR + 4) + BAR;
            String label = b.classes().get(c);
            text.append(String.format(
                    Locale.ROOT,
                    "<text x=\"%d\" y=\"%d\" text-anchor=\"end\">%s</text><line x1=\"%d\" x2=\"%d\" y1=\"%d\" y2=\"%d\"/>",
                    LEFT - 5,
                    floor,
                    escaped(cut(Wrap.visible(label), 10)),
                    LEFT,
                    WIDTH,
                    floor,
                    floor));
            for (int p = 0; p < b.parts().size(); p++) {
                Breakdown.Part part = b.parts().get(p);
                double share = part.counts().get(c) / (double) Math.max(1, totals[c]);
                double tall = share == 0 ? 0 : Math.max(0.6, BAR * share / most);
                text.append(String.format(
                        Locale.ROOT,
                        "<rect%s x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\"><title>%s: %d of %d rows of %s (%s)</title></rect>",
                        part.label().equals(Breakdown.MISSING) ? " class=\"missing\"" : "",
                        LEFT + p * step,
                        floor - tall,
                        Math.max(1, step - 1.5),
                        tall,
                        escaped(Wrap.visible(part.label())),
                        part.counts().get(c),
                        totals[c],
                        escaped(Wrap.visible(label)),
                        NumberFormats.percent(share)));
            }
        }
        if (column.profile().numbers().isEmpty() && b.parts().size() <= MOST_NAMED) {
            names(text, b, step, height);
        } else {
            ends(text, b, height);
        }
        return text.append("</svg>").toString();
    }

    /** What each bar stands for. */
    private static void names(StringBuilder text, Breakdown b, double step, int height) {
        for (int p = 0; p < b.parts().size(); p++) {
            text.append(String.format(
                    Locale.ROOT,
                    "<text class=\"quiet\" x=\"%.1f\" y=\"%d\" text-anchor=\"middle\">%s</text>",
                    LEFT + (p + 0.5) * step,
                    height - 3,
                    escaped(cut(Wrap.visible(b.parts().get(p).label()).replace(Breakdown.MISSING, "missing"), (int)
                            (step / 5.8)))));
        }
    }

    /** What the first and the last bar stand for. */
    private static void ends(StringBuilder text, Breakdown b, int height) {
        List<String> labels = b.parts().stream()
                .map(Breakdown.Part::label)
                .filter(l -> !l.equals(Breakdown.MISSING))
                .toList();
        if (labels.isEmpty()) {
            return;
        }
        String first = labels.get(0).replaceFirst(" to .*", "");
        String last = labels.get(labels.size() - 1).replaceFirst(".* to ", "");
        text.append(String.format(
                Locale.ROOT, "<text class=\"quiet\" x=\"%d\" y=\"%d\">%s</text>", LEFT, height - 3, end(first)));
        if (labels.size() > 1) {
            text.append(String.format(
                    Locale.ROOT,
                    "<text class=\"quiet\" x=\"%d\" y=\"%d\" text-anchor=\"end\">%s</text>",
                    WIDTH,
                    height - 3,
                    end(last)));
        }
    }

    private static String end(String label) {
        return escaped(cut(Wrap.visible(label), 16));
    }

    /** The most frequent levels, those first. */
    private static Breakdown frequent(Breakdown all) {
        List<Breakdown.Part> sorted = all.parts().stream()
                .filter(p -> !p.label().equals(Breakdown.MISSING))
                .sorted(Comparator.comparingInt(p -> -p.total()))
                .toList();
        List<Breakdown.Part> parts = new ArrayList<>(sorted.subList(0, Math.min(MOST_LEVELS, sorted.size())));
        all.parts().stream().filter(p -> p.label().equals(Breakdown.MISSING)).forEach(parts::add);
        return new Breakdown(all.column(), all.classes(), parts);
    }

    private static String cut(String text, int most) {
        return text.length() <= most ? text : text.substring(0, most - 1) + "…";
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }
}
