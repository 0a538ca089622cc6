package keenfold.study.report;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.Reason;
import keenfold.io.TemporaryFiles;

/**
 * The folder that a report is written into: the page, figures and tables. The page is written last, so that a folder without
 * one is either somebody else's or what is left of a report that was interrupted; the second may be completed.
 */
public final class ReportFolder {
    /** The name of the page. */
    public static final String PAGE = "report.html";

    static final String FIGURES = "figures";
    static final String TABLES = "tables";

    private ReportFolder() {}

    /**
     * Refuses a folder that a report must not be written into.
     *
     * @param ledger that is read
     * @param pageOnly whether only the page is written
     * @param force whether the user insists
     * @throws InputException if it holds files that no report made, under the names that a report uses
     */
    public static void require(Path folder, Path ledger, boolean pageOnly, boolean force) {
        if (Files.exists(folder) && !Files.isDirectory(folder)) {
            throw new InputException(folder.toString(), "cannot be made: a file of that name is there; name a folder");
        }
        Path page = folder.resolve(PAGE);
        OutputFile.require(page, OutputFile.Kind.REPORT, List.of(ledger), force);
        if (pageOnly || force || Files.exists(page)) {
            return;
        }
        for (String name : List.of(FIGURES, TABLES)) {
            strange(folder, name).ifPresent(file -> {
                throw new InputException(
                        folder.resolve(name).toString(),
                        "is there already and holds what no report made (" + file.getFileName()
                                + "); name another folder, have the page only (--page-only), or say --force to write"
                                + " into it");
            });
        }
    }

    /** Returns a file that no report made. */
    private static Optional<Path> strange(Path folder, String name) {
        Path inner = folder.resolve(name);
        if (!Files.exists(inner)) {
            return Optional.empty();
        }
        try (Stream<Path> files = Files.list(inner)) {
            return files.sorted().filter(f -> !made(folder, f)).findFirst();
        } catch (IOException e) {
            throw new InputException(inner.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private static boolean made(Path folder, Path file) {
        String name = file.getFileName().toString();
        if (!Files.isRegularFile(file)) {
            return false;
        }
        if (TemporaryFiles.isPart(name)) {
            return true;
        }
        if (name.endsWith(".csv")) {
            // The numbers of a figure are written after it.
            Path figure = folder.resolve(FIGURES).resolve(name.replaceFirst("csv$", "png"));
            return OutputFile.is(file, OutputFile.Kind.TABLE)
                    || (Files.isRegularFile(figure) && OutputFile.is(figure, OutputFile.Kind.FIGURE));
        }
        return OutputFile.is(file, OutputFile.Kind.FIGURE);
    }
}
