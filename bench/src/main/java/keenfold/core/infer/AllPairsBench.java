package keenfold.core.infer;

import java.util.Optional;
import java.util.concurrent.TimeUnit;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Results;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * All 190 contrasts of 20 candidates in 10 repeats by auc, λ of every pair and standings included, against the draws that
 * they rest on alone.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 1)
@Measurement(iterations = 3)
@Fork(
        value = 1,
        jvmArgsAppend = {"-Xmx6g", "-XX:+UseParallelGC"})
public class AllPairsBench {
    private static final int CANDIDATES = 20;
    private static final int DRAWS = 1000;

    /** Number of rows. */
    @Param({"1000", "10000", "100000"})
    public int rows;

    private Optional<Results> results = Optional.empty();

    /** Makes predictions from thin air. */
    @Setup
    public void make() {
        results = Optional.of(DrawsBench.results(rows, CANDIDATES, 0));
    }

    /** The draws of auc alone. */
    @Benchmark
    public Object draws() {
        AlignedPredictions panel = AlignedPredictions.of(results.orElseThrow(), 0);
        return new Bootstrap(panel, DRAWS, Parallel.of(1))
                .means(panel.task().metrics().get(2), panel.admitted(), false);
    }

    /** Draws, contrasts of all pairs and standings. */
    @Benchmark
    public Object contrasts() {
        MetricInference auc = Inference.of(
                        AlignedPredictions.of(results.orElseThrow(), 0),
                        InferenceSettings.DEFAULT.withDraws(DRAWS),
                        Parallel.of(1))
                .metric("auc");
        auc.contrasts();
        return auc.standings();
    }
}
