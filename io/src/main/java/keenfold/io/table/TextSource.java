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
import java.nio.charset.Charset;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.zip.GZIPInputStream;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;

/** A text file, perhaps gzipped, that can be opened more than once: strictly decoded, a byte order mark left out. */
final class TextSource {
    private static final int BUFFER = 1 << 16;

    private final Path path;
    private final String shown;
    private final Charset charset;

    TextSource(Path path, String shown, Optional<Charset> encoding) {
        this.path = path;
        this.shown = shown;
        this.charset = encoding.orElse(StandardCharsets.UTF_8);
    }

    /** What messages call it. */
    String shown() {
        return shown;
    }

    Reader open() throws IOException {
        InputStream bytes = bytes();
        return new BufferedReader(
                new InputStreamReader(
                        bytes,
                        charset.newDecoder()
                                .onMalformedInput(CodingErrorAction.REPORT)
                                .onUnmappableCharacter(CodingErrorAction.REPORT)),
                BUFFER);
    }

    private InputStream bytes() throws IOException {
        InputFile.require(path, shown, InputFile.TABLE);
        InputStream raw;
        try {
            raw = new BufferedInputStream(Files.newInputStream(path), BUFFER);
        } catch (NoSuchFileException e) {
            throw new InputException(shown, "there is no such file" + beside(), e);
        }
        FileLook look = FileLook.of(path);
        if (look == FileLook.PLAN || look == FileLook.MODEL) {
            throw new InputException(shown, "is no table" + look.words());
        }
        raw.mark(2);
        int first = raw.read();
        int second = raw.read();
        raw.reset();
        if (first == 0x50 && second == 0x4B) {
            throw new InputException(shown, "is a ZIP archive or a spreadsheet; save the table as CSV");
        }
        InputStream plain = first == 0x1F && second == 0x8B ? new GZIPInputStream(raw, BUFFER) : raw;
        PushbackInputStream bytes = new PushbackInputStream(plain, 3);
        byte[] mark = bytes.readNBytes(3);
        int a = mark.length > 0 ? mark[0] & 0xFF : 0;
        int b = mark.length > 1 ? mark[1] & 0xFF : 0;
        boolean utf16 = (a == 0xFE && b == 0xFF) || (a == 0xFF && b == 0xFE);
        if (utf16 && !charset.name().startsWith("UTF-16")) {
            throw new InputException(
                    shown + ", line 1", "the file is UTF-16; save it as UTF-8, or say encoding: UTF-16 (--encoding)");
        }
        boolean utf8Mark = charset.equals(StandardCharsets.UTF_8)
                && mark.length == 3
                && a == 0xEF
                && b == 0xBB
                && (mark[2] & 0xFF) == 0xBF;
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
            return keenfold.core.data.Suggestion.to(
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
    InputException undecodable(CharacterCodingException behind) {
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
        return new InputException(
                shown + ", line " + line,
                "not valid " + charset.name()
                        + "; save the file as UTF-8, or say which encoding it is in (encoding: in a"
                        + " plan, --encoding), such as windows-1252",
                behind);
    }

    private boolean decodes(byte[] bytes) {
        try {
            charset.newDecoder().onMalformedInput(CodingErrorAction.REPORT).decode(ByteBuffer.wrap(bytes));
            return true;
        } catch (CharacterCodingException e) {
            return false;
        }
    }
}
