package keenfold.study.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Notice;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.Shares;
import keenfold.core.run.Unit;
import keenfold.core.run.candidate.Family;
import keenfold.io.plan.Plan;
import keenfold.io.table.TableLocation;
import keenfold.results.table.NumberFormats;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.study.progress.Watcher;

/**
 * A plan divided into shards: what each takes, and what to ask a scheduler for.
 *
 * @param job the plan, its data and splits
 * @param count how many shards
 * @param threads of each
 * @param effort seconds of a unit of each family; empty if nothing was timed
 * @param loads seconds of each shard on one thread
 * @param starting seconds that a shard takes to start and to know its share
 * @param megabytes of memory to ask for
 */
public record Scattering(
        LoadedPlan job,
        int count,
        int threads,
        Map<String, Double> effort,
        List<Double> loads,
        double starting,
        long megabytes) {
    private static final double SAFETY = 3;
    private static final double START_SECONDS = 60;
    private static final double LEAST_MINUTES = 5;
    private static final long LEAST_MEGABYTES = 1024;
    private static final int UNTIMED_MINUTES = 24 * 60;

    private static final int MOST_TIMED = 5;
    private static final double ENOUGH_SECONDS = 1;

    /** One less than Slurm's own limit, as it comes. */
    private static final int MOST_IN_ARRAY = 1000;

    /** Copies the lists. */
    public Scattering {
        effort = Collections.unmodifiableMap(new LinkedHashMap<>(effort));
        loads = List.copyOf(loads);
    }

    /**
     * Divides a plan.
     *
     * @param timed whether a few fits are timed first, unless the plan says what they take
     */
    public static Scattering of(LoadedPlan job, int count, int threads, boolean timed, Watcher watcher) {
        Map<String, Double> known = job.plan().effort();
        boolean measures = timed && known.isEmpty();
        watcher.doing(measures ? "timing one fit of each family" : "dividing the units");
        Map<String, Double> effort = measures ? measured(job.comparison()) : known;
        long dividing = System.nanoTime();
        double[] loads = new Shares(job.comparison(), job.plan().evidence().halving(), effort, count).loads();
        // Each shard divides the units for itself, and goes through them twice more.
        double starting = 1 + 2e-9 * (System.nanoTime() - dividing);
        return new Scattering(
                job, count, threads, effort, Arrays.stream(loads).boxed().toList(), starting, memory());
    }

    /** Whether any fit was timed. */
    public boolean timed() {
        return !effort.isEmpty();
    }

    /** Returns the seconds of the longest shard. */
    public double longest() {
        return loads.stream().mapToDouble(Double::doubleValue).max().orElse(0) / threads;
    }

    /** Returns the seconds of the shortest shard. */
    public double shortest() {
        return loads.stream().mapToDouble(Double::doubleValue).min().orElse(0) / threads;
    }

    /** Returns the minutes to ask for: three times the longest shard and a minute to start; a day if nothing was timed. */
    public int minutes() {
        return timed()
                ? (int) Math.ceil(Math.max(LEAST_MINUTES, (START_SECONDS + SAFETY * longest()) / 60))
                : UNTIMED_MINUTES;
    }

    /** Returns what is to be known of the division. */
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>();
        if (timed() && count > 1 && longest() < 2 * starting) {
            notices.add(Notice.plain(
                    "small-shards",
                    "a shard takes about " + NumberFormats.seconds(starting) + " to start and to know its share, and "
                            + NumberFormats.seconds(longest()) + " to do it: fewer and larger shards waste less"));
        }
        if (count > MOST_IN_ARRAY) {
            notices.add(Notice.plain(
                    "array-too-large",
                    "Slurm refuses arrays beyond its MaxArraySize, which is 1001 unless its administrator raised it"
                            + " (scontrol show config); with at most 1000 shards it is not met"));
        }
        return notices;
    }

    /**
     * Seconds of one unit of each family, on the data set of the most rows: the last of a few, since the first ones warm the program
     * up and make what the others share. One that takes long stands alone.
     */
    private static Map<String, Double> measured(Comparison comparison) {
        int largest = 0;
        for (int t = 1; t < comparison.tasks().size(); t++) {
            if (comparison.tasks().get(t).data().rows()
                    > comparison.tasks().get(largest).data().rows()) {
                largest = t;
            }
        }
        int task = largest;
        Map<String, Double> seconds = new LinkedHashMap<>();
        List<Family> families = comparison.families();
        List<List<Unit>> some =
                families.stream().map(f -> (List<Unit>) new ArrayList<Unit>()).toList();
        comparison.forEachUnit(u -> {
            if (u.task() == task && some.get(u.family()).size() < MOST_TIMED) {
                some.get(u.family()).add(u);
            }
        });
        for (int f = 0; f < families.size(); f++) {
            double last = timed(comparison, some.get(f));
            // Three digits say enough, and keep the plan readable.
            seconds.put(
                    families.get(f).name(),
                    Double.parseDouble(String.format(Locale.ROOT, "%.3g", Math.max(1e-4, last))));
        }
        return seconds;
    }

    private static double timed(Comparison comparison, List<Unit> units) {
        Runner runner = Runner.on(Parallel.of(1));
        double[] all = new double[1];
        double[] last = new double[1];
        runner.run(comparison, units, (u, fits) -> {}, (u, seconds) -> {
            last[0] = seconds;
            all[0] += seconds;
            if (all[0] > ENOUGH_SECONDS) {
                runner.stop();
            }
        });
        return last[0];
    }

    /** What this process takes after it has read the data and made some fits, and as much again. */
    private static long memory() {
        Runtime runtime = Runtime.getRuntime();
        long used = runtime.totalMemory() >> 20;
        return Math.max(LEAST_MEGABYTES, (2 * used + 511) / 512 * 512);
    }

    /** Returns a plan with all of its files where they were found. */
    public static Plan found(Plan plan, List<Path> folders) {
        return PlanFiles.moved(plan, file -> {
            TableLocation where = TableLocation.of(file, folders);
            return where.file() + where.part().map(p -> "#" + p).orElse("");
        });
    }

    /** Returns the deepest folder that has the scattered plan and all of its data in it. */
    public static Path mount(Path to, Plan found) {
        Path common = to.toAbsolutePath().normalize();
        for (var data : found.data()) {
            Path file = TableLocation.of(data.file(), List.of(Path.of("")))
                    .file()
                    .toAbsolutePath()
                    .normalize();
            while (!file.startsWith(common)) {
                common = Optional.ofNullable(common.getParent()).orElse(file.getRoot());
            }
        }
        return common;
    }
}
