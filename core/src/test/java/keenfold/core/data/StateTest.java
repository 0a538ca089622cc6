package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class StateTest {
    private static final State WHOLE = State.of("hive")
            .with("frames", 9)
            .with("gap", Double.NaN)
            .with("yields", new double[] {1.5, -0.0, Double.NEGATIVE_INFINITY})
            .with("codes", new int[] {3, 0, 2})
            .withRows("table", List.of(Vector.of(1, 2), Vector.of(3, 4)))
            .with("queen", "marked")
            .withTexts("races", List.of("dark", "carnica"))
            .with("site", State.of("site").with("height", 302))
            .withParts(
                    "boxes",
                    List.of(State.of("box").with("full", true), State.of("box").with("full", false)))
            .withTexts("none", List.of());

    enum Colour {
        AMBER,
        PALE
    }

    @Test
    void valuesComeBackAsTheyWere() {
        assertThat(WHOLE.kind()).isEqualTo("hive");
        assertThat(WHOLE.number("frames")).isEqualTo(9);
        assertThat(WHOLE.number("gap")).isNaN();
        assertThat(WHOLE.numbers("yields").toArray()).containsExactly(1.5, -0.0, Double.NEGATIVE_INFINITY);
        assertThat(WHOLE.wholes("codes", 0, 3)).containsExactly(3, 0, 2);
        assertThat(WHOLE.rows("table", 2)).containsExactly(Vector.of(1, 2), Vector.of(3, 4));
        assertThat(WHOLE.text("queen")).isEqualTo("marked");
        assertThat(WHOLE.texts("races")).containsExactly("dark", "carnica");
        assertThat(WHOLE.part("site").whole("height", 0, 9000)).isEqualTo(302);
        assertThat(WHOLE.parts("boxes").get(0).truth("full")).isTrue();
        assertThat(WHOLE.parts("boxes").get(1).truth("full")).isFalse();
        assertThat(State.of("c").with("is", "PALE").named("is", Colour.class)).isEqualTo(Colour.PALE);
        assertThat(WHOLE.has("queen")).isTrue();
        assertThat(WHOLE.has("king")).isFalse();
    }

    /** A list of nothing is one of numbers, texts and parts alike: a file cannot tell them apart. */
    @Test
    void nothingIsAListOfAnything() {
        assertThat(WHOLE.texts("none")).isEmpty();
        assertThat(WHOLE.numbers("none").size()).isZero();
        assertThat(WHOLE.parts("none")).isEmpty();
        State numbers = State.of("n").with("none", new double[0]);
        assertThat(numbers.texts("none")).isEmpty();
        assertThat(numbers.rows("none")).isEmpty();
    }

    @Test
    void whatIsNotThereOrIsSomethingElseIsNamed() {
        assertThatThrownBy(() -> WHOLE.number("king")).hasMessage("hive has no value \"king\"");
        assertThatThrownBy(() -> WHOLE.number("queen")).hasMessage("hive, \"queen\": expected a number");
        assertThatThrownBy(() -> WHOLE.text("frames")).hasMessage("hive, \"frames\": expected a text");
        assertThatThrownBy(() -> WHOLE.numbers("races")).hasMessage("hive, \"races\": expected numbers");
        assertThatThrownBy(() -> WHOLE.texts("boxes")).hasMessage("hive, \"boxes\": expected texts");
        assertThatThrownBy(() -> WHOLE.parts("yields")).hasMessage("hive, \"yields\": expected parts");
        assertThatThrownBy(() -> WHOLE.part("queen")).hasMessage("hive, \"queen\": expected a part");
        assertThatThrownBy(() -> WHOLE.whole("frames", 10, 20))
                .hasMessage("hive, \"frames\": expected a whole number from 10 to 20, not 9.0");
        assertThatThrownBy(() -> WHOLE.whole("gap", 0, 1)).hasMessageContaining("not NaN");
        assertThatThrownBy(() -> WHOLE.wholes("yields", -5, 5)).hasMessageContaining("not 1.5");
        assertThatThrownBy(() -> WHOLE.wholes("codes", 0, 2)).hasMessageContaining("not 3.0");
        assertThatThrownBy(() -> WHOLE.numbers("yields", 2)).hasMessage("hive, \"yields\": expected 2 numbers, not 3");
        assertThatThrownBy(() -> WHOLE.rows("table", 3))
                .hasMessage("hive, \"table\": expected rows of 3 numbers, not of 2");
        assertThatThrownBy(() -> WHOLE.named("queen", Colour.class))
                .hasMessage("hive, \"queen\": expected one of [AMBER, PALE], not marked");
        assertThatThrownBy(() -> WHOLE.with("frames", 10)).hasMessage("state hive has two values \"frames\"");
        assertThatThrownBy(() -> WHOLE.made("thing", Map.of())).hasMessage("no thing is called \"hive\"");
    }

    @Test
    void nothingOutsideChangesIt() {
        double[] own = {1, 2};
        State state = State.of("s").with("own", own);
        own[0] = 9;
        state.numbers("own").toArray()[1] = 9;
        assertThat(state.numbers("own")).isEqualTo(Vector.of(1, 2));
        State more = state.with("more", 1);
        assertThat(state.has("more")).isFalse();
        assertThat(more)
                .isNotEqualTo(state)
                .isEqualTo(State.of("s").with("own", new double[] {1, 2}).with("more", 1));
        assertThat(more)
                .hasSameHashCodeAs(
                        State.of("s").with("own", new double[] {1, 2}).with("more", 1));
    }

    @Test
    void aReaderMeetsEveryValueInOrder() {
        List<String> met = new ArrayList<>();
        WHOLE.read(new State.Reader() {
            @Override
            public void number(String key, double number) {
                met.add(key + " number");
            }

            @Override
            public void numbers(String key, double[] numbers) {
                met.add(key + " " + numbers.length + " numbers");
            }

            @Override
            public void text(String key, String text) {
                met.add(key + " " + text);
            }

            @Override
            public void texts(String key, List<String> texts) {
                met.add(key + " " + texts);
            }

            @Override
            public void part(String key, State part) {
                met.add(key + " " + part.kind());
            }

            @Override
            public void parts(String key, List<State> parts) {
                met.add(key + " " + parts.size() + " parts");
            }
        });
        assertThat(met)
                .containsExactly(
                        "frames number",
                        "gap number",
                        "yields 3 numbers",
                        "codes 3 numbers",
                        "table 2 parts",
                        "queen marked",
                        "races [dark, carnica]",
                        "site site",
                        "boxes 2 parts",
                        "none 0 parts");
    }
}
