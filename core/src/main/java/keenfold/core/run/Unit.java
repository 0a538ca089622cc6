package keenfold.core.run;

/**
 * What is scheduled, sharded and resumed: one family on one split.
 *
 * @param number position among all units of the comparison, from 0
 * @param task index of the data set
 * @param repeat 0-based repeat
 * @param fold 0-based fold
 * @param family index of the family
 */
public record Unit(int number, int task, int repeat, int fold, int family) {}
