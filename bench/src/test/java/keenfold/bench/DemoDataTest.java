package keenfold.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;

class DemoDataTest {
    @Test
    void theDemoFilesAreThoseThatTheGeneratorMakes() throws IOException {
        for (Map.Entry<String, String> file : DemoData.files().entrySet()) {
            assertThat(Files.readString(Path.of("../demo", file.getKey()))).isEqualTo(file.getValue());
        }
    }
}
