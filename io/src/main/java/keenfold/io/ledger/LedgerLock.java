package keenfold.io.ledger;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;
import keenfold.io.InputException;
import keenfold.io.Reason;

/**
 * The lock of a ledger's one writer: on a file beside it, since closing a second handle of the database itself would
 * drop SQLite's own locks. The system lets go of it when the process ends, however it ends.
 */
final class LedgerLock implements AutoCloseable {
    private final Path path;
    private final FileChannel channel;
    private final Anchor anchor;

    private LedgerLock(Path path, FileChannel channel, Anchor anchor) {
        this.path = path;
        this.channel = channel;
        this.anchor = anchor;
    }

    static LedgerLock of(Path ledger) {
        Path path = ledger.resolveSibling(ledger.getFileName() + ".lock");
        try {
            if (Files.isSymbolicLink(path) || (Files.isRegularFile(path) && Files.size(path) > 0)) {
                throw new InputException(
                        path.toString(),
                        "is in the way: a file of this name locks the ledger while it is written, and this one is not"
                                + " Keen Fold's; move it, or name another ledger");
            }
            FileChannel channel = FileChannel.open(
                    path, StandardOpenOption.CREATE, StandardOpenOption.WRITE, LinkOption.NOFOLLOW_LINKS);
            if (tryLock(channel).isEmpty()) {
                channel.close();
                throw new InputException(
                        ledger.toString(),
                        "another keenfold is writing to this ledger; wait for it, or name another file");
            }
            return new LedgerLock(path, channel, Anchor.of(path));
        } catch (IOException e) {
            throw new InputException(ledger.toString(), "cannot be written: " + Reason.of(e), e);
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
            // Another writer's, if ours was deleted meanwhile.
            if (anchor.lost().isEmpty()) {
                Files.deleteIfExists(path);
            }
            channel.close();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }
}
