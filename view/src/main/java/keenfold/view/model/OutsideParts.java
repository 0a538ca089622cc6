package keenfold.view.model;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Decimals;
import keenfold.core.data.Plural;
import keenfold.core.data.State;

/** What can be said of values whose meaning only a classifier from outside knows: their names, and how much there is. */
final class OutsideParts implements State.Reader {
    private static final int LONGEST = 60;

    private final List<List<Object>> rows = new ArrayList<>();

    private OutsideParts() {}

    /** Returns a row a value. */
    static List<List<Object>> of(State learned) {
        OutsideParts parts = new OutsideParts();
        learned.read(parts);
        return parts.rows;
    }

    private void add(String key, String value) {
        rows.add(List.of(key, value));
    }

    @Override
    public void number(String key, double number) {
        add(key, Decimals.exact(number));
    }

    @Override
    public void numbers(String key, double[] numbers) {
        add(key, Plural.of(numbers.length, "number"));
    }

    @Override
    public void text(String key, String text) {
        add(key, text.length() > LONGEST ? Plural.of(text.length(), "character") : text);
    }

    @Override
    public void texts(String key, List<String> texts) {
        // In full: it may be the command that a model runs, which nobody should have to guess.
        add(key, String.join(" ", texts));
    }

    @Override
    public void part(String key, State part) {
        add(key, part.kind());
    }

    @Override
    public void parts(String key, List<State> parts) {
        add(key, Plural.of(parts.size(), "part"));
    }
}
