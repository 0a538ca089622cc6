package keenfold.cli.run;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import keenfold.io.ShellWords;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.study.run.Scattering;
import keenfold.view.text.Ink;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;

/** What is said of a plan that was divided into shards. */
final class ScatterText {
    private static final int MOST_EFFORTS = 12;

    private ScatterText() {}

    /** Returns how large the shards are, what is asked for, and how they are started from a folder. */
    static String render(Scattering scattering, Path to, Ink ink) {
        int count = scattering.count();
        int threads = scattering.threads();
        StringBuilder text = new StringBuilder(
                        ink.strong(scattering.job().comparison().unitCount() + " units in " + count
                                + (count == 1 ? " shard" : " shards")))
                .append('\n');
        if (scattering.timed()) {
            String shortest = NumberFormats.seconds(scattering.shortest());
            String longest = NumberFormats.seconds(scattering.longest());
            text.append(Wrap.lines(
                    "about " + (shortest.equals(longest) ? "" : shortest + " to ") + longest + " a shard on "
                            + threads + (threads == 1 ? " thread" : " threads")
                            + " of this machine's kind, from "
                            + efforts(scattering.effort()) + " a unit",
                    0));
        }
        text.append(Wrap.lines(
                        "asked for: " + scattering.minutes() + " min"
                                + (scattering.timed()
                                        ? " (three times the longest and a minute to start, at least 5)"
                                        : " (nothing was timed)")
                                + "; " + scattering.megabytes() + " MB",
                        0))
                .append('\n');
        TextTable table =
                TextTable.empty().column("start it with", Alignment.LEFT).column("", Alignment.LEFT);
        table.row(List.of(
                ShellWords.quoted(to.resolve("slurm.sh").toString()),
                "Slurm: an array, then a job that merges and reports"));
        table.row(List.of(
                ShellWords.quoted(to.resolve("loop.sh").toString()), "no scheduler: one shard after the other, here"));
        table.row(List.of(
                "kubectl apply -f "
                        + ShellWords.quoted(to.resolve("kubernetes.yaml").toString()),
                "Kubernetes: an indexed job"));
        table.row(List.of("keenfold scatter --status " + ShellWords.quoted(to.toString()), "how far the shards are"));
        return text.append(table.render(ink)).toString();
    }

    /** What a unit of each takes; of many the longest, since those decide. */
    private static String efforts(Map<String, Double> effort) {
        boolean many = effort.size() > MOST_EFFORTS;
        Stream<Map.Entry<String, Double>> shown = many
                ? effort.entrySet().stream()
                        .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
                        .limit(MOST_EFFORTS)
                : effort.entrySet().stream();
        return shown.map(e -> e.getKey() + " " + NumberFormats.seconds(e.getValue()))
                        .collect(Collectors.joining(", "))
                + (many ? " and " + (effort.size() - MOST_EFFORTS) + " others less" : "");
    }
}
