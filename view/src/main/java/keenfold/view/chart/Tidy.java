package keenfold.view.chart;

import java.awt.geom.PathIterator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.w3c.dom.Element;
import org.w3c.dom.Node;

/** Makes drawings small: the same strokes in fewer letters, to a twentieth of a point. */
final class Tidy {
    private static final List<String> NEEDLESS = List.of("text-rendering", "font-family", "stroke-linejoin");
    private static final List<String> COLOURS = List.of("fill", "stroke");
    private static final Pattern COLOUR = Pattern.compile("rgb\\((\\d+),(\\d+),(\\d+)\\)");

    private Tidy() {}

    /** Leaves out what does not matter, from an element and all in it. */
    static void tidy(Element element) {
        NEEDLESS.forEach(element::removeAttribute);
        if (element.getAttribute("stroke-linecap").equals("butt")) {
            element.removeAttribute("stroke-linecap");
        }
        if (element.getTagName().equals("g")
                && element.getElementsByTagName("text").getLength() == 0) {
            element.removeAttribute("font-size");
            element.removeAttribute("font-weight");
        }
        if (element.getTagName().equals("text")) {
            element.removeAttribute("xml:space");
        }
        for (Node child = element.getFirstChild(); child != null; child = child.getNextSibling()) {
            if (child instanceof Element one) {
                tidy(one);
            }
        }
    }

    /** Writes colours as hexadecimal numbers. */
    static void colours(Element element) {
        for (String name : COLOURS) {
            String value = element.getAttribute(name);
            Matcher matcher = COLOUR.matcher(value);
            if (value.startsWith("rgb") && matcher.matches()) {
                element.setAttribute(
                        name,
                        String.format(
                                Locale.ROOT,
                                "#%02x%02x%02x",
                                Integer.parseInt(matcher.group(1)),
                                Integer.parseInt(matcher.group(2)),
                                Integer.parseInt(matcher.group(3))));
            }
        }
        for (Node child = element.getFirstChild(); child != null; child = child.getNextSibling()) {
            if (child instanceof Element one) {
                colours(one);
            }
        }
    }

    /**
     * Writes a path of straight lines relative to where it has come, so that rounding does not add up; empty if it has
     * others.
     */
    static Optional<String> path(PathIterator path) {
        StringBuilder text = new StringBuilder();
        double[] to = new double[6];
        long x = 0;
        long y = 0;
        char last = ' ';
        for (; !path.isDone(); path.next()) {
            int kind = path.currentSegment(to);
            if (kind == PathIterator.SEG_CLOSE) {
                text.append('z');
                last = 'z';
                continue;
            }
            if (kind != PathIterator.SEG_MOVETO && kind != PathIterator.SEG_LINETO) {
                return Optional.empty();
            }
            long toX = Math.round(to[0] * 10);
            long toY = Math.round(to[1] * 10);
            if (kind == PathIterator.SEG_MOVETO) {
                text.append('M').append(number(toX)).append(separated(number(toY)));
                last = 'M';
            } else if (toX == x && toY == y) {
                continue;
            } else if (toX == x) {
                last = add(text, 'v', last, number(toY - y));
            } else if (toY == y) {
                last = add(text, 'h', last, number(toX - x));
            } else {
                last = add(text, 'l', last, number(toX - x) + separated(number(toY - y)));
            }
            x = toX;
            y = toY;
        }
        return Optional.of(text.toString());
    }

    private static char add(StringBuilder text, char command, char last, String numbers) {
        text.append(command == last ? separated(numbers) : command + numbers);
        return command;
    }

    private static String separated(String number) {
        return number.startsWith("-") ? number : " " + number;
    }

    private static String number(long tenths) {
        long size = Math.abs(tenths);
        String whole = size >= 10 || size == 0 ? Long.toString(size / 10) : "";
        return (tenths < 0 ? "-" : "") + whole + (size % 10 == 0 ? "" : "." + size % 10);
    }
}
