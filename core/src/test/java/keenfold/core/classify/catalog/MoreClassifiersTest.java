package keenfold.core.classify.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.ServiceConfigurationError;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.MoreClassifiers;
import keenfold.core.classify.baseline.Majority;
import org.junit.jupiter.api.Test;

class MoreClassifiersTest {
    private static MoreClassifiers with(String... names) {
        return () -> List.of(names).stream()
                .map(n -> new ClassifierKind(n, "", List.of(), s -> new Majority()))
                .toList();
    }

    @Test
    void kindsFromOutsideStandInTheOrderOfTheirNames() {
        assertThat(ClassifierKinds.find(List.of(with("swarm", "comb"), with("drone"))))
                .extracting(ClassifierKind::name)
                .containsExactly("comb", "drone", "swarm");
    }

    @Test
    void aTakenNameAnOddOneAndAPlugInThatDoesNotLoadAreRefused() {
        assertThatThrownBy(() -> ClassifierKinds.find(List.of(with("tree"))))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("brings a classifier called \"tree\", but there is one of that name already");
        assertThatThrownBy(() -> ClassifierKinds.find(List.of(with("comb"), with("comb"))))
                .hasMessageContaining("there is one of that name already");
        assertThatThrownBy(() -> ClassifierKinds.find(List.of(with("Big Tree"))))
                .hasMessageContaining("a name is made of small letters");
        assertThatThrownBy(() -> ClassifierKinds.find(() -> {
                    throw new ServiceConfigurationError("apiary.Middles not found");
                }))
                .hasMessage("a plug-in cannot be loaded: apiary.Middles not found");
    }
}
