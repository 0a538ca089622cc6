/**
 * Trained candidates as documents of the Predictive Model Markup Language, version 4.4 (Data Mining Group, dmg.org), the open
 * standard for handing a model to another program.
 */
@org.jspecify.annotations.NullMarked
package keenfold.io.pmml;
