package keenfold.io;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Locale;
import java.util.Optional;
import org.sqlite.SQLiteJDBCLoader;
import org.sqlite.util.LibraryLoaderUtil;

/**
 * Unpacks SQLite's native library once into the user's cache folder, instead of at each start.
 *
 * <p>Where that cannot be done, the driver unpacks it for itself, as it always does.
 */
public final class NativeSqlite {
    private NativeSqlite() {}

    /** Makes the library ready; before the first connection. */
    public static synchronized void prepare() {
        if (System.getProperty("org.sqlite.lib.path") != null) {
            return;
        }
        try {
            unpacked().ifPresent(library -> {
                System.setProperty("org.sqlite.lib.path", String.valueOf(library.getParent()));
                System.setProperty("org.sqlite.lib.name", String.valueOf(library.getFileName()));
            });
        } catch (IOException | SecurityException e) {
            System.clearProperty("org.sqlite.lib.path");
        }
    }

    private static Optional<Path> unpacked() throws IOException {
        String folder = LibraryLoaderUtil.getNativeLibResourcePath();
        String name = LibraryLoaderUtil.getNativeLibName();
        String platform =
                folder.substring(folder.indexOf("native") + 6).replace('/', '-').toLowerCase(Locale.ROOT);
        Path home = cache().resolve("sqlite-" + SQLiteJDBCLoader.getVersion() + platform);
        Path library = home.resolve(name);
        if (Files.exists(library)) {
            return Optional.of(library);
        }
        try (InputStream packed = SQLiteJDBCLoader.class.getResourceAsStream(folder + "/" + name)) {
            if (packed == null) {
                return Optional.empty();
            }
            Files.createDirectories(home);
            Path part = Files.createTempFile(home, name, ".part");
            try {
                Files.copy(packed, part, StandardCopyOption.REPLACE_EXISTING);
                Files.move(part, library, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
            } finally {
                Files.deleteIfExists(part);
            }
            return Optional.of(library);
        }
    }

    private static Path cache() {
        String named = Optional.ofNullable(System.getenv("XDG_CACHE_HOME")).orElse("");
        Path base = named.isEmpty() ? Path.of(System.getProperty("user.home"), ".cache") : Path.of(named);
        return base.resolve("keenfold");
    }
}
