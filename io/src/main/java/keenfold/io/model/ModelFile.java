package keenfold.io.model;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.core.StreamWriteFeature;
import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import java.util.zip.ZipException;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.State;
import keenfold.core.data.ValueException;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.Reason;
import keenfold.io.command.CommandKind;
import keenfold.io.command.Programs;

/**
 * A trained candidate with what is needed to use it.
 *
 * <p>The file is gzipped JSON, one state ({@code docs/model.md}); numbers read back equal, so that a model that is read gives
 * the same probabilities to the last bit.
 *
 * @param columns that it was trained on
 * @param target name of the column that it predicts
 * @param classes labels, in the order of the probabilities
 * @param predictor what predicts
 * @param origin where it comes from
 */
public record ModelFile(Schema columns, String target, List<String> classes, FittedPipeline predictor, Origin origin) {
    /** The version of the format; those before it were never released. */
    public static final int VERSION = 2;

    private static final int DEEPEST = 300;
    private static final int LONGEST_NUMBER = 400;
    private static final int LONGEST_TEXT = 50_000_000;

    /** How many times larger than its file a model may be, beyond what is small anyway: JSON never packs so well. */
    private static final int MOST_PACKED = 100;

    private static final long SMALL = 64L << 20;

    /** Copies the labels. */
    public ModelFile {
        classes = List.copyOf(classes);
    }

    /** Returns the file's bytes. */
    public byte[] bytes() {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(out);
                JsonGenerator json = factory().createGenerator(gzip)) {
            StateJson.write(state(), json);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    private State state() {
        return State.of("keenfold-model")
                .with("version", VERSION)
                .with("target", target)
                .withTexts("classes", classes)
                .with("origin", origin.state())
                .with("columns", columns.state())
                .with("predictor", predictor.state());
    }

    private static JsonFactory factory() {
        return JsonFactory.builder()
                .streamReadConstraints(StreamReadConstraints.builder()
                        .maxNestingDepth(DEEPEST)
                        .maxNumberLength(LONGEST_NUMBER)
                        .maxStringLength(LONGEST_TEXT)
                        .build())
                .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                .disable(StreamWriteFeature.AUTO_CLOSE_CONTENT)
                .build();
    }

    /**
     * Reads a file.
     *
     * @throws InputException if it is not a model, damaged, of a newer version, or grows beyond measure
     */
    public static ModelFile read(Path file) {
        return read(file, Programs.NONE);
    }

    /**
     * Reads a file.
     *
     * @param programs where programs of the user's are looked for that make its predictions, and whether they may be started
     * @throws InputException if it is not a model, damaged, of a newer version, or grows beyond measure
     */
    public static ModelFile read(Path file, Programs programs) {
        InputFile.require(file, file.toString(), "a model that keenfold train wrote");
        try (InputStream raw = new BufferedInputStream(Files.newInputStream(file));
                InputStream in = new Bounded(new GZIPInputStream(raw), SMALL + MOST_PACKED * Files.size(file));
                JsonParser json = factory().createParser(in)) {
            json.nextToken();
            State state = StateJson.read(json);
            if (json.nextToken() != null) {
                throw Checks.wrong("something stands behind the model");
            }
            return of(state, programs);
        } catch (NoSuchFileException e) {
            throw new InputException(file.toString(), "there is no such file; keenfold train makes a model", e);
        } catch (ZipException e) {
            FileLook look = FileLook.of(file);
            boolean damaged = look == FileLook.UNCLEAR || look == FileLook.MODEL || look == FileLook.PACKED;
            throw new InputException(
                    file.toString(),
                    damaged
                            ? "is no model file, or a damaged one (" + e.getMessage() + ")"
                            : "is no model, as train makes one" + look.words(),
                    e);
        } catch (EOFException e) {
            throw new InputException(file.toString(), "is cut off: the end of the model is missing", e);
        } catch (ValueException e) {
            throw new InputException(
                    file.toString(), "is no model of Keen Fold, or a damaged one: " + e.getMessage(), e);
        } catch (com.fasterxml.jackson.core.JacksonException e) {
            throw new InputException(
                    file.toString(), "is no model of Keen Fold, or a damaged one: " + e.getOriginalMessage(), e);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private static ModelFile of(State state, Programs programs) {
        Checks.that(state.kind().equals("keenfold-model"), "it holds \"%s\"", state.kind());
        int version = state.whole("version", 1, Integer.MAX_VALUE);
        Checks.that(
                version == VERSION,
                "its format is version %d, and this program reads %d%s",
                version,
                VERSION,
                version < VERSION ? "; train it again" : "");
        Schema columns = Schema.restored(state.part("columns"));
        List<String> classes = state.texts("classes");
        FittedPipeline predictor =
                FittedPipeline.restored(state.part("predictor"), columns.empty(), CommandKind.restorer(programs));
        Checks.that(
                predictor.classes() == classes.size(), "%d labels for %d classes", classes.size(), predictor.classes());
        // Distinct and in order, and the positive one is among them.
        new Classes(classes, predictor.positive());
        return new ModelFile(columns, state.text("target"), classes, predictor, Origin.restored(state.part("origin")));
    }

    /** Hands over so many bytes and no more. */
    private static final class Bounded extends FilterInputStream {
        private long left;

        Bounded(InputStream in, long most) {
            super(in);
            this.left = most;
        }

        private int taken(int count) {
            left -= Math.max(0, count);
            Checks.that(left >= 0, "unpacked it is more than %d times as large as the file", MOST_PACKED);
            return count;
        }

        @Override
        public int read() throws IOException {
            int one = super.read();
            taken(one < 0 ? 0 : 1);
            return one;
        }

        @Override
        public int read(byte[] bytes, int from, int length) throws IOException {
            return taken(super.read(bytes, from, length));
        }
    }
}
