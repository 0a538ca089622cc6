package keenfold.cli.console;

import java.util.Map;
import java.util.TreeMap;

/** Exit codes. */
public final class Exit {
    public static final int DONE = 0;
    public static final int FAULT = 1;
    public static final int COMMAND_LINE = 2;
    public static final int INPUT = 3;
    public static final int SOME_FAILED = 4;

    private Exit() {}

    /** What each code means, for those who read it. */
    public static Map<Integer, String> meanings() {
        Map<Integer, String> all = new TreeMap<>();
        all.put(DONE, "all is done");
        all.put(FAULT, "a fault in Keen Fold itself");
        all.put(COMMAND_LINE, "the command line is wrong");
        all.put(INPUT, "a file or what is in it is wrong");
        all.put(SOME_FAILED, "done, but some fits failed or are missing");
        all.put(130, "interrupted (SIGINT); the same command goes on where it stopped");
        all.put(143, "ended (SIGTERM); the same command goes on where it stopped");
        return all;
    }
}
