package keenfold.study.report;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.Result;
import keenfold.results.table.ResultTable;
import keenfold.view.chart.Figure;

/** A figure with the numbers behind it. */
public record FigureResult(Figure figure, List<Notice> notices) implements Result {
    /** Copies the list. */
    public FigureResult {
        notices = List.copyOf(notices);
    }

    @Override
    public ResultTable table() {
        return ReportMaker.table(figure);
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("figure", figure.kind().label());
        document.put("rows", table());
        return document;
    }
}
