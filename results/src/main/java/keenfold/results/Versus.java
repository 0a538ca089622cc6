package keenfold.results;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToDoubleFunction;
import keenfold.core.data.Notice;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.MeanScore;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/**
 * The candidates of two ledgers that are called the same, against each other: their differences are tested where rows and
 * folds are the same, and only shown elsewhere.
 *
 * @param ledger the one
 * @param other the other
 * @param level of intervals
 * @param parts by data set and metric
 * @param only what is in one of them alone, in words; none as a rule
 */
public record Versus(
        String ledger, String other, double level, List<Part> parts, List<String> only, List<Notice> notices)
        implements Result {
    /** Copies the lists. */
    public Versus {
        parts = List.copyOf(parts);
        only = List.copyOf(only);
        notices = List.copyOf(notices);
    }

    /**
     * One metric on one data set.
     *
     * @param dataset its name in the one ledger
     * @param otherDataset its name in the other
     * @param metric its name
     * @param higherIsBetter whether a higher mean is better
     * @param rows of the data set in the one ledger
     * @param otherRows in the other
     * @param repeats that both have, where they are paired
     * @param sameValues whether the columns and their values are the same too
     * @param apart why they are not paired; empty if they are
     * @param pairs candidate by candidate
     */
    public record Part(
            String dataset,
            String otherDataset,
            String metric,
            boolean higherIsBetter,
            int rows,
            int otherRows,
            int repeats,
            boolean sameValues,
            String apart,
            List<Pair> pairs) {
        /** Copies the list. */
        public Part {
            pairs = List.copyOf(pairs);
        }

        /** Returns whether differences are tested. */
        public boolean paired() {
            return apart.isEmpty();
        }

        /** Returns it as a table. */
        public ResultTable table(double level) {
            ResultTable.Definition<Pair> table = ResultTable.<Pair>define()
                    .text("dataset", p -> dataset)
                    .programs()
                    .text("metric", p -> metric)
                    .programs()
                    .name("candidate", Pair::candidate)
                    .number("mean", ValueKind.MEAN, p -> p.mean().mean())
                    .headed("first")
                    .error("se")
                    .number("se", ValueKind.DEVIATION, p -> p.mean().standardError());
            if (paired()) {
                table.programs();
            }
            table.number("mean_other", ValueKind.MEAN, p -> p.other().mean())
                    .headed("other")
                    .error("se_other")
                    .number("se_other", ValueKind.DEVIATION, p -> p.other().standardError())
                    .headed("se");
            if (paired()) {
                table.programs();
            }
            table.number("difference", ValueKind.DIFFERENCE, Pair::difference)
                    .error("se_difference")
                    .number("se_difference", ValueKind.DEVIATION, Pair::standardError)
                    .programs()
                    .range(
                            NumberFormats.level(level) + (pairs.size() > 1 ? " for all" : " interval"),
                            "se_difference",
                            p -> p.end(Contrast::lowAll),
                            p -> p.end(Contrast::highAll));
            if (!paired()) {
                table.hidden();
            }
            table.number("low_all", ValueKind.MEAN, p -> p.end(Contrast::lowAll))
                    .programs()
                    .number("high_all", ValueKind.MEAN, p -> p.end(Contrast::highAll))
                    .programs()
                    .number("p", ValueKind.P, p -> p.end(Contrast::p))
                    .programs()
                    .number("p_adjusted", ValueKind.P, p -> p.end(Contrast::pAdjusted));
            if (!paired()) {
                table.programs();
            }
            return table.column("paired", ValueKind.WHOLE, p -> paired())
                    .programs()
                    .text("call", Pair::call)
                    .text("note", Pair::note)
                    .headed("")
                    .of(pairs);
        }
    }

    /**
     * A candidate of both.
     *
     * @param candidate its name
     * @param mean in the one ledger
     * @param other in the other
     * @param contrast of the two, where they are paired and can be compared
     * @param note what is to be known of the pair; empty if nothing is
     */
    public record Pair(String candidate, MeanScore mean, MeanScore other, Optional<Contrast> contrast, String note) {
        /** Returns mean − other mean. */
        public double difference() {
            return mean.mean() - other.mean();
        }

        /** Returns the standard error of the difference; NaN where it is not tested. */
        public double standardError() {
            return contrast.map(Contrast::standardError).orElse(Double.NaN);
        }

        private double end(ToDoubleFunction<Contrast> of) {
            return contrast.filter(c -> c.call() != Call.NONE)
                    .map(of::applyAsDouble)
                    .orElse(Double.NaN);
        }

        /** Returns the verdict in a word. */
        public String call() {
            return contrast.map(Contrast::call)
                    .filter(c -> c != Call.NONE)
                    .map(Call::label)
                    .orElse("not tested");
        }
    }

    @Override
    public ResultTable table() {
        return ResultTable.joined(parts.stream().map(p -> p.table(level)).toList());
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("ledger", ledger);
        document.put("against", other);
        document.put("level", level);
        List<Object> all = new ArrayList<>();
        for (Part part : parts) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("dataset", part.dataset());
            one.put("against_dataset", part.otherDataset());
            one.put("metric", part.metric());
            one.put("higher_is_better", part.higherIsBetter());
            one.put("rows", part.rows());
            one.put("against_rows", part.otherRows());
            one.put("same_values", part.sameValues());
            one.put("paired", part.paired());
            one.put("why_not_paired", part.apart());
            one.put("repeats", part.repeats());
            one.put("candidates", part.table(level));
            all.add(one);
        }
        document.put("parts", all);
        document.put("only_in_one", only);
        return document;
    }
}
