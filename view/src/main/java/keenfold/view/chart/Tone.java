package keenfold.view.chart;

import java.awt.Color;

/** How much a mark stands out. Two colours alone, which differ in lightness and never alone carry a meaning. */
public enum Tone {
    /** Plain. */
    INK(0x23, 0x2A, 0x2E),
    /** Stands back. */
    QUIET(0x70, 0x78, 0x7D),
    /** Stands far back: single folds and repeats. */
    FAINT(0xB4, 0xBC, 0xC1),
    /** A surface. */
    WASH(0xE4, 0xE8, 0xEA),
    /** The pick. */
    PICK(0xB8, 0x62, 0x0E),
    /** The best mean. */
    BEST(0x1F, 0x4B, 0x82);

    private final Color color;

    Tone(int red, int green, int blue) {
        this.color = new Color(red, green, blue);
    }

    Color color() {
        return color;
    }
}
