package keenfold.io.table;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.Nearest;

/** Makes a data set of a file: target, groups and features apart, rows without a class left out, oddities noticed. */
public final class DataReader {
    private static final int MOST_CLASSES = 1000;

    private final DataSpec spec;
    private final Path path;
    private final List<String> notices = new ArrayList<>();

    private DataReader(DataSpec spec, Path path) {
        this.spec = spec;
        this.path = path;
    }

    /**
     * Reads the data of a spec.
     *
     * @param folders where a relative file is looked for, in order
     * @throws InputException if the file or one of the columns cannot be used
     */
    public static LoadedData read(DataSpec spec, List<Path> folders) {
        Path path = folders.stream()
                .map(f -> f.resolve(spec.file()))
                .filter(Files::exists)
                .findFirst()
                .orElse(folders.get(0).resolve(spec.file()))
                .normalize();
        return new DataReader(spec, path).read();
    }

    private LoadedData read() {
        TableFormat format = new TableFormat(
                spec.format().separator(),
                spec.format().missing(),
                spec.labels(),
                spec.format().number());
        for (String label : spec.format().number()) {
            if (spec.labels().contains(label)) {
                throw new InputException(spec.file(), "column \"" + label + "\" cannot be both a label and a number");
            }
        }
        List<ReadColumn> read = TableReader.read(path, format);
        List<String> names = read.stream().map(c -> c.column().name()).toList();
        Categories target = labels(read, names, spec.target());
        spec.leaveOut().forEach(n -> known(n, names));
        Optional<Categories> groups = spec.groups().map(g -> labels(read, names, g));
        int[] rows = labelledRows(target, groups);
        Categories labelled = target.select(rows);
        Classes classes = classes(labelled);
        int[] codes = codes(labelled, classes);
        Table features = features(read, rows, groups.isPresent());
        DataSet data = DataSet.of(
                spec.name(),
                features,
                classes,
                codes,
                groups.map(g -> withoutUnused(g.select(rows))),
                IntStream.of(rows).map(i -> i + 1).toArray());
        notices.addAll(Oddities.of(data));
        return new LoadedData(data, Fingerprint.of(data), notices);
    }

    private void known(String name, List<String> names) {
        if (!names.contains(name)) {
            throw new InputException(
                    path.toString(), "there is no column \"" + name + "\"" + Nearest.hint(name, names));
        }
    }

    private Categories labels(List<ReadColumn> read, List<String> names, String name) {
        known(name, names);
        return read.get(names.indexOf(name)).column().match(n -> Categories.of(n.name()), c -> c);
    }

    private int[] labelledRows(Categories target, Optional<Categories> groups) {
        int unlabelled = target.countMissing();
        if (unlabelled == target.rows()) {
            throw new InputException(path.toString(), "no row has a value in the target \"" + target.name() + "\"");
        }
        if (unlabelled > 0) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: %d of %d rows have no \"%s\" and are left out",
                    spec.name(),
                    unlabelled,
                    target.rows(),
                    target.name()));
        }
        groups.ifPresent(g -> {
            for (int i = 0; i < g.rows(); i++) {
                if (g.missing(i) && !target.missing(i)) {
                    throw new InputException(
                            path + ", data row " + (i + 1) + ", column \"" + g.name() + "\"",
                            "a row without a group cannot be kept on one side; name its group or leave the row out");
                }
            }
        });
        return IntStream.range(0, target.rows()).filter(i -> !target.missing(i)).toArray();
    }

    private Classes classes(Categories labelled) {
        int[] counts = labelled.counts();
        List<String> labels = new ArrayList<>();
        List<Integer> present = new ArrayList<>();
        for (int c = 0; c < counts.length; c++) {
            if (counts[c] > 0) {
                labels.add(labelled.levels().get(c));
                present.add(counts[c]);
            }
        }
        String place = path + ", column \"" + spec.target() + "\"";
        if (labels.size() < 2) {
            throw new InputException(
                    place, "every row is of class \"" + labels.get(0) + "\"; a comparison needs at least two classes");
        }
        if (labels.size() > MOST_CLASSES || (labels.size() * 2 > labelled.rows() && labels.size() > 20)) {
            throw new InputException(
                    place,
                    labels.size() + " different values in " + labelled.rows()
                            + " rows; Keen Fold compares classifiers, whose target has a few classes");
        }
        return new Classes(labels, positive(labels, present, place));
    }

    private int positive(List<String> labels, List<Integer> counts, String place) {
        if (spec.positive().isPresent()) {
            String wanted = spec.positive().get();
            int index = labels.indexOf(wanted);
            if (index < 0) {
                throw new InputException(place, "no row is of class \"" + wanted + "\"" + Nearest.hint(wanted, labels));
            }
            return index;
        }
        int rarest = Classes.rarest(counts.stream().mapToInt(Integer::intValue).toArray());
        if (labels.size() == 2) {
            notices.add(String.format(
                    Locale.ROOT,
                    "%s: the positive class is \"%s\", the rarer one (%d of %d rows); name it with positive: in the"
                            + " plan, or --positive",
                    spec.name(),
                    labels.get(rarest),
                    counts.get(rarest),
                    counts.get(0) + counts.get(1)));
        }
        return rarest;
    }

    private static int[] codes(Categories labelled, Classes classes) {
        int[] codes = new int[labelled.rows()];
        for (int i = 0; i < codes.length; i++) {
            codes[i] = classes.indexOf(labelled.levels().get(labelled.code(i)));
        }
        return codes;
    }

    private Table features(List<ReadColumn> read, int[] rows, boolean grouped) {
        Set<String> apart = new HashSet<>(spec.leaveOut());
        apart.add(spec.target());
        spec.groups().ifPresent(apart::add);
        List<Column> features = new ArrayList<>();
        for (ReadColumn column : read) {
            Column chosen = column.column().select(rows);
            if (!apart.contains(chosen.name()) && !Oddities.leftOut(spec.name(), chosen, notices)) {
                Oddities.noticeIgnored(spec.name(), column.kind(), chosen, grouped, notices);
                features.add(chosen);
            }
        }
        if (features.isEmpty()) {
            throw new InputException(path.toString(), "no column is left to predict \"" + spec.target() + "\" from");
        }
        return new Table(rows.length, features);
    }

    /** Groups whose rows all lack a class would be empty folds. */
    private static Categories withoutUnused(Categories groups) {
        String[] texts = new String[groups.rows()];
        for (int i = 0; i < texts.length; i++) {
            texts[i] = groups.levels().get(groups.code(i));
        }
        return Categories.of(groups.name(), texts);
    }
}
