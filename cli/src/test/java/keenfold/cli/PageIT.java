package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.logging.Level;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.logging.LogEntry;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.logging.LoggingPreferences;
import org.openqa.selenium.support.ui.Select;

/**
 * The report in a real browser without a network, made of names and labels that try to break it. Skipped where there is no
 * Chromium, unless KEENFOLD_REQUIRE names it.
 */
class PageIT {
    private static final String BROWSER = "/usr/bin/chromium";
    private static final String DRIVER = "/usr/bin/chromedriver";
    private static final String SCRIPT = "<script>window.hacked=1</script>";
    private static final String LONG = "lime" + "o".repeat(296);
    private static final String RIGHT_TO_LEFT = "\u0646\u062D\u0644\u0629 \u0639\u0633\u0644";
    private static final String MARKUP = "\"><img src=x onerror=window.hacked=2>";

    @TempDir
    private static Path folder;

    private static ChromeDriver driver;

    @BeforeAll
    static void makeThePage() throws Exception {
        boolean required = String.valueOf(System.getenv("KEENFOLD_REQUIRE")).contains("chromium");
        assumeTrue(
                required || (Files.isExecutable(Path.of(BROWSER)) && Files.isExecutable(Path.of(DRIVER))),
                "no Chromium with its driver here: apt-get install chromium chromium-driver");
        List<String> labels = List.of(SCRIPT, LONG, RIGHT_TO_LEFT, "it's \"quoted\" & 'so'");
        Random chance = new Random(4);
        StringBuilder csv =
                new StringBuilder("kind," + quoted(SCRIPT) + "," + quoted(LONG + "2") + ",\u0639\u0633\u0644\n");
        for (int i = 0; i < 160; i++) {
            int k = i % 4;
            csv.append(quoted(labels.get(k))).append(',').append(chance.nextGaussian() + k);
            csv.append(',')
                    .append(chance.nextGaussian() - k)
                    .append(',')
                    .append(chance.nextGaussian())
                    .append('\n');
        }
        Files.writeString(folder.resolve("hostile.csv"), csv);
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                note: '%s'
                data:
                  - {file: hostile.csv, name: '%s', target: kind}
                  - {file: '%s', target: swarmed, positive: yes}
                splits: {folds: 4, repeats: 3}
                seed: 2
                metrics: [auc, accuracy]
                candidates:
                  guess: {classifier: majority}
                  '<b>bayes': {classifier: naive-bayes}
                  near: {classifier: nearest, neighbours: {vary: [3, 9]}}
                evidence: {draws: 200}
                """
                        .formatted(SCRIPT, MARKUP, Program.DEMO.resolve("swarm.csv")));
        Program program = new Program(folder);
        program.run("run", "plan.yaml", "-o", "l.kfl", "--quiet").expect(0);
        program.run("report", "l.kfl", "-o", "r", "--columns", "--quiet").expect(0);
        driver = browser();
    }

    private static String quoted(String text) {
        return '"' + text.replace("\"", "\"\"") + '"';
    }

    private static ChromeDriver browser() {
        ChromeOptions options = new ChromeOptions();
        options.setBinary(BROWSER);
        // Every name leads nowhere, and so does the proxy: the page has to do without a network.
        options.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-dev-shm-usage",
                "--host-resolver-rules=MAP * ~NOTFOUND",
                "--proxy-server=127.0.0.1:9",
                "--window-size=1280,800");
        LoggingPreferences logs = new LoggingPreferences();
        logs.enable(LogType.BROWSER, Level.ALL);
        options.setCapability("goog:loggingPrefs", logs);
        ChromeDriverService service = new ChromeDriverService.Builder()
                .usingDriverExecutable(Path.of(DRIVER).toFile())
                .build();
        return new ChromeDriver(service, options);
    }

    @AfterAll
    static void close() {
        if (driver != null) {
            driver.quit();
        }
    }

    @BeforeEach
    void open() {
        width(1280, 800);
        driver.get(folder.resolve("r/report.html").toUri().toString());
    }

    private static void width(int width, int height) {
        driver.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", width, "height", height, "deviceScaleFactor", 1, "mobile", false));
    }

    private static Object js(String script, Object... args) {
        return driver.executeScript(script, args);
    }

    private static List<String> shown(String selector) {
        List<String> texts = new ArrayList<>();
        for (WebElement one : driver.findElements(By.cssSelector(selector))) {
            if (one.isDisplayed()) {
                texts.add(one.getText());
            }
        }
        return texts;
    }

    private static void choose(String id, String value) {
        new Select(driver.findElement(By.id(id))).selectByVisibleText(value);
    }

    @Test
    void itNeedsNothingButItself() {
        assertThat(js("return performance.getEntriesByType('resource').length")).isEqualTo(0L);
        List<LogEntry> complaints = driver.manage().logs().get(LogType.BROWSER).getAll();
        assertThat(complaints).as("%s", complaints).isEmpty();
        assertThat(driver.findElements(By.cssSelector(".plot svg")).size()).isGreaterThan(20);
        assertThat(driver.findElement(By.tagName("h1")).getText()).isEqualTo("Comparison on 2 data sets");
    }

    /** What looks like markup is text, wherever it stands. */
    @Test
    void hostileNamesShowAsText() {
        assertThat(js("return window.hacked === undefined")).isEqualTo(true);
        assertThat(js("return document.querySelectorAll('script').length")).isEqualTo(1L);
        assertThat(js("return document.querySelectorAll('img, iframe, object, main b').length"))
                .isEqualTo(0L);
        assertThat(shown("#compared p")).contains(SCRIPT);
        assertThat(shown("#compared th")).contains(MARKUP, "<b>bayes");
        assertThat(shown("#errors tbody th")).contains(SCRIPT, LONG, RIGHT_TO_LEFT, "it's \"quoted\" & 'so'");
        assertThat((String) js("return document.querySelector('#errors svg').textContent"))
                .contains("<script>window.h")
                .contains(RIGHT_TO_LEFT);
    }

    @Test
    void aClickSortsAndAnotherTurnsItRound() {
        WebElement table = driver.findElements(By.cssSelector("#scores table")).stream()
                .filter(WebElement::isDisplayed)
                .findFirst()
                .orElseThrow();
        WebElement button = table.findElements(By.cssSelector("thead button")).get(1);
        List<Double> falling = sorted(table, button);
        assertThat(falling).hasSize(4).isSortedAccordingTo((a, b) -> Double.compare(b, a));
        assertThat(sorted(table, button)).isSorted();
        // The keyboard does the same.
        WebElement name = table.findElements(By.cssSelector("thead button")).get(0);
        name.sendKeys(Keys.ENTER);
        List<String> names = table.findElements(By.cssSelector("tbody th")).stream()
                .map(WebElement::getText)
                .toList();
        assertThat(names).containsExactly("<b>bayes", "guess", "near/3", "near/9");
        assertThat(name.findElement(By.xpath("..")).getAttribute("aria-sort")).isEqualTo("ascending");
        // What has no value stays last, either way.
        WebElement interval = table.findElements(By.cssSelector("thead button")).get(5);
        for (int i = 0; i < 2; i++) {
            interval.click();
            List<WebElement> rows = table.findElements(By.cssSelector("tbody tr"));
            assertThat(rows.get(3).findElement(By.tagName("th")).getText()).isEqualTo("guess");
        }
    }

    private static List<Double> sorted(WebElement table, WebElement button) {
        button.click();
        return table.findElements(By.cssSelector("tbody tr")).stream()
                .map(r -> Double.valueOf(r.findElements(By.tagName("td")).get(0).getAttribute("data-value")))
                .toList();
    }

    @Test
    void dataSetMetricAndCandidatesAreChosen() {
        assertThat(shown("#scores h3")).containsExactly(MARKUP + ", auc");
        choose("set", "swarm");
        choose("metric", "accuracy");
        assertThat(shown("#scores h3")).containsExactly("swarm, accuracy");
        assertThat(shown("#warnings h3")).containsExactly("swarm");
        driver.findElement(By.cssSelector(".who summary")).click();
        driver.findElement(By.id("find")).sendKeys("near");
        driver.findElement(By.id("none")).click();
        assertThat(driver.findElement(By.id("count")).getText()).isEqualTo("2 of 4");
        assertThat(shown("#scores tbody th")).containsExactlyInAnyOrder("guess", "<b>bayes");
        assertThat((Long) js("return document.querySelectorAll('.mark.away[data-about=\"near/3\"]').length"))
                .isPositive();
        assertThat(js("return document.querySelectorAll('.mark.away[data-about=\"guess\"]').length"))
                .isEqualTo(0L);
        driver.findElement(By.id("find")).sendKeys(Keys.ESCAPE);
        assertThat(js("return document.querySelector('.who').open")).isEqualTo(false);
        assertThat(js("return document.activeElement.tagName")).isEqualTo("SUMMARY");
    }

    @Test
    void pointingAtAMarkShowsItsValue() {
        WebElement mark = driver.findElements(By.cssSelector("#scores .mark circle")).stream()
                .filter(WebElement::isDisplayed)
                .findFirst()
                .orElseThrow();
        String about = (String) js("return arguments[0].closest('[data-about]').dataset.about", mark);
        js("arguments[0].scrollIntoView({block: 'center'})", mark);
        new Actions(driver).moveToElement(mark).perform();
        WebElement tip = driver.findElement(By.id("tip"));
        assertThat(tip.isDisplayed()).isTrue();
        assertThat(tip.getText()).startsWith(about).containsPattern("auc 0\\.\\d+");
    }

    /** No width makes the page itself scroll sideways, and what is read stays large enough to be read. */
    @Test
    void itIsReadableAtEveryWidth() {
        for (int width : new int[] {400, 1280, 1920}) {
            width(width, 900);
            driver.navigate().refresh();
            assertThat((Long) js("return document.documentElement.scrollWidth"))
                    .as("at " + width)
                    .isLessThanOrEqualTo(width);
            assertThat(((Number) js("return parseFloat(getComputedStyle(document.querySelector('main p')).fontSize)"))
                            .doubleValue())
                    .isGreaterThanOrEqualTo(14);
            // The smallest letters of the figures, as they are on the screen.
            assertThat(((Number) js("return Math.min(...[...document.querySelectorAll('.plot svg text')]"
                                    + ".filter(t => t.checkVisibility()).map(t => t.getBoundingClientRect().height))"))
                            .doubleValue())
                    .as("letters at " + width)
                    .isGreaterThanOrEqualTo(8);
            // Names are not broken letter by letter.
            assertThat(((Number)
                                    js(
                                            "return document.querySelector('#scores .part:not([hidden]) thead th').offsetHeight"))
                            .doubleValue())
                    .isLessThan(40);
            assertThat((Boolean) js("var c = document.querySelector('.choose').getBoundingClientRect();"
                            + " return c.left >= 0 && c.right <= innerWidth"))
                    .isTrue();
        }
    }

    /** On a phone every figure is whole: no call and no end of an interval is cut off, and none scrolls sideways. */
    @Test
    void figuresAreWholeOnANarrowScreen() {
        width(400, 900);
        driver.navigate().refresh();
        assertThat(shown(".plot.broad")).isEmpty();
        assertThat((Long) js("return document.querySelectorAll('.plot.narrow').length"))
                .isGreaterThan(8);
        assertThat((List<?>) js("return [...document.querySelectorAll('.plot')].filter(p => p.checkVisibility()"
                        + " && !(p.scrollWidth <= p.clientWidth"
                        + " && [...p.querySelectorAll('text, path, line, circle')].every(t => {"
                        + " var r = t.getBoundingClientRect(); return r.left >= 0 && r.right <= innerWidth; })))"
                        + ".map(p => p.ariaLabel)"))
                .isEmpty();
    }

    @Test
    void itPrintsWithoutItsControls() {
        driver.executeCdpCommand("Emulation.setEmulatedMedia", Map.of("media", "print"));
        try {
            assertThat(shown(".choose, nav")).isEmpty();
            assertThat(shown("#scores h3")).hasSize(1);
            Object pdf = driver.executeCdpCommand("Page.printToPDF", Map.of("printBackground", true))
                    .get("data");
            byte[] bytes = Base64.getDecoder().decode(String.valueOf(pdf));
            assertThat(new String(bytes, 0, 5, StandardCharsets.ISO_8859_1)).isEqualTo("%PDF-");
            assertThat(bytes.length).isGreaterThan(50_000);
        } finally {
            driver.executeCdpCommand("Emulation.setEmulatedMedia", Map.of("media", "screen"));
        }
    }

    /** Structure for those who do not see the page: headings, names of regions, heads of rows and columns. */
    @Test
    void itSpeaksToScreenReaders() {
        assertThat(js("return document.documentElement.lang")).isEqualTo("en");
        assertThat(js("return document.querySelectorAll('svg:not([role=img][aria-label])').length"))
                .isEqualTo(0L);
        assertThat(js("return document.querySelectorAll('table:not(:has(caption))').length"))
                .isEqualTo(0L);
        assertThat(js(
                        "return document.querySelectorAll('select:not(label select), input:not(label input):not([aria-label])')"
                                + ".length"))
                .isEqualTo(0L);
        assertThat(js("return [...document.querySelectorAll('tbody tr')].every(r => r.cells[0].scope === 'row')"))
                .isEqualTo(true);
        driver.findElement(By.tagName("body")).sendKeys(Keys.TAB);
        assertThat(js("return document.activeElement.className")).isEqualTo("skip");
    }
}
