package keenfold.io.table;

import java.io.BufferedInputStream;
import java.io.BufferedReader;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PushbackInputStream;
import java.io.Reader;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.zip.GZIPInputStream;
import keenfold.io.InputException;

/** A text file, perhaps gzipped, that can be opened more than once: strict UTF-8, a byte order mark left out. */
final class TextSource {
    private static final int BUFFER = 1 << 16;

    private final Path path;

    TextSource(Path path) {
        this.path = path;
    }

    Path path() {
        return path;
    }

    Reader open() throws IOException {
        InputStream bytes = bytes();
        return new BufferedReader(
                new InputStreamReader(
                        bytes,
                        StandardCharsets.UTF_8
                                .newDecoder()
                                .onMalformedInput(CodingErrorAction.REPORT)
                                .onUnmappableCharacter(CodingErrorAction.REPORT)),
                BUFFER);
    }

    private InputStream bytes() throws IOException {
        if (Files.isDirectory(path)) {
            throw new InputException(path.toString(), "is a folder: expected a file of delimited text");
        }
        InputStream raw;
        try {
            raw = new BufferedInputStream(Files.newInputStream(path), BUFFER);
        } catch (NoSuchFileException e) {
            throw new InputException(path.toString(), "there is no such file" + beside(), e);
        }
        raw.mark(2);
        int first = raw.read();
        int second = raw.read();
        raw.reset();
        InputStream plain = first == 0x1F && second == 0x8B ? new GZIPInputStream(raw, BUFFER) : raw;
        PushbackInputStream bytes = new PushbackInputStream(plain, 3);
        byte[] mark = bytes.readNBytes(3);
        int a = mark.length > 0 ? mark[0] & 0xFF : 0;
        int b = mark.length > 1 ? mark[1] & 0xFF : 0;
        if ((a == 0xFE && b == 0xFF) || (a == 0xFF && b == 0xFE)) {
            throw new InputException(path + ", line 1", "the file is UTF-16; save it as UTF-8");
        }
        boolean utf8Mark = mark.length == 3 && a == 0xEF && b == 0xBB && (mark[2] & 0xFF) == 0xBF;
        if (!utf8Mark) {
            bytes.unread(mark);
        }
        return bytes;
    }

    /** Files of the same folder that were perhaps meant. */
    private String beside() {
        Path folder = path.toAbsolutePath().getParent();
        if (folder == null || !Files.isDirectory(folder)) {
            return "";
        }
        try (var files = Files.list(folder)) {
            return keenfold.io.Nearest.to(
                            String.valueOf(path.getFileName()),
                            files.filter(Files::isRegularFile)
                                    .map(f -> String.valueOf(f.getFileName()))
                                    .sorted()
                                    .toList())
                    .map(n -> "; the nearest is \"" + n + "\"")
                    .orElse("");
        } catch (IOException e) {
            return "";
        }
    }

    /** Explains a failure of decoding, with the line of the first wrong byte. */
    InputException notUtf8(CharacterCodingException behind) {
        long line = 1;
        try (InputStream bytes = bytes()) {
            ByteArrayOutputStream text = new ByteArrayOutputStream();
            for (int b = bytes.read(); b >= 0; b = bytes.read()) {
                text.write(b);
                if (b == '\n') {
                    if (!decodes(text.toByteArray())) {
                        break;
                    }
                    text.reset();
                    line++;
                }
            }
        } catch (IOException e) {
            behind.addSuppressed(e);
        }
        return new InputException(path + ", line " + line, "not valid UTF-8; save the file as UTF-8", behind);
    }

    private static boolean decodes(byte[] bytes) {
        try {
            StandardCharsets.UTF_8
                    .newDecoder()
                    .onMalformedInput(CodingErrorAction.REPORT)
                    .decode(ByteBuffer.wrap(bytes));
            return true;
        } catch (CharacterCodingException e) {
            return false;
        }
    }
}
