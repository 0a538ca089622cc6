package keenfold.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaMethodCall;
import com.tngtech.archunit.core.importer.ImportOption.DoNotIncludeTests;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.Set;

@AnalyzeClasses(packages = "keenfold", importOptions = DoNotIncludeTests.class)
class ArchitectureTest {
    /** Functions whose last bit may differ between machines; StrictMath has them all. */
    private static final Set<String> INEXACT = Set.of(
            "exp", "log", "log10", "log1p", "expm1", "pow", "sin", "cos", "tan", "asin", "acos", "atan", "atan2",
            "sinh", "cosh", "tanh", "cbrt", "hypot");

    @ArchTest
    static final ArchRule modules = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("core")
            .definedBy("keenfold.core..")
            .layer("results")
            .definedBy("keenfold.results..")
            .layer("io")
            .definedBy("keenfold.io..")
            .layer("view")
            .definedBy("keenfold.view..")
            .layer("study")
            .definedBy("keenfold.study..")
            .layer("cli")
            .definedBy("keenfold.cli..")
            .whereLayer("cli")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("study")
            .mayOnlyBeAccessedByLayers("cli")
            .whereLayer("view")
            .mayOnlyBeAccessedByLayers("study", "cli")
            .whereLayer("io")
            .mayOnlyBeAccessedByLayers("study", "cli")
            .whereLayer("results")
            .mayOnlyBeAccessedByLayers("io", "view", "study", "cli")
            .whereLayer("core")
            .mayOnlyBeAccessedByLayers("results", "io", "view", "study", "cli");

    @ArchTest
    static final ArchRule coreIsAChain = layeredArchitecture()
            .consideringOnlyDependenciesInLayers()
            .layer("data")
            .definedBy("keenfold.core.data..")
            .layer("learned")
            .definedBy("keenfold.core.learned..")
            .layer("split")
            .definedBy("keenfold.core.split..")
            .layer("survey")
            .definedBy("keenfold.core.survey..")
            .layer("metric")
            .definedBy("keenfold.core.metric..")
            .layer("prepare")
            .definedBy("keenfold.core.prepare..")
            .layer("classify")
            .definedBy("keenfold.core.classify..")
            .layer("run")
            .definedBy("keenfold.core.run..")
            .layer("infer")
            .definedBy("keenfold.core.infer..")
            .layer("pick")
            .definedBy("keenfold.core.pick..")
            .whereLayer("pick")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("survey")
            .mayNotBeAccessedByAnyLayer()
            .whereLayer("infer")
            .mayOnlyBeAccessedByLayers("pick")
            .whereLayer("run")
            .mayOnlyBeAccessedByLayers("infer", "pick")
            .whereLayer("classify")
            .mayOnlyBeAccessedByLayers("run", "infer", "pick")
            .whereLayer("prepare")
            .mayOnlyBeAccessedByLayers("classify", "run", "infer", "pick")
            .whereLayer("metric")
            .mayOnlyBeAccessedByLayers("prepare", "classify", "run", "infer", "pick")
            .whereLayer("split")
            .mayOnlyBeAccessedByLayers("survey", "metric", "prepare", "classify", "run", "infer", "pick")
            .whereLayer("learned")
            .mayOnlyBeAccessedByLayers("prepare", "classify", "run", "infer", "pick");

    @ArchTest
    static final ArchRule noCycles = slices().matching("keenfold.(**)").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule coreHasNoFilesConsoleOrProcesses = noClasses()
            .that()
            .resideInAPackage("keenfold.core..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "java.io..",
                    "java.nio.file..",
                    "java.nio.channels..",
                    "java.sql..",
                    "java.net..",
                    "picocli..",
                    "org.slf4j..")
            .orShould()
            .accessField(System.class, "out")
            .orShould()
            .accessField(System.class, "err")
            .orShould()
            .dependOnClassesThat()
            .belongToAnyOf(ProcessBuilder.class, Runtime.class);

    @ArchTest
    static final ArchRule coreHasNoClockButForTimingFits = noClasses()
            .that()
            .resideInAPackage("keenfold.core..")
            .and()
            .haveNameNotMatching(".*\\.(Fitter|Runner|TimeLimit)(\\$.*)?")
            .should()
            .dependOnClassesThat(JavaClass.Predicates.resideInAnyPackage("java.time..", "java.lang.management..")
                    .and(DescribedPredicate.not(JavaClass.Predicates.belongToAnyOf(LocalDate.class, DayOfWeek.class)))
                    .as("tell the time; a calendar does not"))
            .orShould()
            .callMethodWhere(DescribedPredicate.describe(
                    "today's date",
                    (JavaMethodCall call) -> call.getTargetOwner().isEquivalentTo(LocalDate.class)
                            && call.getName().equals("now")))
            .orShould()
            .callMethod(System.class, "nanoTime")
            .orShould()
            .callMethod(System.class, "currentTimeMillis");

    @ArchTest
    static final ArchRule bitsAreTheSameEverywhere = noClasses()
            .that()
            .resideInAPackage("keenfold.core..")
            .should()
            .callMethodWhere(DescribedPredicate.describe(
                    "a function of Math whose last bit may differ",
                    (JavaMethodCall call) ->
                            call.getTargetOwner().isEquivalentTo(Math.class) && INEXACT.contains(call.getName())));

    @ArchTest
    static final ArchRule chanceComesFromSeedsAlone = noClasses()
            .that()
            .resideInAPackage("keenfold.core..")
            .and()
            .haveNameNotMatching("keenfold.core.data.RandomSource")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("java.util.random..")
            .orShould()
            .dependOnClassesThat()
            .haveNameMatching("java\\.util\\.(Random|concurrent\\.ThreadLocalRandom|SplittableRandom)")
            .orShould()
            .callMethod(Math.class, "random");

    @ArchTest
    static final ArchRule threadsAreStartedInOnePlaceOfTheCore = noClasses()
            .that()
            .resideInAPackage("keenfold.core..")
            .and()
            .haveNameNotMatching("keenfold.core.(run.(Parallel|pipeline.TimeLimit)|learned.FitFailure)(\\$.*)?")
            .should()
            .dependOnClassesThat()
            .haveNameMatching("java\\.lang\\.Thread|java\\.util\\.concurrent\\.Executor.*");

    /** The driver, asked first, would load a native library of its own beside ours, and the process could crash. */
    @ArchTest
    static final ArchRule databasesAreOpenedInOnePlace = noClasses()
            .that()
            .haveNameNotMatching("keenfold.io.sqlite.SqliteFile")
            .should()
            .dependOnClassesThat()
            .belongToAnyOf(java.sql.DriverManager.class);

    @ArchTest
    static final ArchRule theProcessEndsInMainAlone = noClasses()
            .that()
            .haveNameNotMatching("keenfold.cli.Main")
            .should()
            .callMethod(System.class, "exit", int.class);

    /** So that a fault of ours, or of the JDK, is never told as one of the user's. */
    @ArchTest
    static final ArchRule valuesAreRefusedByChecksAlone = noClasses()
            .that()
            .resideInAPackage("keenfold..")
            .and()
            .haveNameNotMatching("keenfold.core.data.(ValueException|Checks)")
            .should()
            .callConstructor(IllegalArgumentException.class, String.class)
            .orShould()
            .callConstructor(IllegalArgumentException.class, String.class, Throwable.class)
            .orShould()
            .callConstructor(keenfold.core.data.ValueException.class, String.class)
            .orShould()
            .callConstructor(keenfold.core.data.ValueException.class, String.class, Throwable.class);
}
