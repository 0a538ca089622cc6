package keenfold.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;
import keenfold.core.run.Comparison;
import keenfold.core.run.Task;
import keenfold.io.InputException;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.LoadedData;
import keenfold.view.text.Cautions;

/**
 * A plan with its data read and its splits made.
 *
 * @param plan with a seed
 * @param data one per data entry of the plan
 * @param comparison what is to be run
 */
record Job(Plan plan, List<LoadedData> data, Comparison comparison) {
    private static final int SEED_BOUND = 1_000_000_000;

    /** Reads the data of a plan; {@code place} goes into complaints about what plan and data ask of each other. */
    static Job of(Plan plan, String place, List<Path> folders) {
        List<LoadedData> data = new ArrayList<>();
        for (DataSpec spec : plan.data()) {
            data.add(DataReader.read(spec, folders));
        }
        return new Job(plan, data, comparison(plan, place, data));
    }

    private static Comparison comparison(Plan plan, String place, List<LoadedData> data) {
        long seed = plan.seed().orElseThrow();
        try {
            List<Task> tasks = data.stream()
                    .map(d -> Task.of(d.data(), plan.splits().divide(d.data(), seed), plan.metrics()))
                    .toList();
            return new Comparison(tasks, plan.candidates(), seed);
        } catch (IllegalArgumentException e) {
            throw new InputException(place, String.valueOf(e.getMessage()), e);
        }
    }

    /** The plan with its own seed, that of the ledger it may go on with, or one drawn now. */
    static Plan seeded(Plan plan, Path ledger) {
        if (plan.seed().isPresent()) {
            return plan;
        }
        return plan.withSeed(seedOf(ledger, plan)
                .orElseGet(() -> (long) ThreadLocalRandom.current().nextInt(1, SEED_BOUND)));
    }

    /** The seed of a ledger that was made from the same plan, apart from the seed. */
    private static Optional<Long> seedOf(Path ledger, Plan plan) {
        if (!Files.exists(ledger)) {
            return Optional.empty();
        }
        Plan there = LedgerReader.plan(ledger);
        boolean same = PlanWriter.write(there.withoutSeed()).equals(PlanWriter.write(plan.withoutSeed()));
        return same ? there.seed() : Optional.empty();
    }

    List<String> notices() {
        List<String> notices = new ArrayList<>();
        for (LoadedData loaded : data) {
            notices.addAll(loaded.notices());
            notices.addAll(Cautions.ofData(loaded.data(), plan.splits().folds()));
        }
        return notices;
    }
}
