package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.run.candidate.Candidate;

/** Candidates as a paper names them. */
public final class CandidateWords {
    private CandidateWords() {}

    /**
     * Returns a candidate by its classifier and the settings that its plan states, such as "logistic (strength 300)"; by its
     * name where the classifier is somebody else's.
     */
    public static String of(Candidate candidate) {
        String kind = candidate.kind().name();
        if (kind.equals("command") || kind.equals("adopted")) {
            return candidate.name();
        }
        List<String> parts = new ArrayList<>();
        List<Candidate> members = candidate.recipe().members();
        if (!members.isEmpty()) {
            parts.add("of " + members.stream().map(CandidateWords::of).collect(Collectors.joining(" and ")));
        }
        for (Map.Entry<String, String> e : candidate.settings().plain().values().entrySet()) {
            if (!e.getKey().equals(ClassifierKind.MEMBERS)) {
                parts.add(e.getKey() + " " + e.getValue());
            }
        }
        candidate
                .tuning()
                .ifPresent(
                        t -> parts.add("tuned: " + String.join(", ", t.choices().keySet())));
        parts.addAll(candidate.wrapperTexts());
        return kind + (parts.isEmpty() ? " at its presets" : " (" + String.join(", ", parts) + ")");
    }
}
