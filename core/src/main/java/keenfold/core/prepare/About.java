package keenfold.core.prepare;

/**
 * What is to be known of a kind of classifier before it is used.
 *
 * @param definition how probabilities come about
 * @param size how its effective number of parameters is counted
 * @param source paper or book
 */
public record About(String definition, String size, String source) {
    /** Nothing is said. */
    public static final About NOTHING = new About("", "", "");
}
