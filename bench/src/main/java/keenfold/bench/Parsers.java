package keenfold.bench;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** What reading a table is measured against: the CSV parser, and the JDK's parser of numbers, with nothing around them. */
final class Parsers {
    private Parsers() {}

    /** Takes every field as text; the first {@code numbers} of each line are parsed as numbers. */
    static double read(Path file, int numbers) throws IOException {
        double sum = 0;
        try (BufferedReader text = Files.newBufferedReader(file);
                CsvReader<CsvRecord> records = CsvReader.builder().ofCsvRecord(text)) {
            boolean header = true;
            for (CsvRecord line : records) {
                for (int j = 0; j < line.getFieldCount(); j++) {
                    String field = line.getField(j);
                    sum += header || j >= numbers ? field.length() : Double.parseDouble(field);
                }
                header = false;
            }
        }
        return sum;
    }
}
