package keenfold.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;

/**
 * Makes the demo data: a beekeepers' cooperative that never was. All numbers are drawn at random from one seed.
 *
 * <p>{@code hives.csv}: whether a colony winters, from its state in autumn and its apiary; {@code new-hives.csv}: colonies a
 * year later, of which nobody knows yet. {@code forage.csv}: the kind
 * of a pollen sample, from its reflectance in eight bands. {@code swarm.csv}: whether a colony swarms, from columns that
 * hardly know.
 */
public final class DemoData {
    private static final Seed SEED = new Seed(20261123);
    private static final int HIVES = 640;
    private static final int NEW_HIVES = 60;
    private static final int APIARIES = 40;
    private static final int NEW_SITE = 6;
    private static final int SAMPLES = 320;
    private static final int SWARMS = 96;

    private DemoData() {}

    /** Writes the files into the folder that the first argument names. */
    public static void main(String[] args) throws IOException {
        Path folder = Path.of(args[0]);
        for (Map.Entry<String, String> file : files().entrySet()) {
            Files.writeString(folder.resolve(file.getKey()), file.getValue());
        }
    }

    /** Returns file names and their contents. */
    static Map<String, String> files() {
        Map<String, String> files = new LinkedHashMap<>();
        files.put("hives.csv", hives(false));
        files.put("new-hives.csv", hives(true));
        files.put("forage.csv", forage());
        files.put("swarm.csv", swarm());
        return files;
    }

    /** @param fresh colonies a year later, without the outcome; some stand where none stood before */
    private static String hives(boolean fresh) {
        RandomSource apiaries = SEED.with("hives").chance();
        double[] luck = new double[APIARIES];
        double[] altitude = new double[APIARIES];
        int[] site = new int[APIARIES];
        for (int a = 0; a < APIARIES; a++) {
            luck[a] = 0.45 * apiaries.normal();
            altitude[a] = 180 + 620 * apiaries.uniform();
            site[a] = apiaries.below(4);
        }
        RandomSource chance = fresh ? SEED.with("new hives").chance() : apiaries;
        String[] sites = {"heath", "orchard", "town", "woodland"};
        String[] races = {"buckfast", "carnica", "dark", "mixed"};
        String[] treatments = {"formic", "none", "oxalic"};
        StringBuilder csv = new StringBuilder(
                "hive_id,apiary,inspected,queen_age,mites,stores_kg,bee_frames,brood_frames,race,treated,site,altitude_m"
                        + (fresh ? "\n" : ",wintered\n"));
        for (int i = 0; i < (fresh ? NEW_HIVES : HIVES); i++) {
            int a = chance.below(APIARIES);
            LocalDate inspected = LocalDate.of(fresh ? 2026 : 2025, 8, 18).plusDays(chance.below(45));
            int queenAge = (int) Math.min(4, -1.6 * StrictMath.log(chance.uniform()));
            String treated = treatments[chance.below(10) < 2 ? 1 : 2 * chance.below(2)];
            double mites = StrictMath.exp(0.9 + 0.75 * chance.normal() + (treated.equals("none") ? 0.7 : 0));
            double bees = Math.max(2, 9.5 + 2.4 * chance.normal() - 0.35 * mites);
            double brood = Math.max(0, 0.42 * bees + 1.1 * chance.normal());
            double stores = Math.max(3, 15.5 + 4.2 * chance.normal() + 0.3 * (bees - 9));
            String race = races[chance.below(4)];
            double risk = -2.05
                    + 0.55 * (StrictMath.log(mites) - 1)
                    - 0.13 * (stores - 15)
                    - 0.22 * (bees - 8.5)
                    + 0.32 * queenAge
                    + (treated.equals("none") ? 0.35 : 0)
                    + (race.equals("dark") ? -0.3 : 0)
                    + 0.0012 * (altitude[a] - 490)
                    + luck[a];
            boolean lost = chance.uniform() < 1 / (1 + StrictMath.exp(-risk));
            csv.append(String.format(
                    Locale.ROOT,
                    "%s%04d,A%02d,%s,%d,%s,%s,%.1f,%.1f,%s,%s,%s,%.0f%s\n",
                    fresh ? "N" : "H",
                    i + 1,
                    a + 1,
                    inspected,
                    queenAge,
                    sometimes(chance, 0.06, String.format(Locale.ROOT, "%.1f", mites)),
                    sometimes(chance, 0.03, String.format(Locale.ROOT, "%.1f", stores)),
                    bees,
                    brood,
                    sometimes(chance, 0.04, race),
                    treated,
                    fresh && a == NEW_SITE ? "meadow" : sites[site[a]],
                    altitude[a],
                    fresh ? "" : lost ? ",no" : ",yes"));
        }
        return csv.toString();
    }

    /** The value, or now and then none. */
    private static String sometimes(RandomSource chance, double missing, String value) {
        return chance.uniform() < missing ? "" : value;
    }

    private static String forage() {
        RandomSource chance = SEED.with("forage").chance();
        String[] kinds = {"clover", "lime", "rape", "willow"};
        int[] bands = {420, 470, 520, 570, 620, 670, 720, 780};
        double[][] mean = {
            {21, 24, 33, 39, 42, 45, 58, 66},
            {20, 25, 35, 42, 44, 46, 57, 64},
            {18, 22, 36, 48, 52, 54, 62, 69},
            {19, 23, 36, 45, 50, 51, 61, 66}
        };
        StringBuilder csv = new StringBuilder("sample,season");
        for (int band : bands) {
            csv.append(",nm_").append(band);
        }
        csv.append(",moisture,kind\n");
        for (int i = 0; i < SAMPLES; i++) {
            int k = Math.min(3, chance.below(9) / 2);
            String season = k == 3 ? "spring" : chance.below(4) == 0 ? "spring" : "summer";
            csv.append(String.format(Locale.ROOT, "P%03d,%s", i + 1, season));
            double bright = 2.6 * chance.normal();
            for (int b = 0; b < bands.length; b++) {
                csv.append(String.format(Locale.ROOT, ",%.2f", mean[k][b] + bright + 2.4 * chance.normal()));
            }
            csv.append(String.format(Locale.ROOT, ",%.1f,%s\n", 8 + 2.5 * chance.normal() + 0.6 * k, kinds[k]));
        }
        return csv.toString();
    }

    private static String swarm() {
        RandomSource chance = SEED.with("swarm").chance();
        StringBuilder csv = new StringBuilder("cells,bee_frames,queen_age,clipped,weather,swarmed\n");
        String[] weathers = {"changeable", "dry", "wet"};
        for (int i = 0; i < SWARMS; i++) {
            int cells = chance.below(7);
            double bees = 11 + 2.5 * chance.normal();
            int age = chance.below(4);
            double risk = -0.75 + 0.12 * (cells - 3) + 0.1 * (bees - 11) + 0.12 * age;
            boolean swarmed = chance.uniform() < 1 / (1 + StrictMath.exp(-risk));
            csv.append(String.format(
                    Locale.ROOT,
                    "%d,%.1f,%d,%s,%s,%s\n",
                    cells,
                    bees,
                    age,
                    chance.below(3) == 0 ? "yes" : "no",
                    weathers[chance.below(3)],
                    swarmed ? "yes" : "no"));
        }
        return csv.toString();
    }
}
