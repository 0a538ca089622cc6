package keenfold.io.table;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.io.table.parse.TableFormat;

/**
 * Which file is to be read, and what its columns are for.
 *
 * @param file the file as the plan writes it, relative to the plan
 * @param name the data set's name
 * @param target the column of the classes
 * @param positive the positive class, if it is named
 * @param groups the column that says which rows belong together, if there is one
 * @param order the column that says which rows came first, if there is one
 * @param weights the column that says for how many cases a row counts, if there is one
 * @param leaveOut columns that candidates do not see
 * @param format how the file is read
 */
public record DataSpec(
        String file,
        String name,
        String target,
        Optional<String> positive,
        Optional<String> groups,
        Optional<String> order,
        Optional<String> weights,
        List<String> leaveOut,
        TableFormat format) {
    /** Copies the list. */
    public DataSpec {
        leaveOut = List.copyOf(leaveOut);
    }

    /**
     * Returns the name of a data set whose plan gives none: the file's name without its endings. What a name cannot hold
     * (commas, slashes, control characters, characters without a shape) becomes a hyphen.
     */
    public static String stem(String file) {
        String name = plainStem(file).replaceAll("[,/\\\\]\\s*|[\\p{Cc}\\p{Cf}\\p{Zl}\\p{Zp}]", "-");
        return name.isBlank() ? "data" : name;
    }

    /** Whether the name is another than the file's, for what that holds. */
    static boolean renamed(DataSpec spec) {
        return spec.name().equals(stem(spec.file())) && !spec.name().equals(plainStem(spec.file()));
    }

    private static String plainStem(String file) {
        if (file.equals(TableLocation.STANDARD_INPUT)) {
            return "input";
        }
        int hash = file.indexOf('#');
        if (hash > 0) {
            String part = file.substring(hash + 1).strip();
            return part.matches("[A-Za-z0-9_-]+") ? part : plainStem(file.substring(0, hash));
        }
        String last = file.substring(Math.max(file.lastIndexOf('/'), file.lastIndexOf('\\')) + 1);
        String name = last.replaceFirst("\\.gz$", "").replaceFirst("\\.[A-Za-z0-9]{1,8}$", "");
        return name.isEmpty() ? last : name;
    }

    /** Returns the same data read in another format. */
    public DataSpec withFormat(TableFormat other) {
        return new DataSpec(file, name, target, positive, groups, order, weights, leaveOut, other);
    }

    /** Returns the same of another file. */
    public DataSpec withFile(String other) {
        return new DataSpec(other, name, target, positive, groups, order, weights, leaveOut, format);
    }

    /** Returns the same data set under another name. */
    public DataSpec withName(String other) {
        return new DataSpec(file, other, target, positive, groups, order, weights, leaveOut, format);
    }

    /** Returns the format, whose word for all columns spares those that must be numbers: order and weights. */
    public TableFormat sparingNumbers() {
        Set<String> numbers = new java.util.HashSet<>();
        order.ifPresent(numbers::add);
        weights.ifPresent(numbers::add);
        return format.sparing(numbers);
    }

    /** Returns the columns that must be read as text: what stands in them are labels. */
    Set<String> labels() {
        Set<String> labels = new java.util.HashSet<>(format.text());
        labels.add(target);
        groups.ifPresent(labels::add);
        return labels;
    }
}
