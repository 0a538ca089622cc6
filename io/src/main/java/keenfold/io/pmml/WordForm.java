package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import keenfold.core.learned.WordCounts;

/** Counts of words in a text, by the element for terms of a text. */
final class WordForm {
    /** What stands between words: all but letters, digits and the marks on them. */
    private static final String BETWEEN = "[^\\p{L}\\p{N}\\p{M}]+";

    private final Fields fields;
    private final Field column;

    WordForm(Fields fields, Field column) {
        this.fields = fields;
        this.column = column;
    }

    /** Returns the fields of the words. */
    List<Field> of(WordCounts counts) {
        String text = fields.category("text(" + column.column() + ")", Expression.filled(column.name(), ""));
        List<String> made = new ArrayList<>();
        for (int k = 0; k < counts.words().size(); k++) {
            String word = counts.words().get(k);
            double weight = counts.weights().get(k);
            Expression count = count(text, word);
            made.add(fields.number(
                    column.column() + "=" + word, weight == 1 ? count : apply("*", literal(weight), count)));
        }
        if (counts.unitLength() && !made.isEmpty()) {
            List<Expression> squares =
                    made.stream().map(m -> apply("*", ref(m), ref(m))).toList();
            String length = fields.number("length(" + column.column() + ")", apply("sqrt", Expression.sum(squares)));
            Expression none = apply("equal", ref(length), literal(0));
            made.replaceAll(m -> fields.number(m, apply("if", none, literal(0), apply("/", ref(m), ref(length)))));
        }
        List<Field> all = new ArrayList<>();
        for (int k = 0; k < made.size(); k++) {
            all.add(new Field(
                    made.get(k), column.column() + "=" + counts.words().get(k), true, List.of()));
        }
        return all;
    }

    private static Expression count(String text, String word) {
        return new Expression(Set.of(text), xml -> xml.open(
                        "TextIndex",
                        "textField",
                        text,
                        "localTermWeights",
                        "termFrequency",
                        "isCaseSensitive",
                        "false",
                        "countHits",
                        "allHits",
                        "wordSeparatorCharacterRE",
                        BETWEEN)
                .open("Constant", "dataType", "string")
                .text(word)
                .close()
                .close());
    }
}
