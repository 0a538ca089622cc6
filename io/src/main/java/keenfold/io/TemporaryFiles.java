package keenfold.io;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFileAttributes;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Pattern;

/**
 * Files and folders that must not outlive the process: what is not complete, and copies of the user's rows. They are
 * removed when they have served, or when the process is ended by a signal (not when it is killed outright).
 *
 * <p>Their names cannot be guessed, and each is made exclusively: a file or a link that somebody put there before is never
 * written to.
 */
public final class TemporaryFiles {
    private static final int NAME_BYTES = 8;
    private static final int KEPT_CHARACTERS = 40;
    private static final int TRIES = 3;
    private static final Pattern PART = Pattern.compile("(?s)\\..*\\.[0-9a-f]{" + 2 * NAME_BYTES + "}\\.part");
    private static final Set<Path> OPEN = ConcurrentHashMap.newKeySet();
    private static final List<Runnable> FIRST = new CopyOnWriteArrayList<>();

    static {
        Runtime.getRuntime().addShutdownHook(new Thread(TemporaryFiles::removeAll));
    }

    private TemporaryFiles() {}

    /** A new file beside another one, open to be written, and its path. */
    record Beside(Path path, FileChannel channel) {}

    /**
     * Makes a new, empty file beside another one. It may be read and written by whom that may be, if it is there, and
     * otherwise by whom a new file may.
     */
    static Beside beside(Path file) throws IOException {
        for (int i = 0; ; i++) {
            Path part = file.resolveSibling(name(file));
            try {
                Optional<PosixFileAttributes> before = attributes(file);
                OPEN.add(part);
                FileChannel channel = before.isPresent()
                        ? FileChannel.open(
                                part,
                                Set.<OpenOption>of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE),
                                java.nio.file.attribute.PosixFilePermissions.asFileAttribute(
                                        java.nio.file.attribute.PosixFilePermissions.fromString("rw-------")))
                        : FileChannel.open(part, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
                before.ifPresent(b -> keep(b, part));
                return new Beside(part, channel);
            } catch (FileAlreadyExistsException e) {
                OPEN.remove(part);
                if (i == TRIES) {
                    throw e;
                }
            }
        }
    }

    /** Returns a name for what is not complete, which nobody can have foreseen. */
    public static String name(Path file) {
        byte[] chance = new byte[NAME_BYTES];
        new SecureRandom().nextBytes(chance);
        String known = String.valueOf(file.getFileName());
        // A long name stays one that the system takes; half a character would be none.
        int[] start = known.codePoints().limit(KEPT_CHARACTERS).toArray();
        return "." + new String(start, 0, start.length) + "." + HexFormat.of().formatHex(chance) + ".part";
    }

    /** Whether a file has a name that {@link #name} gives. */
    public static boolean isPart(String name) {
        return PART.matcher(name).matches();
    }

    private static Optional<PosixFileAttributes> attributes(Path file) throws IOException {
        if (!Files.exists(file)) {
            return Optional.empty();
        }
        Optional<PosixFileAttributeView> view =
                Optional.ofNullable(Files.getFileAttributeView(file, PosixFileAttributeView.class));
        return view.isPresent() ? Optional.of(view.get().readAttributes()) : Optional.empty();
    }

    /** Gives a file the owner, group and permissions of another; an owner or group that the system refuses to give stays. */
    private static void keep(PosixFileAttributes of, Path file) {
        PosixFileAttributeView view =
                Files.getFileAttributeView(file, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
        tried(() -> view.setOwner(of.owner()));
        tried(() -> view.setGroup(of.group()));
        tried(() -> view.setPermissions(of.permissions()));
    }

    private interface Change {
        void make() throws IOException;
    }

    /** Of somebody else's file in a folder of ours, what replaces it is ours. */
    private static boolean tried(Change change) {
        try {
            change.make();
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    /** Makes a folder for one process, which only the user may enter. */
    public static Path folder() throws IOException {
        Path folder = Files.createTempDirectory("keenfold-");
        OPEN.add(folder);
        return folder;
    }

    /** Makes a file for one process, which only the user may read. */
    public static Path file() throws IOException {
        Path file = Files.createTempFile("keenfold-", ".tmp");
        OPEN.add(file);
        return file;
    }

    /** Notes a file that is made by something else and must not outlive the process. */
    public static void note(Path file) {
        OPEN.add(file);
    }

    /** Removes a file, or a folder with all that is in it; what cannot be removed now is tried again at the end. */
    public static void remove(Path path) {
        try {
            removeAll(path);
            OPEN.remove(path);
        } catch (IOException e) {
            path.toFile().deleteOnExit();
        }
    }

    /** Has something done before everything is removed at the end of the process, such as ending who writes to it. */
    public static void beforeRemoval(Runnable first) {
        FIRST.add(first);
    }

    private static void removeAll() {
        FIRST.forEach(Runnable::run);
        for (int i = 0; i < TRIES && !OPEN.isEmpty(); i++) {
            List.copyOf(OPEN).forEach(TemporaryFiles::remove);
        }
    }

    private static void removeAll(Path path) throws IOException {
        if (!Files.exists(path, LinkOption.NOFOLLOW_LINKS)) {
            return;
        }
        Files.walkFileTree(path, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) throws IOException {
                Files.deleteIfExists(file);
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult visitFileFailed(Path file, IOException e) {
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult postVisitDirectory(Path directory, IOException e) throws IOException {
                Files.deleteIfExists(directory);
                return FileVisitResult.CONTINUE;
            }
        });
    }
}
