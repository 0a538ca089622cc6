package keenfold.io.pmml;

import java.util.List;
import java.util.stream.Collectors;
import keenfold.core.data.Vector;
import keenfold.core.learned.SupportVectors;

/** A support vector machine of two classes with a radial or polynomial kernel as a model of the standard. */
final class KernelMachineForm {
    private final SupportVectors model;
    private final List<Field> columns;
    private final double scale;

    KernelMachineForm(SupportVectors model, List<Field> columns) {
        this.model = model;
        this.columns = columns;
        this.scale = model.scale(columns.size());
    }

    /** The model that puts out the margin, bias included, under a name. */
    Segment margin(String name) {
        return Segment.number(
                        "SupportVectorMachineModel",
                        List.of("svmRepresentation", "SupportVectors"),
                        ModelChain.names(columns),
                        xml -> {
                            kernel(xml);
                            vectors(xml);
                            machine(xml);
                        })
                .with(List.of(Segment.Output.predicted(name)));
    }

    private void kernel(Xml xml) {
        if (model.shape() == SupportVectors.Shape.RADIAL) {
            xml.leaf("RadialBasisKernelType", "gamma", 1 / (2 * scale * scale));
        } else {
            xml.leaf("PolynomialKernelType", "gamma", 1 / (scale * scale), "coef0", 1, "degree", model.degree());
        }
    }

    private void vectors(Xml xml) {
        List<Vector> support = model.support();
        xml.open("VectorDictionary", "numberOfVectors", support.size());
        xml.open("VectorFields", "numberOfFields", columns.size());
        columns.forEach(c -> xml.leaf("FieldRef", "field", c.name()));
        xml.close();
        for (int s = 0; s < support.size(); s++) {
            String all = support.get(s).stream()
                    .mapToObj(x -> Double.toString(x * scale))
                    .collect(Collectors.joining(" "));
            xml.open("VectorInstance", "id", "v" + (s + 1))
                    .open("Array", "n", columns.size(), "type", "real")
                    .text(all)
                    .close()
                    .close();
        }
        xml.close();
    }

    private void machine(Xml xml) {
        int count = model.support().size();
        xml.open("SupportVectorMachine");
        xml.open("SupportVectors", "numberOfSupportVectors", count);
        for (int s = 0; s < count; s++) {
            xml.leaf("SupportVector", "vectorId", "v" + (s + 1));
        }
        xml.close();
        xml.open("Coefficients", "absoluteValue", model.pairs().get(0).bias());
        model.coefficients().get(0).stream().forEach(c -> xml.leaf("Coefficient", "value", c));
        xml.close().close();
    }
}
