package keenfold.io.pmml;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Vector;
import keenfold.core.learned.NetworkWeights;

/** A network as a model of the standard. */
final class NetworkForm {
    private final ModelChain chain;
    private final NetworkWeights model;
    private final List<Field> columns;

    NetworkForm(ModelChain chain, NetworkWeights model, List<Field> columns) {
        this.chain = chain;
        this.model = model;
        this.columns = columns;
    }

    Segment network() {
        return Segment.classifier(
                "NeuralNetwork", List.of("activationFunction", "tanh"), ModelChain.names(columns), xml -> {
                    List<String> below = inputs(xml);
                    int at = 0;
                    for (int l = 0; l < model.layers(); l++) {
                        xml.open("NeuralLayer");
                        List<String> own = new ArrayList<>();
                        for (int u = 0; u < model.units(); u++) {
                            own.add(neuron(xml, l + 1, own.size(), model.weights(), at, below));
                            at += below.size() + 1;
                        }
                        xml.close();
                        below = own;
                    }
                    outputs(xml, lastLayer(xml, at, below));
                });
    }

    private List<String> inputs(Xml xml) {
        List<String> ids = new ArrayList<>();
        xml.open("NeuralInputs", "numberOfInputs", columns.size());
        for (Field column : columns) {
            String id = "0," + ids.size();
            ids.add(id);
            xml.open("NeuralInput", "id", id)
                    .open("DerivedField", "optype", "continuous", "dataType", "double")
                    .leaf("FieldRef", "field", column.name())
                    .close()
                    .close();
        }
        xml.close();
        return ids;
    }

    /** One neuron a class; of two classes the first has the score 0. */
    private List<String> lastLayer(Xml xml, int from, List<String> below) {
        int layer = model.layers() + 1;
        int at = from;
        List<String> own = new ArrayList<>();
        xml.open("NeuralLayer", "activationFunction", "identity", "normalizationMethod", "softmax");
        if (model.outputs() == 1) {
            own.add(neuron(xml, layer, 0, Vector.of(new double[below.size() + 1]), 0, below));
        }
        for (int u = 0; u < model.outputs(); u++) {
            own.add(neuron(xml, layer, own.size(), model.weights(), at, below));
            at += below.size() + 1;
        }
        xml.close();
        return own;
    }

    private void outputs(Xml xml, List<String> neurons) {
        xml.open("NeuralOutputs", "numberOfOutputs", neurons.size());
        for (int k = 0; k < neurons.size(); k++) {
            String label = chain.labels().get(model.present().get(k));
            xml.open("NeuralOutput", "outputNeuron", neurons.get(k))
                    .open("DerivedField", "optype", "categorical", "dataType", "string")
                    .leaf("NormDiscrete", "field", chain.fields().target(), "value", label)
                    .close()
                    .close();
        }
        xml.close();
    }

    private static String neuron(Xml xml, int layer, int place, Vector weights, int from, List<String> below) {
        String id = layer + "," + place;
        xml.open("Neuron", "id", id, "bias", weights.get(from + below.size()));
        for (int j = 0; j < below.size(); j++) {
            xml.leaf("Con", "from", below.get(j), "weight", weights.get(from + j));
        }
        xml.close();
        return id;
    }
}
