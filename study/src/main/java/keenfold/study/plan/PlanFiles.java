package keenfold.study.plan;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.io.plan.SplitSource;
import keenfold.io.table.DataSpec;
import keenfold.io.table.TableLocation;

/** The files that a plan names, seen from another folder. */
public final class PlanFiles {
    private PlanFiles() {}

    /** Returns the plan with its files, so far relative to the working folder, named relative to another one. */
    public static Plan relativeTo(Plan plan, Path folder) {
        return moved(plan, file -> moved(file, folder));
    }

    /** Returns the plan with its files named otherwise. */
    public static Plan moved(Plan plan, UnaryOperator<String> moved) {
        List<DataSpec> data =
                plan.data().stream().map(d -> d.withFile(moved.apply(d.file()))).toList();
        Division division = plan.division();
        SplitSource source = division.source();
        if (source instanceof SplitSource.GivenFile given) {
            source = new SplitSource.GivenFile(moved.apply(given.file()));
        } else if (source instanceof SplitSource.Apart apart) {
            source = new SplitSource.Apart(moved.apply(apart.test()));
        }
        return plan.withFiles(
                data,
                new Division(
                        source,
                        division.bindEqual(),
                        division.holdout()
                                .map(h -> new Division.SetAside(
                                        h.drawn(), h.file().map(moved)))));
    }

    /**
     * Returns the files that are read to carry out a plan.
     *
     * @param plan the file of the plan, or the ledger that keeps it
     * @param folders where the others are looked for
     */
    public static List<Path> inputs(Path plan, Plan of, List<Path> folders) {
        List<String> names = new ArrayList<>();
        moved(of, file -> {
            names.add(file);
            return file;
        });
        List<Path> inputs = new ArrayList<>(List.of(plan));
        names.stream()
                .filter(name -> !name.equals(TableLocation.STANDARD_INPUT))
                .forEach(name -> inputs.add(TableLocation.of(name, folders).file()));
        return inputs;
    }

    /** Names a file, so far relative to the working folder, relative to another one. */
    public static String moved(String file, Path folder) {
        if (file.equals(TableLocation.STANDARD_INPUT)) {
            return file;
        }
        TableLocation where = TableLocation.of(file, List.of(Path.of("")));
        String path = folder.toAbsolutePath()
                .normalize()
                .relativize(where.file().toAbsolutePath().normalize())
                .toString()
                .replace('\\', '/');
        return path + where.part().map(p -> "#" + p).orElse("");
    }
}
