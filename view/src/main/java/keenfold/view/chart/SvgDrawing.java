package keenfold.view.chart;

import keenfold.view.text.Wrap;

/** A figure drawn as SVG once, its marks with what they say. */
public final class SvgDrawing {
    private final MarkedSvg g;
    private final Look look;
    private final Painter painter;
    private final String title;

    private SvgDrawing(MarkedSvg g, Figure figure, Look look) {
        this.g = g;
        this.look = look;
        this.painter = new Painter(figure, look, g);
        this.title = Wrap.visible(figure.title());
    }

    /** Draws a figure. */
    public static SvgDrawing of(Figure figure, Look look) {
        SvgDrawing drawing = new SvgDrawing(MarkedSvg.empty(), figure, look);
        drawing.painter.paint();
        drawing.g.end();
        return drawing;
    }

    /** Returns the document, with title and caption if the look has them. */
    public String whole() {
        return g.text(true, 0, look.width(), painter.height(), title);
    }

    /** Returns the same strokes without title and caption. */
    public String bare() {
        return g.text(false, painter.wordsAbove(), look.width(), painter.bareHeight(), title);
    }
}
