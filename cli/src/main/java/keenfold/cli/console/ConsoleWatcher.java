package keenfold.cli.console;

import java.util.Collection;
import keenfold.core.data.Notice;
import keenfold.core.run.Parallel;
import keenfold.study.progress.Watcher;

/** Shows on the console what is being done. */
public final class ConsoleWatcher implements Watcher {
    private final Console console;
    private final Common common;

    public ConsoleWatcher(Console console, Common common) {
        this.console = console;
        this.common = common;
    }

    @Override
    public void doing(String what) {
        console.doing(what, common);
    }

    @Override
    public void done() {
        console.done();
    }

    @Override
    public void say(String line) {
        console.say(line, common);
    }

    @Override
    public void notices(Collection<Notice> notices) {
        console.notices(notices, common);
    }

    @Override
    public Parallel watched(Parallel parallel) {
        return console.watched(parallel);
    }

    @Override
    public Steps steps(int count, String did, String units) {
        console.done();
        Progress progress = Progress.of(console, common, count, did, units);
        return new Steps() {
            @Override
            public void step() {
                progress.step();
            }

            @Override
            public void step(double secondsLeft) {
                progress.step(secondsLeft);
            }

            @Override
            public void close() {
                progress.close();
            }
        };
    }
}
