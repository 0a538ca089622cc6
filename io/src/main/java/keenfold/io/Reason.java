package keenfold.io;

import java.io.EOFException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipException;

/** Why the system refused to write or read a file, in words that say what to do. */
public final class Reason {
    /** What the system says, which Java hands on as text. */
    private static final Map<String, String> SAID = new LinkedHashMap<>();

    static {
        SAID.put("No space left", "the disk is full; make room and do it again");
        SAID.put("Disk quota exceeded", "your share of the disk is used up; make room and do it again");
        SAID.put("File too large", "the limit on the size of files (ulimit -f) is reached");
        SAID.put("Read-only file system", "the disk is read-only; name a file in a folder that you may write to");
        SAID.put("Permission denied", "you may not write there; name a file in a folder that you may write to");
        SAID.put("Not a directory", "its folder is a file");
        SAID.put("Is a directory", "it is a folder");
        SAID.put("File name too long", "the name is too long");
        SAID.put("Input/output error", "the disk failed");
    }

    private Reason() {}

    /** Returns the reason behind a failure to read. */
    public static String ofReading(IOException e) {
        if (e instanceof NoSuchFileException) {
            return "there is no such file";
        }
        if (e instanceof AccessDeniedException) {
            return "you may not read it";
        }
        if (e instanceof EOFException) {
            return "it ends too early: its compressed data are cut short; copy it again";
        }
        if (e instanceof ZipException) {
            return "its compressed data are damaged (" + e.getMessage() + "); copy it again";
        }
        String said = said(e);
        if (said.contains("Is a directory")) {
            return "it is a folder";
        }
        if (said.contains("Input/output error")) {
            return "the disk failed";
        }
        return said;
    }

    /** Returns the reason behind a failure to read that a stream or a parser wrapped. */
    public static String ofReading(UncheckedIOException e) {
        return Optional.ofNullable(e.getCause()).map(Reason::ofReading).orElse(String.valueOf(e.getMessage()));
    }

    private static String said(IOException e) {
        return e instanceof FileSystemException f
                ? Optional.ofNullable(f.getReason()).orElse(String.valueOf(f.getMessage()))
                : Optional.ofNullable(e.getMessage()).orElse(e.getClass().getSimpleName());
    }

    /** Returns the reason behind a failure to write. */
    public static String of(IOException e) {
        if (e instanceof NoSuchFileException) {
            return "the folder is not there; make it, or name another one";
        }
        if (e instanceof AccessDeniedException) {
            return "you may not write there; name a file in a folder that you may write to";
        }
        if (e instanceof FileAlreadyExistsException) {
            return "a file of that name is there; name a folder";
        }
        if (e instanceof DirectoryNotEmptyException) {
            return "it is a folder";
        }
        String said = said(e);
        return SAID.entrySet().stream()
                .filter(r -> said.contains(r.getKey()))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(said);
    }
}
