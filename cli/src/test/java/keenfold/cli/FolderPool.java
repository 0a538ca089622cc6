package keenfold.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.logging.Level;
import java.util.logging.Logger;
import org.junit.jupiter.api.extension.AnnotatedElementContext;
import org.junit.jupiter.api.extension.ExtensionContext;
import org.junit.jupiter.api.io.TempDirFactory;

/**
 * Temporary folders that are emptied after a test and lent again, so that the program that works in one ({@link
 * ProgramLoop}) can go on to the next test: a process cannot move to another folder, and one that starts anew has to be
 * compiled anew.
 */
public final class FolderPool implements TempDirFactory {
    private static final Deque<Path> FREE = new ArrayDeque<>();

    /** It would tell of each folder that it leaves it to this pool. */
    private static final Logger TOLD = Logger.getLogger("org.junit.jupiter.engine.extension");

    static {
        TOLD.setLevel(Level.WARNING);
    }

    /** A folder as long as it is lent. */
    private record Lent(Path folder) implements AutoCloseable {
        @Override
        public void close() throws IOException {
            clear(folder, false);
            synchronized (FREE) {
                FREE.push(folder);
            }
        }
    }

    @Override
    public Path createTempDirectory(AnnotatedElementContext element, ExtensionContext context) throws IOException {
        Path folder;
        synchronized (FREE) {
            folder = FREE.isEmpty() ? fresh() : FREE.pop();
        }
        context.getStore(ExtensionContext.Namespace.create(FolderPool.class)).put(folder, new Lent(folder));
        return folder;
    }

    private static Path fresh() throws IOException {
        Path folder = Files.createTempDirectory("folder").toRealPath();
        Runtime.getRuntime().addShutdownHook(new Thread(() -> {
            try {
                clear(folder, true);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }));
        return folder;
    }

    private static void clear(Path folder, boolean whole) throws IOException {
        Files.walkFileTree(folder, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult preVisitDirectory(Path dir, BasicFileAttributes about) {
                // A test may have taken the right to write away.
                dir.toFile().setWritable(true, true);
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes about) throws IOException {
                Files.deleteIfExists(file);
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult postVisitDirectory(Path dir, IOException failure) throws IOException {
                if (whole || !dir.equals(folder)) {
                    Files.deleteIfExists(dir);
                }
                return FileVisitResult.CONTINUE;
            }
        });
    }
}
