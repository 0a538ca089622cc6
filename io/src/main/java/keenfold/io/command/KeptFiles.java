package keenfold.io.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.learned.FitFailure;

/**
 * The files in which a program keeps what it learned, by their paths within its folder, with a slash between names.
 *
 * @param files path to content
 */
record KeptFiles(Map<String, byte[]> files) {
    private static final int MOST_FILES = 1000;
    private static final long MOST_BYTES = 32L << 20;

    KeptFiles {
        files = new TreeMap<>(files);
    }

    /**
     * Reads the files of a folder.
     *
     * @throws FitFailure if there are none, or too many, or they are too large
     */
    static KeptFiles read(Path folder) {
        Map<String, byte[]> files = new TreeMap<>();
        long bytes = 0;
        try (Stream<Path> all = Files.walk(folder)) {
            for (Path file : all.filter(f -> Files.isRegularFile(f, LinkOption.NOFOLLOW_LINKS))
                    .toList()) {
                bytes += Files.size(file);
                if (files.size() == MOST_FILES || bytes > MOST_BYTES) {
                    throw new FitFailure(
                            "the program wrote more into the folder model than a model file holds: at most "
                                    + MOST_FILES + " files of " + (MOST_BYTES >> 20) + " MB in all");
                }
                files.put(folder.relativize(file).toString().replace('\\', '/'), Files.readAllBytes(file));
            }
        } catch (IOException e) {
            throw new FitFailure("what the program wrote into the folder model cannot be read: " + e.getMessage());
        }
        if (files.isEmpty()) {
            throw new FitFailure("the program wrote nothing into the folder model, where what it learned is to be kept"
                    + " (docs/command.md)");
        }
        return new KeptFiles(files);
    }

    /** Writes the files into a folder. */
    void write(Path folder) throws IOException {
        for (Map.Entry<String, byte[]> file : files.entrySet()) {
            Path to = inside(folder, file.getKey());
            Files.createDirectories(to.getParent());
            Files.write(to, file.getValue());
        }
    }

    /** A file of somebody's model must not be written anywhere else. */
    private static Path inside(Path folder, String name) {
        try {
            Path to = folder.resolve(name).normalize();
            Checks.that(
                    to.startsWith(folder.normalize())
                            && !to.equals(folder.normalize())
                            && !Path.of(name).isAbsolute(),
                    "a file \"%s\" is not in the folder of the model",
                    name);
            return to;
        } catch (InvalidPathException e) {
            throw Checks.wrong("a file of the model cannot be called \"" + name + "\"", e);
        }
    }

    State add(State state) {
        List<State> contents = new ArrayList<>();
        files.values()
                .forEach(f -> contents.add(
                        State.of("content").with("base64", Base64.getEncoder().encodeToString(f))));
        return state.withTexts("files", List.copyOf(files.keySet())).withParts("contents", contents);
    }

    /** @throws IllegalArgumentException if they are not what a state can hold */
    static KeptFiles of(State state) {
        List<String> names = state.texts("files");
        List<State> contents = state.parts("contents");
        Checks.that(names.size() == contents.size(), "%d files with %d contents", names.size(), contents.size());
        Map<String, byte[]> files = new TreeMap<>();
        Path anywhere = Path.of("model").toAbsolutePath();
        for (int i = 0; i < names.size(); i++) {
            inside(anywhere, names.get(i));
            files.put(names.get(i), decoded(names.get(i), contents.get(i).text("base64")));
        }
        return new KeptFiles(files);
    }

    private static byte[] decoded(String name, String text) {
        try {
            return Base64.getDecoder().decode(text);
        } catch (IllegalArgumentException e) {
            throw Checks.wrong("file \"" + name + "\" is not written in base64: " + e.getMessage(), e);
        }
    }
}
