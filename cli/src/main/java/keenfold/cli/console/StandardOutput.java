package keenfold.cli.console;

import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Optional;
import keenfold.io.Reason;

/** Standard output, which remembers that it could not be written: a print stream says nothing about it. */
public final class StandardOutput extends FilterOutputStream {
    private Optional<IOException> failure = Optional.empty();

    public StandardOutput() {
        this(new FileOutputStream(FileDescriptor.out));
    }

    public StandardOutput(OutputStream to) {
        super(to);
    }

    @Override
    public void write(int b) throws IOException {
        write(new byte[] {(byte) b}, 0, 1);
    }

    @Override
    public void write(byte[] bytes, int from, int count) throws IOException {
        try {
            out.write(bytes, from, count);
        } catch (IOException e) {
            failure = failure.isPresent() ? failure : Optional.of(e);
            throw e;
        }
    }

    /** Why not all of it was written; nothing if it was, or if its reader had enough of it. */
    public Optional<String> reason() {
        return failure.filter(e -> !String.valueOf(e.getMessage()).contains("Broken pipe"))
                .map(Reason::of);
    }
}
