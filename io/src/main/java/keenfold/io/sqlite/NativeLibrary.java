package keenfold.io.sqlite;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.zip.CRC32;
import java.util.zip.CRC32C;
import keenfold.io.InputException;
import org.sqlite.SQLiteJDBCLoader;
import org.sqlite.util.LibraryLoaderUtil;
import org.sqlite.util.OSInfo;

/**
 * Loads SQLite's native library, from a file whose bytes are those of the program's own archive.
 *
 * <p>The file is kept in the user's cache folder, in a folder that only the user may enter and whose name holds the digest
 * of the library, so that another version never loads it. Where there is no such place (the home folder is unknown, the
 * disk is full, programs may not be loaded from it), a folder is made for this one process, and removed once the library
 * is loaded. A folder below the working folder is never used: what lies there may come from somebody else.
 */
public final class NativeLibrary {
    private static final String PATH = "org.sqlite.lib.path";
    private static final String NAME = "org.sqlite.lib.name";

    private NativeLibrary() {}

    /**
     * Loads the library, once; to be called before the first connection.
     *
     * @throws InputException if there is no place that it can be loaded from
     */
    public static synchronized void load() {
        if (System.getProperty(PATH) != null) {
            return;
        }
        byte[] bytes = packed();
        List<String> refusals = new ArrayList<>();
        Optional<Path> cache = cache(
                System.getenv("XDG_CACHE_HOME"),
                System.getProperty("user.home"),
                Path.of("").toAbsolutePath());
        if (cache.isPresent() && loadFrom(cache.get(), bytes, false, refusals)) {
            return;
        }
        Path temporary = Path.of(System.getProperty("java.io.tmpdir")).toAbsolutePath();
        try {
            if (loadFrom(Files.createTempDirectory(temporary, "keenfold-"), bytes, true, refusals)) {
                return;
            }
        } catch (IOException e) {
            refusals.add(temporary + ": " + e.getMessage());
        }
        System.clearProperty(PATH);
        throw new InputException(
                "SQLite's native library",
                "cannot be loaded (" + String.join("; ", refusals)
                        + "); give it room on a disk that programs may be loaded from, by XDG_CACHE_HOME=FOLDER or"
                        + " KEENFOLD_JAVA_OPTIONS=-Djava.io.tmpdir=FOLDER");
    }

    /**
     * The folder of the library in the program's archive. On Linux, the driver's own look-up starts a process that tells
     * whether this is Android, for which there is no library here: a tenth of a second at each start.
     */
    static String packedIn(String system) {
        if (!system.equals("Linux")) {
            return LibraryLoaderUtil.getNativeLibResourcePath();
        }
        String family = OSInfo.isMusl() ? "Linux-Musl" : "Linux";
        return "/" + SQLiteJDBCLoader.class.getPackageName().replace('.', '/') + "/native/" + family + "/"
                + OSInfo.getArchName();
    }

    /** The library in the program's archive. */
    private static byte[] packed() {
        String name = packedIn(System.getProperty("os.name")) + "/" + LibraryLoaderUtil.getNativeLibName();
        try (InputStream in = SQLiteJDBCLoader.class.getResourceAsStream(name)) {
            if (in == null) {
                throw new InputException(
                        "SQLite's native library",
                        "there is none for this system (" + name + "); supported are Linux, macOS and Windows on x86-64"
                                + " and ARM64");
            }
            return in.readAllBytes();
        } catch (IOException e) {
            throw new InputException("SQLite's native library", "cannot be unpacked: " + e.getMessage(), e);
        }
    }

    /**
     * Returns the user's cache folder for this program.
     *
     * @param named the value of XDG_CACHE_HOME; a relative one does not count
     * @param home the home folder as Java knows it: "?" where the user has no entry
     * @param working the working folder, of which the cache is never a part
     */
    static Optional<Path> cache(
            @org.jspecify.annotations.Nullable String named,
            @org.jspecify.annotations.Nullable String home,
            Path working) {
        Optional<Path> base = absolute(named);
        if (base.isEmpty()) {
            base = absolute(home).filter(Files::isDirectory).map(h -> h.resolve(".cache"));
        }
        return base.map(b -> b.resolve("keenfold")).filter(c -> !isBelow(c, working));
    }

