package keenfold.cli.console;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.SplittableRandom;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class VisibleOutputTest {
    private static String shown(String text, boolean emphasis, int pieces) throws IOException {
        ByteArrayOutputStream to = new ByteArrayOutputStream();
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        try (VisibleOutput out = new VisibleOutput(to, emphasis)) {
            for (int i = 0; i < bytes.length; i += pieces) {
                out.write(bytes, i, Math.min(pieces, bytes.length - i));
            }
        }
        return to.toString(StandardCharsets.UTF_8);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            textBlock =
                    """
            plain text, ä, 蜂, 🐝      | plain text, ä, 蜂, 🐝
            a\\u001B[2Jb               | a?[2Jb
            a\\u001B]0;title\\u0007b    | a?]0;title?b
            a\\u001Bb                  | a?b
            \\u001B\\u001B[31mred       | ??[31mred
            a\\rb\\bc\\u007F             | a?b?c?
            \\u0085\\u009B31m           | ??31m
            \\u200B\\u200D\\u200F        | ???
            \\u202Eabc\\u2066           | ?abc?
            a\\u2028b\\u2029c           | a?b?c
            \\uFEFFa\\u00AD             | ?a?
            \\uDB40\\uDC41x             | ?x
            """)
    void whatATerminalObeysOrHasNoShapeBecomesAQuestionMark(String text, String expected) throws IOException {
        String given = Pattern.compile("\\\\u([0-9A-F]{4})")
                .matcher(text)
                .replaceAll(m -> Matcher.quoteReplacement(String.valueOf((char) Integer.parseInt(m.group(1), 16))))
                .replace("\\r", "\r")
                .replace("\\b", "\b");
        for (int pieces : new int[] {1, 2, 3, 1000}) {
            assertThat(shown(given, true, pieces)).isEqualTo(expected);
        }
    }

    @Test
    void linesTabsAndOwnEmphasisPass() throws IOException {
        assertThat(shown("a\tb\n\u001B[1mc\u001B[0m\n", true, 1)).isEqualTo("a\tb\n\u001B[1mc\u001B[0m\n");
        assertThat(shown("\u001B[1mc\u001B[0m", false, 1)).isEqualTo("?[1mc?[0m");
        assertThat(shown("\u001B[7mc", true, 1000)).isEqualTo("?[7mc");
    }

    /** Whatever the bytes, and however they come, nothing gets through. */
    @Test
    void noBytesGetThrough() throws IOException {
        SplittableRandom chance = new SplittableRandom(5);
        for (int i = 0; i < 2000; i++) {
            byte[] bytes = new byte[chance.nextInt(40)];
            chance.nextBytes(bytes);
            ByteArrayOutputStream to = new ByteArrayOutputStream();
            try (VisibleOutput out = new VisibleOutput(to, false)) {
                int half = bytes.length / 2;
                out.write(bytes, 0, half);
                out.write(bytes, half, bytes.length - half);
            }
            assertThat(to.toString(StandardCharsets.UTF_8).codePoints())
                    .allMatch(c -> c == '\n' || c == '\t' || !Character.isISOControl(c))
                    .noneMatch(c -> Character.getType(c) == Character.FORMAT);
        }
    }
}
