package keenfold.core.classify.network;

import keenfold.core.data.RandomSource;

/**
 * Where the weights of a network lie in one array: layer by layer, unit by unit, those of its inputs and then its bias.
 *
 * @param inputs columns
 * @param layers hidden ones
 * @param units of each
 * @param outputs of the last layer
 */
record Shape(int inputs, int layers, int units, int outputs) {
    int in(int layer) {
        return layer == 0 ? inputs : units;
    }

    int out(int layer) {
        return layer == layers ? outputs : units;
    }

    /** Where the weights of a layer begin. */
    int from(int layer) {
        int from = 0;
        for (int l = 0; l < layer; l++) {
            from += out(l) * (in(l) + 1);
        }
        return from;
    }

    int count() {
        return from(layers + 1);
    }

    /** Draws weights to start from: normal with variance 1/inputs of their unit; biases are 0. */
    double[] draw(RandomSource chance) {
        double[] weights = new double[count()];
        for (int l = 0; l <= layers; l++) {
            double spread = 1 / Math.sqrt(Math.max(1, in(l)));
            for (int u = 0; u < out(l); u++) {
                int at = from(l) + u * (in(l) + 1);
                for (int j = 0; j < in(l); j++) {
                    weights[at + j] = spread * chance.normal();
                }
            }
        }
        return weights;
    }
}
