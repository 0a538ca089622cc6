package keenfold.io.table;

import static org.assertj.core.api.Assertions.as;
import static org.assertj.core.api.Assertions.assertThat;

import keenfold.core.data.Categories;
import keenfold.core.data.Notice;
import org.assertj.core.api.InstanceOfAssertFactories;
import org.junit.jupiter.api.Test;

class VariantsTest {
    @Test
    void whatDiffersInCaseBlanksOrFormAloneIsNamedWithItsCounts() {
        assertThat(Variants.in(Categories.of("c", "Yes", "yes", "no", "yes")))
                .singleElement()
                .extracting(Notice::text, as(InstanceOfAssertFactories.STRING))
                .startsWith("column \"c\": \"Yes\" (1) and \"yes\" (2) count as different values");
        assertThat(Variants.in(Categories.of("c", "1", "1.0", "2", "1e0", "-0", "0")))
                .singleElement()
                .extracting(Notice::text, as(InstanceOfAssertFactories.STRING))
                .contains("\"1\" (1) and \"1.0\" (1) and \"1e0\" (1)")
                .contains("\"-0\" (1) and \"0\" (1)")
                .doesNotContain("\"2\"");
        assertThat(Variants.in(Categories.of("c", "da\u200Brk", "dark", "d ark", "dark\u00A0")))
                .hasSize(1);
    }

    @Test
    void whatDiffersOtherwiseIsLeftInPeace() {
        assertThat(Variants.in(Categories.of("c", "a", "b", "ab", "a-b", null, "1", "10", "01x")))
                .isEmpty();
        Categories selected = Categories.of("c", "Yes", "yes", "no").select(new int[] {0, 2});
        assertThat(Variants.in(selected)).isEmpty();
    }
}
