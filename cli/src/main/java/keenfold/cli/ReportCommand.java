package keenfold.cli;

import java.util.concurrent.Callable;
import picocli.CommandLine.Command;

@Command(name = "report")
final class ReportCommand implements Callable<Integer> {
    ReportCommand(Console console) {}

    @Override
    public Integer call() {
        return 0;
    }
}
