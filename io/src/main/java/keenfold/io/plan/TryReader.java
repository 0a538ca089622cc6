package keenfold.io.plan;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.prepare.Setting;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.io.command.CommandKind;

/** Reads candidates from the command line: {@code [NAME=]CLASSIFIER [setting=value[,value…]]…}. */
public final class TryReader {
    private TryReader() {}

    /**
     * Reads one; several values of a setting make a family.
     *
     * @throws IllegalArgumentException saying what was expected
     */
    public static List<Candidate> read(String text) {
        String[] words = text.strip().split("\\s+", -1);
        int equals = words[0].indexOf('=');
        String name = equals < 0 ? words[0] : words[0].substring(0, equals);
        Checks.that(
                !words[0].contains(","),
                "\"%s\": one candidate at a time; give each an option of its own (--try %s)",
                words[0],
                words[0].replace(",", " --try "));
        ClassifierKind kind = CandidateReader.kind(equals < 0 ? words[0] : words[0].substring(equals + 1));
        Checks.that(
                kind.input() == ClassifierKind.Input.COLUMNS,
                "\"%s\": %s needs members, which only a plan can name",
                text,
                kind.name());
        Checks.that(
                !kind.name().equals(CommandKind.NAME),
                "\"%s\": %s runs a program, which only a plan can name",
                text,
                kind.name());
        PlanReader.plainName(name);
        List<String> known = kind.settings().stream().map(Setting::name).toList();
        Map<String, String> fixed = new LinkedHashMap<>();
        Map<String, List<String>> varied = new LinkedHashMap<>();
        for (int i = 1; i < words.length; i++) {
            int at = words[i].indexOf('=');
            String key = at < 0 ? words[i] : words[i].substring(0, at);
            Setting setting = kind.setting(key)
                    .orElseThrow(() -> Checks.wrong("\"" + text + "\": " + kind.name() + " has no setting \"" + key
                            + "\"" + Suggestion.hint(key, known)));
            Checks.that(at > 0, "\"%s\": expected %s=VALUE", text, key);
            List<String> values = List.of(words[i].substring(at + 1).split(",", -1));
            values.forEach(setting::check);
            if (values.size() > 1) {
                varied.put(key, values);
            } else {
                fixed.put(key, values.get(0));
            }
        }
        return CandidateReader.spread(
                name,
                Recipe.of(kind),
                fixed,
                varied,
                Optional.empty(),
                Optional.empty(),
                OptionalDouble.empty(),
                OptionalInt.empty(),
                name);
    }
}
