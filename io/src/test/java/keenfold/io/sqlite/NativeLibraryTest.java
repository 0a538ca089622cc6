package keenfold.io.sqlite;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.sqlite.util.LibraryLoaderUtil;

class NativeLibraryTest {
    private static final byte[] BYTES = {1, 2, 3, 4};

    @TempDir
    private Path folder;

    @Test
    void theCacheIsNeverRelativeNorBelowTheWorkingFolder() throws IOException {
        Path home = Files.createDirectories(folder.resolve("home"));
        Path work = Files.createDirectories(folder.resolve("work"));
        assertThat(NativeLibrary.cache(null, home.toString(), work)).contains(home.resolve(".cache/keenfold"));
        assertThat(NativeLibrary.cache("", home.toString(), work)).contains(home.resolve(".cache/keenfold"));
        assertThat(NativeLibrary.cache("/x/y", home.toString(), work)).contains(Path.of("/x/y/keenfold"));
        // What Java says of a user without an entry, and what is not absolute.
        assertThat(NativeLibrary.cache(null, "?", work)).isEmpty();
        assertThat(NativeLibrary.cache("cache", "?", work)).isEmpty();
        assertThat(NativeLibrary.cache(null, null, work)).isEmpty();
        assertThat(NativeLibrary.cache(null, folder.resolve("gone").toString(), work))
                .isEmpty();
        assertThat(NativeLibrary.cache(work.resolve("c").toString(), home.toString(), work))
                .isEmpty();
        assertThat(NativeLibrary.cache(null, home.toString(), home)).isEmpty();
        Path link = Files.createSymbolicLink(folder.resolve("link"), work);
        assertThat(NativeLibrary.cache(link.resolve("c").toString(), home.toString(), work))
                .isEmpty();
        assertThat(NativeLibrary.cache(null, home.toString(), Path.of("/"))).isPresent();
    }

    @Test
    void otherBytesAreNeverLoaded() throws IOException {
        Path library = NativeLibrary.unpacked(folder, "lib.so", BYTES);
        assertThat(library).hasBinaryContent(BYTES);
        Files.write(library, new byte[] {1, 2, 3, 5});
        assertThat(NativeLibrary.unpacked(folder, "lib.so", BYTES)).hasBinaryContent(BYTES);
        Path victim = Files.write(folder.resolve("victim"), new byte[] {9});
        Files.delete(library);
        Files.createSymbolicLink(library, victim);
        assertThat(NativeLibrary.unpacked(folder, "lib.so", BYTES)).hasBinaryContent(BYTES);
        assertThat(victim).hasBinaryContent(new byte[] {9});
        try (var there = Files.list(folder)) {
            assertThat(there).hasSize(2);
        }
    }

    @Test
    void theFolderIsTheUsersAlone() throws IOException {
        assumeTrue(Files.getFileStore(folder).supportsFileAttributeView("posix"));
        Path open = Files.createDirectory(
                folder.resolve("open"),
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwxr-xr-x")));
        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(NativeLibrary.secure(open))))
                .isEqualTo("rwx------");
        Path link = Files.createSymbolicLink(folder.resolve("link"), open);
        assertThatThrownBy(() -> NativeLibrary.secure(link)).hasMessageContaining("is a link");
    }

    /** No process is asked what the driver asks one. */
    @Test
    void theFolderInTheArchiveIsTheDrivers() {
        assertThat(NativeLibrary.packedIn(System.getProperty("os.name")))
                .isEqualTo(LibraryLoaderUtil.getNativeLibResourcePath());
    }
}
