package keenfold.cli;

/** Exit codes. */
final class Exit {
    static final int DONE = 0;
    static final int FAULT = 1;
    static final int COMMAND_LINE = 2;
    static final int INPUT = 3;
    static final int SOME_FAILED = 4;

    private Exit() {}
}
