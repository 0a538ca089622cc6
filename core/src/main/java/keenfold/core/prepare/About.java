package keenfold.core.prepare;

/**
 * What is to be known of a kind of classifier before it is used.
 *
 * @param definition how probabilities come about
 * @param size how its effective number of parameters is counted
 * @param source paper or book
 * @param probabilities where class probabilities come from; empty of what gives none
 */
public record About(String definition, String size, String source, String probabilities) {
    /** Nothing is said. */
    public static final About NOTHING = new About("", "", "", "");

    /** Returns what is to be known of something whose probabilities, if it gives any, are its own. */
    public About(String definition, String size, String source) {
        this(definition, size, source, "the model's own");
    }

    /** Returns the same with probabilities that come from elsewhere. */
    public About probabilitiesFrom(String where) {
        return new About(definition, size, source, where);
    }
}
