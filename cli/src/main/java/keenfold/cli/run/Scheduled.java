package keenfold.cli.run;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.run.Shard;

/** What a scheduler says to the jobs of an array, in their environment. */
public final class Scheduled {
    /** How many shards there are, which no scheduler says of an array of which only some jobs run again. */
    public static final String SHARDS = "KEENFOLD_SHARDS";

    private Scheduled() {}

    /** Where schedulers put the index of a job within its array; all but one count from 1. */
    private static final List<String> FROM_ONE =
            List.of("SLURM_ARRAY_TASK_ID", "PBS_ARRAY_INDEX", "LSB_JOBINDEX", "SGE_TASK_ID");

    private static final String FROM_ZERO = "JOB_COMPLETION_INDEX";

    /**
     * Returns the shard of this job: of jobs that are numbered from 1, from 0 for indexed jobs of Kubernetes.
     *
     * @throws IllegalArgumentException if the environment does not say
     */
    public static Shard shard(Map<String, String> environment) {
        String of = Optional.ofNullable(environment.get(SHARDS)).orElse("");
        Checks.that(of.matches("\\d{1,9}"), "from-env: the variable %s does not say how many shards there are", SHARDS);
        for (String name : FROM_ONE) {
            Optional<Integer> index = index(environment, name);
            if (index.isPresent()) {
                return new Shard(index.get(), Integer.parseInt(of));
            }
        }
        Optional<Integer> index = index(environment, FROM_ZERO);
        if (index.isPresent()) {
            return new Shard(index.get() + 1, Integer.parseInt(of));
        }
        throw Checks.wrong(
                "from-env: none of SLURM_ARRAY_TASK_ID, JOB_COMPLETION_INDEX, PBS_ARRAY_INDEX, LSB_JOBINDEX and"
                        + " SGE_TASK_ID says which job of an array this is");
    }

    private static Optional<Integer> index(Map<String, String> environment, String name) {
        return Optional.ofNullable(environment.get(name))
                .filter(v -> v.matches("\\d{1,9}"))
                .map(Integer::valueOf);
    }
}
