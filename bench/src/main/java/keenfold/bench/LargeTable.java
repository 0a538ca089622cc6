package keenfold.bench;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;

/** Writes a table of a million rows x 30 columns (25 of numbers, 5 of words) and a target of two classes. */
public final class LargeTable {
    private static final int ROWS = 1_000_000;
    private static final int NUMBERS = 25;
    private static final int WORDS = 5;

    private LargeTable() {}

    /** Writes it to the file that the first argument names. */
    public static void main(String[] args) throws IOException {
        RandomSource chance = new Seed(3).chance();
        try (BufferedWriter csv = Files.newBufferedWriter(Path.of(args[0]))) {
            for (int j = 0; j < NUMBERS + WORDS; j++) {
                csv.write("x" + j + ",");
            }
            csv.write("y\n");
            for (int i = 0; i < ROWS; i++) {
                int y = chance.below(3) == 0 ? 1 : 0;
                for (int j = 0; j < NUMBERS; j++) {
                    csv.write((chance.below(2000) + 20 * y) / 100.0 + ",");
                }
                for (int j = 0; j < WORDS; j++) {
                    csv.write("w" + chance.below(6) + ",");
                }
                csv.write(y == 1 ? "lost\n" : "kept\n");
            }
        }
    }
}
