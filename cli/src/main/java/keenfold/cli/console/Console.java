package keenfold.cli.console;

import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Stream;
import keenfold.core.data.Notice;
import keenfold.core.run.Parallel;
import keenfold.results.notice.NoticeGroups;
import keenfold.view.text.Ink;
import keenfold.view.text.Wrap;

/** What commands know of the terminal: results go to out, notices and progress to err. */
public final class Console {
    private final PrintStream out;
    private final PrintStream err;
    private final PrintStream exact;
    private final PrintStream terminal;
    private final InstantSource clock;
    private final Set<String> noticed = new LinkedHashSet<>();
    private Optional<List<Notice>> gathered = Optional.empty();
    private final Activity activity = new Activity(this::tell, System::nanoTime);

    public Console(PrintStream out, PrintStream err) {
        this(out, err, InstantSource.system());
    }

    public Console(PrintStream out, PrintStream err, InstantSource clock) {
        this.exact = out;
        this.terminal = err;
        this.out = visible(out, isTerminal("OUT"));
        this.err = visible(err, isTerminal("ERR"));
        this.clock = clock;
    }

    /** The time of day, which may be set back at any time: how long something takes is never read from it. */
    public Instant now() {
        return clock.instant();
    }

    private static PrintStream visible(PrintStream to, boolean emphasis) {
        return new PrintStream(new VisibleOutput(to, emphasis), false, StandardCharsets.UTF_8);
    }

    /** Results in text, for people: nothing in it is obeyed by a terminal. */
    public PrintStream out() {
        return out;
    }

    /** Notices and errors, for people: nothing in them is obeyed by a terminal. */
    public PrintStream err() {
        return err;
    }

    /** The terminal as it is, for a progress bar that draws itself. */
    PrintStream terminal() {
        return terminal;
    }

    /** Results for programs, exact to the character; on a terminal, where people look at them, as safe as text. */
    public Writer writer() {
        out.flush();
        return new PrintWriter(isTerminal("OUT") ? out : exact, false, StandardCharsets.UTF_8);
    }

    /** Says what was seen and what to do, each thing once, and one thing of several data sets or metrics together. */
    public void notices(Collection<Notice> notices, Common common) {
        if (common.quiet()) {
            return;
        }
        if (gathered.isPresent()) {
            gathered.get().addAll(notices);
            return;
        }
        out.flush();
        for (String notice : NoticeGroups.grouped(notices)) {
            if (noticed.add(notice)) {
                err.print(Wrap.lines("notice: " + Wrap.visible(notice) + ".", 8));
            }
        }
        err.flush();
    }

    /** Says one thing that was seen. */
    public void notice(String code, String text, Common common) {
        notices(List.of(Notice.plain(code, text)), common);
    }

    /** Does something and says at its end what was noticed meanwhile, so that one thing is said together. */
    public <T> T together(Supplier<T> work, Common common) {
        gathered = Optional.of(new ArrayList<>());
        List<Notice> all = List.of();
        try {
            return work.get();
        } finally {
            all = gathered.orElse(all);
            gathered = Optional.empty();
            notices(all, common);
        }
    }

    private void tell(String line) {
        err.println(line);
        err.flush();
    }

    /** Something begins that may take long; it is said if it does. */
    public void doing(String what, Common common) {
        activity.begin(common.quiet() ? "" : what);
    }

    /** What may take long is over, or shows its own progress. */
    public void done() {
        activity.end();
    }

    /** A loop whose progress is shown with what is being done. */
    public Parallel watched(Parallel parallel) {
        return parallel.watchedBy(activity::step);
    }

    /** Says something that is neither a result nor a warning. */
    public void say(String line, Common common) {
        if (!common.quiet()) {
            out.flush();
            err.println(line);
            err.flush();
        }
    }

    public Ink ink(Common common) {
        return Ink.of(common.color() && isTerminal("OUT"));
    }

    /** Whether the terminal, by its locale, shows more than ASCII; the launcher may have set another one for file names. */
    public static boolean unicode() {
        return Stream.of("KEENFOLD_LOCALE", "LC_ALL", "LC_CTYPE", "LANG")
                .map(System::getenv)
                .filter(v -> v != null && !v.isEmpty())
                .findFirst()
                .filter(v -> v.toUpperCase(Locale.ROOT).replace("-", "").contains("UTF8"))
                .isPresent();
    }

    /** Whether progress is looked at: on a terminal, not in a file or a pipe. */
    static boolean interactive() {
        return isTerminal("ERR");
    }

    /** Java cannot tell which of its streams are terminals; the launcher can. */
    private static boolean isTerminal(String stream) {
        return "1".equals(System.getenv("KEENFOLD_TERMINAL_" + stream));
    }
}
