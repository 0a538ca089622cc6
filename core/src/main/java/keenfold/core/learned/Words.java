package keenfold.core.learned;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Categories;

/**
 * The words of a text: the longest runs of letters, digits and the marks on them, in small letters. The words of "It's 3 pm" are
 * it, s, 3 and pm.
 *
 * <p>Letters, digits and marks are the general categories L, N and M of Unicode; small letters are those of each character by
 * itself, whatever the language.
 */
public final class Words {
    private static final int OF_WORDS = 1 << Character.UPPERCASE_LETTER
            | 1 << Character.LOWERCASE_LETTER
            | 1 << Character.TITLECASE_LETTER
            | 1 << Character.MODIFIER_LETTER
            | 1 << Character.OTHER_LETTER
            | 1 << Character.DECIMAL_DIGIT_NUMBER
            | 1 << Character.LETTER_NUMBER
            | 1 << Character.OTHER_NUMBER
            | 1 << Character.NON_SPACING_MARK
            | 1 << Character.COMBINING_SPACING_MARK
            | 1 << Character.ENCLOSING_MARK;

    private Words() {}

    /** Returns the words of a level of a column, in order, each as often as it is there. */
    public static List<String> of(String level) {
        String text = Categories.text(level);
        List<String> words = new ArrayList<>();
        StringBuilder word = new StringBuilder();
        for (int at = 0; at < text.length(); ) {
            int character = text.codePointAt(at);
            if ((OF_WORDS >> Character.getType(character) & 1) == 1) {
                word.appendCodePoint(Character.toLowerCase(character));
            } else if (!word.isEmpty()) {
                words.add(word.toString());
                word.setLength(0);
            }
            at += Character.charCount(character);
        }
        if (!word.isEmpty()) {
            words.add(word.toString());
        }
        return words;
    }
}