    private static Optional<Path> absolute(@org.jspecify.annotations.Nullable String path) {
        return Optional.ofNullable(path).filter(p -> !p.isEmpty()).map(Path::of).filter(Path::isAbsolute);
    }

    /** Whether a folder lies below the working folder, wherever links lead; below the root lies everything. */
    private static boolean isBelow(Path folder, Path working) {
        return working.getParent() != null && real(folder).startsWith(real(working));
    }

    /** Resolves the links of as much of a path as is there. */
    private static Path real(Path path) {
        Path there = path.toAbsolutePath().normalize();
        Path rest = Path.of("");
        while (there.getParent() != null && !Files.exists(there)) {
            rest = there.getFileName().resolve(rest);
            there = there.getParent();
        }
        try {
            return there.toRealPath().resolve(rest);
        } catch (IOException e) {
            return path.toAbsolutePath().normalize();
        }
    }

    private static boolean loadFrom(Path base, byte[] bytes, boolean once, List<String> refusals) {
        try {
            Path folder = once ? base : secure(base.resolve("sqlite-" + digest(bytes)));
            Path library = unpacked(folder, LibraryLoaderUtil.getNativeLibName(), bytes);
            System.setProperty(PATH, folder.toString());
            System.setProperty(NAME, library.getFileName().toString());
            // The driver looks for leftovers of its own here, and finds none.
            System.setProperty("org.sqlite.tmpdir", folder.toString());
            // Loaded here first: the driver would hide why it cannot be, and take any other library that it finds.
            System.load(library.toString());
            SQLiteJDBCLoader.initialize();
            return true;
        } catch (Exception | UnsatisfiedLinkError e) {
            String said = String.valueOf(e.getMessage());
            refusals.add(
                    base + ": " + said.substring(said.lastIndexOf(": ") + 1).strip());
            return false;
        } finally {
            if (once) {
                remove(base);
            }
        }
    }

    /**
     * Tells one library from another, so that each version has a folder of its own. It need not withstand an attack: the bytes
     * themselves are compared. SHA-256 would take a tenth of a second at each start, before it is compiled.
     */
    private static String digest(byte[] bytes) {
        CRC32 one = new CRC32();
        CRC32C other = new CRC32C();
        one.update(bytes);
        other.update(bytes);
        return String.format(Locale.ROOT, "%d-%08x%08x", bytes.length, one.getValue(), other.getValue());
    }

    /** Makes a folder that only the user may enter, or makes sure that one is such. */
    static Path secure(Path folder) throws IOException {
        Files.createDirectories(folder);
        if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
            throw new IOException("is a link, not a folder");
        }
        Optional<PosixFileAttributeView> view = Optional.ofNullable(
                Files.getFileAttributeView(folder, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS));
        if (view.isPresent()) {
            // Refused by the system for a folder of somebody else's.
            view.get().setPermissions(PosixFilePermissions.fromString("rwx------"));
            Path self = Path.of("/proc/self");
            if (Files.exists(self)
                    && !Files.getOwner(self).equals(view.get().readAttributes().owner())) {
                throw new IOException("the folder belongs to another user");
            }
        }
        return folder;
    }

    /** Returns the library's file in a folder, written anew unless it is the same to the byte. */
    static Path unpacked(Path folder, String name, byte[] bytes) throws IOException {
        Path library = folder.resolve(name);
        if (Files.isRegularFile(library, LinkOption.NOFOLLOW_LINKS)
                && Files.size(library) == bytes.length
                && Arrays.equals(Files.readAllBytes(library), bytes)) {
            return library;
        }
        Path part = Files.createTempFile(folder, name, ".part");
        try {
            Files.write(part, bytes);
            Files.move(part, library, StandardCopyOption.ATOMIC_MOVE);
        } catch (FileAlreadyExistsException e) {
            Files.move(part, library, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(part);
        }
        return library;
    }

    /** A library that is loaded stays loaded without its file; where the system keeps it, it is removed at the end. */
    private static void remove(Path folder) {
        for (Path path : List.of(folder.resolve(LibraryLoaderUtil.getNativeLibName()), folder)) {
            try {
                Files.deleteIfExists(path);
            } catch (IOException e) {
                folder.toFile().deleteOnExit();
                path.toFile().deleteOnExit();
            }
        }
    }
}
