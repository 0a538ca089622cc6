package keenfold.cli;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;

/** What a stranger, or a slip, may do to a text: values, lines, tokens and bytes are put elsewhere or made odd. */
final class Mutations {
    private static final List<String> ODD = List.of(
            "",
            " ",
            "0",
            "-1",
            "1",
            "2",
            "1e999",
            "-1e308",
            "NaN",
            "nan",
            "Infinity",
            "NA",
            "?",
            "null",
            "~",
            "true",
            "no",
            "2147483647",
            "2147483648",
            "-2147483648",
            "9223372036854775808",
            "1.0",
            "01",
            "1,5",
            "1 000",
            "0x1p3",
            "=1+1",
            "\u001B[2J",
            "\u001B]0;x\u0007",
            "\u0000",
            "\u202Eabc",
            "\u200B",
            "\uFEFF",
            "\u2028",
            "\uD83D\uDC1D",
            "ä",
            "\r",
            "\n",
            "\t",
            "\"",
            "\"\"",
            "'",
            "`",
            "|",
            ";",
            ":",
            "#",
            "#x",
            "/",
            "../x",
            "/etc/passwd",
            "-",
            "--help",
            "a,b",
            "[",
            "]",
            "{",
            "}",
            "[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[",
            "&a",
            "*a",
            "!!java.net.URL [x]",
            "<<: *a",
            "%",
            "%s%n",
            "x".repeat(3000),
            "2026-02-30",
            "2026-01-01",
            "no\u00A0",
            "yes ",
            "Yes",
            "{vary: [1, 2]}",
            "{choose: [1]}",
            "{from: 1, to: 5, points: 3}",
            "command",
            "adopted",
            "leave-one-out",
            "given",
            "5s",
            "0.5",
            "1e-300");
    private static final Pattern NUMBER = Pattern.compile("(?<=[:\\[,])-?[0-9]+(\\.[0-9]+)?(E-?[0-9]+)?(?=[,\\]}])");
    private static final Pattern WORD = Pattern.compile("\"[^\"\\\\]{0,40}\"");
    private static final Pattern TOKEN = Pattern.compile("[A-Za-z0-9_.+-]+|[^\\sA-Za-z0-9_.+-]");

    private final SplittableRandom chance;

    Mutations(SplittableRandom chance) {
        this.chance = chance;
    }

    SplittableRandom chance() {
        return chance;
    }

    String odd() {
        return one(ODD);
    }

    <T> T one(List<T> of) {
        return of.get(chance.nextInt(of.size()));
    }

    /** Changes a text in one to four places. */
    String text(String of) {
        String text = of;
        for (int i = chance.nextInt(4); i >= 0; i--) {
            text = chance.nextInt(3) == 0 ? lines(text) : tokens(text);
        }
        return text;
    }

    private String tokens(String text) {
        List<MatchResult> tokens = TOKEN.matcher(text).results().toList();
        if (tokens.isEmpty()) {
            return odd();
        }
        MatchResult at = one(tokens);
        String other =
                switch (chance.nextInt(5)) {
                    case 0 -> "";
                    case 1 -> at.group() + at.group();
                    case 2 -> one(tokens).group();
                    default -> odd();
                };
        return text.substring(0, at.start()) + other + text.substring(at.end());
    }

    private String lines(String text) {
        List<String> lines = new ArrayList<>(List.of(text.split("\n", -1)));
        int at = chance.nextInt(lines.size());
        switch (chance.nextInt(5)) {
            case 0 -> lines.remove(at);
            case 1 -> lines.add(at, one(lines));
            case 2 ->
                lines.set(at, " ".repeat(chance.nextInt(5)) + lines.get(at).strip());
            case 3 -> lines.set(at, lines.get(at) + odd());
            default -> lines.subList(at, lines.size()).clear();
        }
        return String.join("\n", lines);
    }

    /** Changes one to three numbers, words or list items of a JSON document, which stays one. */
    String json(String of) {
        String text = of;
        for (int i = chance.nextInt(3); i >= 0; i--) {
            boolean number = chance.nextInt(3) > 0;
            List<MatchResult> all =
                    (number ? NUMBER : WORD).matcher(text).results().toList();
            if (!all.isEmpty()) {
                MatchResult at = one(all);
                String other = number
                        ? one(List.of(
                                "-1",
                                "0",
                                "1",
                                "2",
                                "3",
                                "7",
                                "-5",
                                "0.5",
                                "-0.1",
                                "1e308",
                                "-1e308",
                                "1e-320",
                                "2147483647",
                                "-2147483648",
                                "4294967296",
                                "1,1",
                                "{\"number\":\"nan\"}",
                                "{\"number\":\"inf\"}",
                                "[]",
                                "\"x\"",
                                "null",
                                "true"))
                        : one(all).group();
                text = text.substring(0, at.start()) + other + text.substring(at.end());
            }
        }
        return text;
    }

    /** Changes one cell, row or mark of delimited text. */
    String table(String of, char separator) {
        List<String> lines = new ArrayList<>(List.of(of.split("\n", -1)));
        int at = chance.nextInt(Math.max(1, lines.size() - 1));
        if (chance.nextInt(4) == 0) {
            return text(of);
        }
        List<String> cells =
                new ArrayList<>(List.of(lines.get(at).split(Pattern.quote(String.valueOf(separator)), -1)));
        int cell = chance.nextInt(cells.size());
        switch (chance.nextInt(6)) {
            case 0 -> cells.remove(cell);
            case 1 -> cells.add(cell, odd());
            case 2 -> cells.set(cell, '"' + odd().replace("\"", "\"\"") + '"');
            case 3 -> cells.set(cell, cells.get(cell) + odd());
            default -> cells.set(cell, odd());
        }
        lines.set(at, String.join(String.valueOf(separator), cells));
        return String.join(chance.nextInt(20) == 0 ? "\r\n" : "\n", lines);
    }

    /** Changes some bytes, or cuts the end off. */
    byte[] bytes(byte[] of) {
        byte[] bytes = of.clone();
        if (bytes.length == 0) {
            return bytes;
        }
        if (chance.nextInt(4) == 0) {
            return java.util.Arrays.copyOf(bytes, chance.nextInt(bytes.length));
        }
        for (int i = chance.nextInt(3); i >= 0; i--) {
            bytes[chance.nextInt(bytes.length)] ^= (byte) (1 << chance.nextInt(8));
        }
        return bytes;
    }

    /** A text as bytes, now and then of another encoding. */
    byte[] encoded(String text) {
        return switch (chance.nextInt(30)) {
            case 0 -> text.getBytes(StandardCharsets.UTF_16);
            case 1 -> text.getBytes(StandardCharsets.ISO_8859_1);
            case 2 -> ("\uFEFF" + text).getBytes(StandardCharsets.UTF_8);
            case 3 -> bytes(text.getBytes(StandardCharsets.UTF_8));
            default -> text.getBytes(StandardCharsets.UTF_8);
        };
    }
}
