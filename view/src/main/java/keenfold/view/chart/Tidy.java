package keenfold.view.chart;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.List;
import java.util.Locale;
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
        if (element.hasAttribute("d")) {
            element.setAttribute("d", path(element.getAttribute("d")));
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
            Matcher matcher = COLOUR.matcher(element.getAttribute(name));
            if (matcher.matches()) {
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

    /** Writes a path of straight lines relative to where it has come, so that rounding does not add up. */
    static String path(String absolute) {
        if (!absolute.matches("[MLZ0-9. -]*")) {
            return absolute;
        }
        StringBuilder text = new StringBuilder();
        String[] words = absolute.replaceAll("([MLZ])", " $1 ").strip().split("\\s+", -1);
        long x = 0;
        long y = 0;
        int at = 0;
        char last = ' ';
        while (at < words.length) {
            char command = words[at++].charAt(0);
            if (command == 'Z') {
                text.append('z');
                last = 'z';
                continue;
            }
            long toX = tenths(words[at++]);
            long toY = tenths(words[at++]);
            if (command == 'M') {
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
        return text.toString();
    }

    private static char add(StringBuilder text, char command, char last, String numbers) {
        text.append(command == last ? separated(numbers) : command + numbers);
        return command;
    }

    private static String separated(String number) {
        return number.startsWith("-") ? number : " " + number;
    }

    private static long tenths(String number) {
        return new BigDecimal(number)
                .movePointRight(1)
                .setScale(0, RoundingMode.HALF_EVEN)
                .longValueExact();
    }

    private static String number(long tenths) {
        String text = BigDecimal.valueOf(tenths, 1).stripTrailingZeros().toPlainString();
        return text.startsWith("0.") ? text.substring(1) : text.startsWith("-0.") ? "-" + text.substring(2) : text;
    }
}
