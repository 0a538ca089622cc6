package keenfold.view.model;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.CalibrationCurve;
import keenfold.core.run.pipeline.ColumnOrigin;
import keenfold.core.run.pipeline.FittedPipeline;

/** What a trained candidate has learned, in the columns and units of its data. */
public final class ModelView {
    private ModelView() {}

    /**
     * Returns what was learned, part by part; members follow the one that they are handed to.
     *
     * @param raw the columns of the data, with or without rows
     * @param labels of the classes
     * @param dates names of the number columns that are dates
     */
    public static List<ModelPart> parts(FittedPipeline predictor, Table raw, List<String> labels, Set<String> dates) {
        List<ColumnOrigin> columns = ColumnOrigin.of(predictor, raw);
        List<ModelPart> parts =
                new ArrayList<>(predictor.learned().match(new LearnedParts(predictor, columns, labels, dates)));
        if (!predictor.curves().isEmpty()) {
            parts.add(calibration(predictor.curves(), labels));
        }
        predictor
                .threshold()
                .ifPresent(t -> parts.add(ModelPart.ofLines(
                        "threshold",
                        List.of(labels.get(predictor.positive()) + " is predicted at and above the probability "
                                + ShortNumber.of(t)))));
        for (int m = 0; m < predictor.members().size(); m++) {
            String name = predictor.memberNames().get(m);
            for (ModelPart p : parts(predictor.members().get(m), raw, labels, dates)) {
                parts.add(new ModelPart("member " + name + ": " + p.title(), p.lines(), p.columns(), p.rows()));
            }
        }
        return parts;
    }

    private static ModelPart calibration(List<CalibrationCurve> curves, List<String> labels) {
        List<String> lines = new ArrayList<>();
        for (int k = 0; k < curves.size(); k++) {
            String of = labels.get(curves.size() == 1 ? 1 : k);
            lines.add(curves.get(k).match(p -> platt(of, p), i -> isotonic(of, i)));
        }
        return ModelPart.ofLines("calibration", lines);
    }

    private static String platt(String of, CalibrationCurve.Platt curve) {
        return "platt, p of " + of + " = " + ShortNumber.logistic(curve.slope(), "log-odds", curve.offset());
    }

    private static String isotonic(String of, CalibrationCurve.Isotonic curve) {
        Vector values = curve.values();
        return "isotonic, p of " + of + ": " + values.size() + " steps from " + ShortNumber.of(values.get(0)) + " to "
                + ShortNumber.of(values.get(values.size() - 1));
    }
}
