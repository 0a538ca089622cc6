package keenfold.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import keenfold.core.data.Suggestion;
import picocli.CommandLine.MissingParameterException;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.ParseResult;
import picocli.CommandLine.UnmatchedArgumentException;

/** What is wrong with a command line, in words of our own: what was meant, and what would be right. */
final class Slip {
    private static final Pattern NUMBER = Pattern.compile(
            "Invalid value for (?:option|positional parameter[^(]*) ?'?([^' (]+)'?[^:]*: '(.*)' is not an? (int|long|double)");
    private static final Pattern VALUE = Pattern.compile(
            "Invalid value for (?:option|positional parameter[^(]*) ?'?([^' (]+)'?[^:]*: expected one of \\[([^]]*)\\] \\(case-(?:in)?sensitive\\) but was '(.*)'");

    private static final List<String> FORMS = List.of("--json", "--csv", "--markdown", "--latex");

    /** What draft and compare take, and run reads in a plan. */
    private static final Set<String> OF_PLANS =
            Set.of("--seed", "--target", "--positive", "--groups", "--weights", "--missing");

    private Slip() {}

    /** Refuses options that exclude each other. */
    static void requireOne(ParseResult parsed) {
        List<String> forms = FORMS.stream().filter(parsed::hasMatchedOption).toList();
        if (forms.size() > 1) {
            throw new ParameterException(
                    parsed.commandSpec().commandLine(), String.join(" and ", forms) + ": one of them at a time");
        }
    }

    static String words(ParameterException e) {
        if (e instanceof MissingParameterException missing) {
            return missing(missing);
        }
        if (e instanceof UnmatchedArgumentException unmatched) {
            return unmatched(unmatched);
        }
        String text = String.valueOf(e.getMessage());
        Matcher value = VALUE.matcher(text);
        if (value.matches()) {
            List<String> known = List.of(value.group(2).split(", "));
            return value.group(1) + " " + value.group(3) + ": not known" + Suggestion.hint(value.group(3), known);
        }
        Matcher number = NUMBER.matcher(text);
        if (number.matches()) {
            return number.group(1) + " " + number.group(2) + ": expected "
                    + (number.group(3).equals("double") ? "a number" : "a whole number");
        }
        return text.endsWith(".") ? text.substring(0, text.length() - 1) : text;
    }

    private static String missing(MissingParameterException e) {
        List<ArgSpec> missing = e.getMissing();
        boolean lacksValue = missing.size() == 1
                && missing.get(0) instanceof OptionSpec
                && String.valueOf(e.getMessage()).startsWith("Missing required parameter for option");
        if (lacksValue) {
            OptionSpec option = (OptionSpec) missing.get(0);
            return option.longestName() + " lacks its " + label(option);
        }
        return missing.stream().map(Slip::missing).collect(Collectors.joining(", and "));
    }

    private static String missing(ArgSpec arg) {
        String meaning = arg.description().length == 0 ? "" : arg.description()[0];
        String name = arg instanceof OptionSpec option ? option.longestName() + " " + label(arg) : label(arg);
        return name + " is missing" + (meaning.isEmpty() ? "" : " (" + meaning + ")");
    }

    private static String label(ArgSpec arg) {
        return arg.paramLabel();
    }

    private static String unmatched(UnmatchedArgumentException e) {
        List<String> unknown = e.getUnmatched();
        String first = unknown.get(0);
        CommandSpec spec = e.getCommandLine().getCommandSpec();
        if (spec.parent() == null && !first.startsWith("-")) {
            return "there is no command \"" + first + "\"" + Suggestion.hint(first, Keenfold.names());
        }
        if (first.startsWith("-")) {
            String name = first.split("=", 2)[0];
            List<String> options = new ArrayList<>();
            spec.options().forEach(o -> options.addAll(List.of(o.names())));
            if (OF_PLANS.contains(name) && List.of("run", "scatter").contains(spec.name())) {
                return "there is no option " + name + ": it is set in the plan (" + name.substring(2) + ":)";
            }
            return "there is no option " + name
                    + Optional.of(options)
                            .flatMap(o -> Suggestion.to(name, o))
                            .map(n -> "; the nearest is " + n)
                            .orElse("");
        }
        return "nothing more is expected, and there is \"" + String.join(" ", unknown) + "\"; a name with spaces needs"
                + " quotation marks";
    }
}
