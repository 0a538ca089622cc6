package keenfold.io;

import java.io.FilterWriter;
import java.io.IOException;
import java.io.Writer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Optional;

/**
 * Files that are written whole or not at all: beside their name first, and onto it when they are complete and on the disk.
 * What had the name before is there until then, and stays if anything fails; who may read and write it stays in any case.
 */
public final class WholeFile {
    private WholeFile() {}

    /** What writes the content of a file. */
    public interface Body {
        /** Writes it. */
        void write(Writer out) throws IOException;
    }

    /**
     * Writes text as UTF-8.
     *
     * @throws InputException if the file cannot be written; what else the body throws is passed on
     */
    public static void text(Path file, Body body) {
        write(file, channel -> {
            Told out = new Told(Channels.newWriter(channel, StandardCharsets.UTF_8));
            try {
                body.write(out);
                out.flush();
            } catch (IOException | RuntimeException e) {
                // Whatever a library makes of it on the way.
                if (out.failure.isPresent()) {
                    throw out.failure.get();
                }
                throw e;
            }
        });
    }

    /**
     * Writes text as UTF-8.
     *
     * @throws InputException if the file cannot be written
     */
    public static void text(Path file, String text) {
        bytes(file, text.getBytes(StandardCharsets.UTF_8));
    }

    /**
     * Writes bytes.
     *
     * @throws InputException if the file cannot be written
     */
    public static void bytes(Path file, byte[] bytes) {
        write(file, channel -> {
            java.nio.ByteBuffer left = java.nio.ByteBuffer.wrap(bytes);
            while (left.hasRemaining()) {
                channel.write(left);
            }
        });
    }

    /** What fills an open file. */
    private interface Filling {
        void fill(FileChannel channel) throws IOException;
    }

    private static void write(Path file, Filling filling) {
        if (Files.isDirectory(file)) {
            throw new InputException(file.toString(), "cannot be written: it is a folder");
        }
        try {
            // A device or a pipe is not replaced, and neither is a link: what it leads to is.
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
                    filling.fill(channel);
                }
                return;
            }
            Path own = Files.isSymbolicLink(file) && Files.exists(file) ? file.toRealPath() : file;
            TemporaryFiles.Beside part = TemporaryFiles.beside(own);
            try {
                try (FileChannel channel = part.channel()) {
                    filling.fill(channel);
                    channel.force(true);
                }
                // Plain replacing would delete the old file first, and a process killed between leaves neither.
                Files.move(part.path(), own, StandardCopyOption.ATOMIC_MOVE);
            } finally {
                TemporaryFiles.remove(part.path());
            }
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be written: " + Reason.of(e), e);
        }
    }

    /** A writer that remembers the first failure of the file below it. */
    private static final class Told extends FilterWriter {
        private Optional<IOException> failure = Optional.empty();

        Told(Writer out) {
            super(new java.io.BufferedWriter(out));
        }

        private interface Act {
            void run() throws IOException;
        }

        private void told(Act act) throws IOException {
            try {
                act.run();
            } catch (IOException e) {
                failure = failure.isPresent() ? failure : Optional.of(e);
                throw e;
            }
        }

        @Override
        public void write(int c) throws IOException {
            told(() -> super.write(c));
        }

        @Override
        public void write(char[] text, int from, int count) throws IOException {
            told(() -> super.write(text, from, count));
        }

        @Override
        public void write(String text, int from, int count) throws IOException {
            told(() -> super.write(text, from, count));
        }

        @Override
        public void flush() throws IOException {
            told(super::flush);
        }

        @Override
        public void close() throws IOException {
            // The file below is closed by whoever opened it.
            flush();
        }
    }
}
