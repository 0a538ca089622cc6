package keenfold.view.chart;

import java.util.List;
import java.util.stream.Stream;

/** Something drawn in a frame, in the units of its axes. */
public sealed interface Mark {
    /** The form of a dot; forms differ where colours cannot be told apart. */
    enum Form {
        /** Filled circle. */
        DISC,
        /** Circle. */
        RING,
        /** Filled diamond: the pick. */
        DIAMOND,
        /** Filled square: the best mean. */
        SQUARE
    }

    /** How a line is drawn. */
    enum Line {
        /** Unbroken. */
        SOLID,
        /** Dashes. */
        DASHED,
        /** Dots. */
        DOTTED,
        /** Dashes and dots in turn. */
        MIXED
    }

    /** Where a word stands, seen from its spot. */
    enum Side {
        /** Right of it. */
        RIGHT,
        /** On it. */
        ON,
        /** Wherever near it there is room; left out if there is none. */
        NEAR
    }

    /** Returns the candidate that it is about, empty if it is about none. */
    String about();

    /** Returns what it says when pointed at, empty if nothing. */
    String tip();

    /** Returns the spots that must lie within the frame. */
    Stream<Spot> extent();

    /** One value. */
    record Dot(Spot at, Form form, Tone tone, String about, String tip) implements Mark {
        @Override
        public Stream<Spot> extent() {
            return Stream.of(at);
        }
    }

    /**
     * A straight line from one spot to another, such as an interval.
     *
     * @param weight width in points
     */
    record Reach(Spot from, Spot to, double weight, Tone tone, String about, String tip) implements Mark {
        @Override
        public Stream<Spot> extent() {
            return Stream.of(from, to);
        }
    }

    /**
     * Many values of one kind along the level axis, each a stroke.
     *
     * @param at where on the upright axis
     */
    record Strip(List<Double> values, double at, Tone tone, String about, String tip) implements Mark {
        /** Copies the values. */
        public Strip {
            values = List.copyOf(values);
        }

        @Override
        public Stream<Spot> extent() {
            return values.stream().map(v -> new Spot(v, at));
        }
    }

    /** A line through spots. */
    record Trace(List<Spot> spots, Line line, double weight, Tone tone, String about, String tip) implements Mark {
        /** Copies the spots. */
        public Trace {
            spots = List.copyOf(spots);
        }

        @Override
        public Stream<Spot> extent() {
            return spots.stream();
        }
    }

    /** What lies between two lines, from left to right. */
    record Band(List<Spot> lower, List<Spot> upper, Tone tone, String about) implements Mark {
        /** Copies the spots. */
        public Band {
            lower = List.copyOf(lower);
            upper = List.copyOf(upper);
        }

        @Override
        public String tip() {
            return "";
        }

        @Override
        public Stream<Spot> extent() {
            return Stream.concat(lower.stream(), upper.stream());
        }
    }

    /**
     * A rectangle.
     *
     * @param shade how dark, 0 … 1
     * @param text stands in it, may be empty
     */
    record Block(Spot from, Spot to, double shade, Tone tone, String text, String about, String tip) implements Mark {
        @Override
        public Stream<Spot> extent() {
            return Stream.of(from, to);
        }
    }

    /**
     * A line across the frame.
     *
     * @param upright whether it stands at an x
     * @param label stands at its end, may be empty
     */
    record Guide(double at, boolean upright, Line line, Tone tone, String label) implements Mark {
        @Override
        public String about() {
            return "";
        }

        @Override
        public String tip() {
            return label;
        }

        @Override
        public Stream<Spot> extent() {
            return Stream.of(upright ? new Spot(at, Double.NaN) : new Spot(Double.NaN, at));
        }
    }

    /** A few words. */
    record Word(Spot at, String text, Side side, Tone tone, boolean strong, String about) implements Mark {
        @Override
        public String tip() {
            return "";
        }

        @Override
        public Stream<Spot> extent() {
            return Stream.of(at);
        }
    }
}
