package keenfold.io.export;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.StringWriter;
import java.util.List;
import org.junit.jupiter.api.Test;

class SpreadsheetWriterTest {
    private static String safe(List<List<String>> rows) throws IOException {
        StringWriter out = new StringWriter();
        try (SpreadsheetWriter writer = new SpreadsheetWriter(out)) {
            CsvExport.lines(rows, writer);
        }
        return out.toString();
    }

    @Test
    void whatBeginsAFormulaGetsAnApostrophe() throws IOException {
        assertThat(safe(List.of(
                        List.of("=1+1", "+a", "-a", "@x", "\tx", "-1+2", "=cmd|' /C calc'!A0"),
                        List.of("-1.5", "+2", "-3E-300", ".5", "plain", "a=b", ""),
                        List.of("=a,b", "=\"q\"", "-1,5", "\r=x", "-", "x", "y"))))
                .isEqualTo("'=1+1,'+a,'-a,'@x,'\tx,'-1+2,'=cmd|' /C calc'!A0\n"
                        + "-1.5,+2,-3E-300,.5,plain,a=b,\n"
                        + "\"'=a,b\",\"'=\"\"q\"\"\",\"'-1,5\",\"'\r=x\",'-,x,y\n");
    }
}
