package keenfold.results;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/**
 * What is known of a model that was just trained.
 *
 * @param dataset the data set that it was trained on
 * @param candidate its name
 * @param why it was chosen, in words
 * @param classifier its name
 * @param settings as they were, in words
 * @param size effective number of parameters
 * @param rows how many it was trained on
 * @param heldBack how many were held back; 0 for none
 * @param seen how often the rows held back have been looked at, this time included; 0 if they were not
 * @param level of intervals
 * @param scores what is known of it
 * @param file it is kept in; empty if it is in none
 */
public record TrainedModel(
        String dataset,
        String candidate,
        String why,
        String classifier,
        String settings,
        double size,
        int rows,
        int heldBack,
        int seen,
        double level,
        List<ModelScore> scores,
        String file,
        List<Notice> notices)
        implements Result {
    /** Copies the lists. */
    public TrainedModel {
        scores = List.copyOf(scores);
        notices = List.copyOf(notices);
    }

    /** Returns the same, kept in a file. */
    public TrainedModel in(String name) {
        return new TrainedModel(
                dataset,
                candidate,
                why,
                classifier,
                settings,
                size,
                rows,
                heldBack,
                seen,
                level,
                scores,
                name,
                notices);
    }

    @Override
    public ResultTable table() {
        String holdout = ModelScore.HOLDOUT + (seen == 1 ? ", scored once" : ", seen " + seen + " times");
        return ModelScore.table(
                scores.stream()
                        .map(s -> s.of().equals(ModelScore.HOLDOUT) ? s.ofWhat(holdout) : s)
                        .toList(),
                NumberFormats.level(level) + " interval");
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("dataset", dataset);
        document.put("candidate", candidate);
        document.put("why", why);
        document.put("model", file);
        document.put("trained_on", rows);
        document.put("held_back", heldBack);
        document.put("seen", seen);
        document.put("rows", ModelScore.table(scores, ""));
        return document;
    }
}
