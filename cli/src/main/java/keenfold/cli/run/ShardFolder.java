package keenfold.cli.run;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.WholeFile;

/** The folder that {@code scatter} writes: a plan, and what each scheduler needs to run it in shards. */
final class ShardFolder {
    /** The file that says how many shards there are. */
    static final String SIZE = "shards";

    private static final Pattern MARK = Pattern.compile("@([A-Z]+)@");

    private ShardFolder() {}

    /** Refuses a folder that holds something. */
    static void requireNew(Path to) {
        if (Files.exists(to.resolve("plan.yaml"))) {
            throw new InputException(to.toString(), "holds a scattered plan already; name another folder");
        }
        String[] there = Optional.ofNullable(to.toFile().list()).orElse(new String[0]);
        if (there.length > 0) {
            throw new InputException(
                    to.toString(), "holds files already, such as " + there[0] + "; name a new or an empty folder");
        }
    }

    /**
     * Writes the folder.
     *
     * @param plan as YAML
     * @param values what stands in the place of each mark of the files
     */
    static void write(Path to, int count, String plan, Map<String, String> values) {
        try {
            Files.createDirectories(to.resolve("ledgers"));
            Files.createDirectories(to.resolve("logs"));
            WholeFile.text(to.resolve("plan.yaml"), plan);
            for (String file :
                    List.of("shard.sh", "finish.sh", "loop.sh", "slurm.sh", "slurm-array.sh", "slurm-finish.sh")) {
                WholeFile.text(to.resolve(file), filled(file, values));
                Checks.that(to.resolve(file).toFile().setExecutable(true, false), "%s cannot be made executable", file);
            }
            WholeFile.text(to.resolve("kubernetes.yaml"), filled("kubernetes.yaml", values));
            WholeFile.text(to.resolve(SIZE), count + "\n");
        } catch (IOException e) {
            throw new InputException(to.toString(), "cannot be written: " + Reason.of(e), e);
        }
    }

    /** Kubernetes takes small letters, digits and hyphens. */
    static String name(Path to) {
        String plain = to.toAbsolutePath()
                .normalize()
                .getFileName()
                .toString()
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "-")
                .replaceAll("^-+|-+$", "");
        return plain.isEmpty() ? "keenfold" : plain.substring(0, Math.min(40, plain.length()));
    }

    /** A text as YAML writes it between single quotes. */
    static String yaml(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    private static String filled(String name, Map<String, String> values) throws IOException {
        String text;
        try (InputStream in = ShardFolder.class.getResourceAsStream("scatter/" + name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is not in the jar");
            }
            text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        return MARK.matcher(text)
                .replaceAll(m -> Matcher.quoteReplacement(
                        Optional.ofNullable(values.get(m.group(1))).orElseThrow()));
    }
}
