package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class ParallelTest {
    @Test
    void resultsStandInTheOrderOfThePieces() {
        List<Integer> squares = IntStream.range(0, 500).mapToObj(i -> i * i).toList();
        for (int threads : new int[] {1, 2, 7}) {
            assertThat(Parallel.of(threads).map(500, i -> i * i)).isEqualTo(squares);
        }
        assertThat(Parallel.of(3).map(0, i -> i)).isEmpty();
    }

    @Test
    void severalThreadsWorkAndTheFirstFailureIsThrown() {
        Set<String> names = ConcurrentHashMap.newKeySet();
        AtomicInteger waiting = new AtomicInteger(2);
        Parallel.of(2).map(2, i -> {
            names.add(Thread.currentThread().getName() + Thread.currentThread().getId());
            waiting.decrementAndGet();
            // Both pieces must be under way at once for either to end.
            while (waiting.get() > 0) {
                Thread.onSpinWait();
            }
            return i;
        });
        assertThat(names).hasSize(2);
        assertThatThrownBy(() -> Parallel.of(2).map(100_000, i -> {
                    if (i == 3) {
                        throw new IllegalArgumentException("piece 3");
                    }
                    return i;
                }))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessage("piece 3");
        assertThatThrownBy(() -> Parallel.of(2).map(3, i -> {
                    throw new AssertionError("error " + i);
                }))
                .isInstanceOf(AssertionError.class)
                .hasMessage("error 0");
        assertThatThrownBy(() -> Parallel.of(0)).hasMessageContaining("threads = 0");
    }

    /** As many pieces as there are threads wait for each other, so that they must be worked on at once. */
    @Test
    void piecesAreWorkedOnAheadAndTakenInOrder() {
        for (int threads : new int[] {1, 2, 7}) {
            List<Integer> taken = new ArrayList<>();
            CyclicBarrier together = new CyclicBarrier(threads);
            try (Parallel.Ahead<Integer> ahead = Parallel.of(threads).ahead(taken::add)) {
                for (int i = 0; i < 10 * threads; i++) {
                    int piece = i;
                    ahead.add(() -> {
                        assertThatCode(together::await).doesNotThrowAnyException();
                        return piece;
                    });
                    assertThat(i + 1 - taken.size()).isLessThanOrEqualTo(2 * threads);
                }
                ahead.finish();
            }
            assertThat(taken).isEqualTo(IntStream.range(0, 10 * threads).boxed().toList());
        }
        assertThatThrownBy(() -> {
                    try (Parallel.Ahead<Integer> ahead = Parallel.of(2).ahead(i -> {})) {
                        for (int i = 0; i < 100; i++) {
                            int piece = i;
                            ahead.add(() -> 1 / (piece - 3));
                        }
                        ahead.finish();
                    }
                })
                .isInstanceOf(ArithmeticException.class);
    }
}
