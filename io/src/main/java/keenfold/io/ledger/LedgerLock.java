package keenfold.io.ledger;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;
import keenfold.io.InputException;

/**
 * The lock of a ledger's one writer: on a file beside it, since closing a second handle of the database itself would
 * drop SQLite's own locks. The system lets go of it when the process ends, however it ends.
 */
final class LedgerLock implements AutoCloseable {
    private final Path path;
    private final FileChannel channel;

    private LedgerLock(Path path, FileChannel channel) {
        this.path = path;
        this.channel = channel;
    }

    static LedgerLock of(Path ledger) {
        Path path = ledger.resolveSibling(ledger.getFileName() + ".lock");
        try {
            FileChannel channel = FileChannel.open(path, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
            if (tryLock(channel).isEmpty()) {
                channel.close();
                throw new InputException(
                        ledger.toString(),
                        "another keenfold is writing to this ledger; wait for it, or name another file");
            }
            return new LedgerLock(path, channel);
        } catch (IOException e) {
            throw new InputException(ledger.toString(), "cannot be written here: " + e.getMessage(), e);
        }
    }

    private static Optional<FileLock> tryLock(FileChannel channel) throws IOException {
        try {
            return Optional.ofNullable(channel.tryLock());
        } catch (OverlappingFileLockException e) {
            return Optional.empty();
        }
    }

    @Override
    public void close() {
        try {
            Files.deleteIfExists(path);
            channel.close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
