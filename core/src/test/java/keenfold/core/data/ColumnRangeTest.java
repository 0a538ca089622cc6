package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;

class ColumnRangeTest {
    private static final List<String> COLUMNS = List.of("id", "V1", "V2", "a..b", "kind=dry", "kind=wet", "V3");

    private static List<String> expanded(String... asked) {
        return ColumnRange.expanded(List.of(asked), COLUMNS);
    }

    @Test
    void rangesAreThoseOfTheTablesOrder() {
        assertThat(expanded("V1..a..b")).containsExactly("V1", "V2", "a..b");
        assertThat(expanded("V2..V2", "id", "id..V1")).containsExactly("V2", "id", "V1");
        assertThat(expanded("kind..V3")).containsExactly("kind=dry", "kind=wet", "V3");
        assertThat(expanded("id..kind")).hasSize(6);
        assertThat(expanded()).isEmpty();
    }

    /** What is no range stays as it is, to be complained of where it is used; a column's own name goes first. */
    @Test
    void whatIsNoRangeStays() {
        assertThat(expanded("a..b", "V1..V9", "..", "V1..")).containsExactly("a..b", "V1..V9", "..", "V1..");
        assertThatThrownBy(() -> expanded("V3..V1")).hasMessageContaining("the second column stands before the first");
    }
}
