package keenfold.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Finishes what a release says of itself: the list of its components, and the SHA-256 sums of what runs in it (program, man
 * pages, completion). {@code sha256sum -c share/doc/keenfold/SHA256SUMS}, in the folder of the release, checks them.
 */
public final class ReleaseSums {
    /** Where the archive has what the build has; the same as in archive.xml. */
    private static final Map<String, String> PLACES = new TreeMap<>(Map.of(
            "src/release/bin/keenfold", "bin/keenfold",
            "src/release/bin/keenfold.cmd", "bin/keenfold.cmd",
            "target/keenfold-all.jar", "lib/keenfold/keenfold.jar",
            "target/release/man", "share/man/man1",
            "target/release/bash", "share/bash-completion/completions",
            "target/release/zsh", "share/zsh/site-functions"));

    private ReleaseSums() {}

    /**
     * Writes the sums.
     *
     * @param args the folder of the module, and the file to write
     */
    public static void main(String[] args) throws IOException {
        Map<String, String> sums = new TreeMap<>();
        for (Map.Entry<String, String> place : PLACES.entrySet()) {
            Path from = Path.of(args[0]).resolve(place.getKey());
            try (Stream<Path> all = Files.walk(from)) {
                for (Path file : all.filter(Files::isRegularFile).toList()) {
                    String below = from.relativize(file).toString();
                    sums.put(place.getValue() + (below.isEmpty() ? "" : "/" + below), sum(file));
                }
            }
        }
        Path components = Path.of(args[1]).resolveSibling("components.json");
        Files.writeString(components, withoutOwnHashes(Files.readString(components)));
        StringBuilder lines = new StringBuilder();
        sums.forEach((file, sum) -> lines.append(sum).append("  ").append(file).append('\n'));
        Files.writeString(Path.of(args[1]), lines.toString(), StandardCharsets.UTF_8);
    }

    /**
     * The list of components without the hashes of the project's own modules: in a release they are parts of the one jar,
     * and as files of their own they differ with the umask.
     */
    private static String withoutOwnHashes(String list) {
        return Pattern.compile("(\"group\" : \"keenfold\",[^\\[\\]{}]*)\"hashes\" : \\[[^\\]]*\\],\\s*")
                .matcher(list)
                .replaceAll("$1");
    }

    private static String sum(Path file) throws IOException {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(Files.readAllBytes(file)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
