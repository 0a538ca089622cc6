package keenfold.study.progress;

import java.util.Collection;
import keenfold.core.data.Notice;
import keenfold.core.run.Parallel;

/** Is told what is being done, so that somebody who waits can be told. Does nothing unless methods are overridden. */
public interface Watcher {
    /** Nobody watches. */
    Watcher SILENT = new Watcher() {};

    /** Something begins that may take long. */
    default void doing(String what) {}

    /** What may take long is over, or is counted step by step from now on. */
    default void done() {}

    /** Something is to be known that is neither a result nor a warning. */
    default void say(String line) {}

    /** Something was seen, and there is something to do about it. */
    default void notices(Collection<Notice> notices) {}

    /** Returns a loop whose progress is shown with what is being done. */
    default Parallel watched(Parallel parallel) {
        return parallel;
    }

    /**
     * Work begins whose steps are counted.
     *
     * @param count how many steps there are
     * @param did what was done at the end, such as fitted
     * @param units what of
     */
    default Steps steps(int count, String did, String units) {
        return Steps.UNSEEN;
    }

    /** Steps of some work, from any thread. */
    interface Steps extends AutoCloseable {
        /** Steps that nobody sees. */
        Steps UNSEEN = () -> {};

        /** One more step is done. */
        void step();

        /**
         * One more step is done.
         *
         * @param secondsLeft how long the rest will take; NaN if nothing is known of that
         */
        default void step(double secondsLeft) {
            step();
        }

        @Override
        default void close() {}
    }
}
