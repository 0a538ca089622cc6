package keenfold.cli;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The built program in a process of its own that runs one command after another: most of a test's time would be processes
 * that start up. Each command gets files for what it prints, and its exit code comes back.
 */
final class ProgramLoop {
    private static final Map<Path, ProgramLoop> ALL = new LinkedHashMap<>();
    private static final long LONGEST_MILLIS = 1000L * Until.HANG_SECONDS;

    private final Process process;
    private final BufferedReader codes;

    private ProgramLoop(Path folder) {
        List<String> command = new ArrayList<>(
                List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString()));
        command.addAll(Program.OPTIONS);
        String tests = Path.of(ProgramLoop.class
                        .getProtectionDomain()
                        .getCodeSource()
                        .getLocation()
                        .getPath())
                .toString();
        String mapper = System.getProperty("java.class.path");
        command.addAll(List.of(
                "-cp",
                System.getProperty("keenfold.jar")
                        + java.io.File.pathSeparator
                        + tests
                        + java.io.File.pathSeparator
                        + mapper,
                ProgramLoop.class.getName()));
        try {
            process = new ProcessBuilder(command)
                    .directory(folder.toFile())
                    .redirectError(ProcessBuilder.Redirect.INHERIT)
                    .start();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        codes = process.inputReader(StandardCharsets.UTF_8);
        Runtime.getRuntime().addShutdownHook(new Thread(process::destroyForcibly));
    }

    /** Returns the one of a folder; of others the last one stays, for tests that go back and forth. */
    static synchronized ProgramLoop in(Path folder) {
        ProgramLoop loop = ALL.remove(folder);
        if (loop == null || !loop.process.isAlive()) {
            loop = new ProgramLoop(folder);
        }
        while (ALL.size() > 1) {
            Path oldest = ALL.keySet().iterator().next();
            ALL.remove(oldest).process.destroyForcibly();
        }
        ALL.put(folder, loop);
        return loop;
    }

    /** Runs a command; returns its exit code. */
    synchronized int run(Path out, Path err, String... args) throws IOException, InterruptedException {
        List<String> line = new ArrayList<>(List.of(out.toString(), err.toString()));
        line.addAll(List.of(args));
        process.getOutputStream()
                .write((new ObjectMapper().writeValueAsString(line) + "\n").getBytes(StandardCharsets.UTF_8));
        process.getOutputStream().flush();
        long end = System.currentTimeMillis() + LONGEST_MILLIS;
        while (!codes.ready()) {
            if (!process.isAlive() || System.currentTimeMillis() > end) {
                process.destroyForcibly();
                throw new IllegalStateException("the program ended, or did not end in time: " + line);
            }
            Thread.sleep(2);
        }
        return Integer.parseInt(codes.readLine());
    }

    /** Takes commands until there are no more. */
    public static void main(String[] none) throws IOException {
        PrintStream answers = System.out;
        BufferedReader commands = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        System.setIn(java.io.InputStream.nullInputStream());
        for (String line = commands.readLine(); line != null; line = commands.readLine()) {
            String[] words = new ObjectMapper().readValue(line, String[].class);
            int code;
            try (PrintStream out = stream(words[0]);
                    PrintStream err = stream(words[1])) {
                System.setOut(out);
                System.setErr(err);
                code = Main.execute(out, err, java.util.Arrays.copyOfRange(words, 2, words.length));
            }
            answers.println(code);
            answers.flush();
        }
    }

    private static PrintStream stream(String file) throws IOException {
        return new PrintStream(Files.newOutputStream(Path.of(file)), false, StandardCharsets.UTF_8);
    }
}
