/** What a table holds: columns, what each tells of the classes, and what is suspicious. */
@NullMarked
package keenfold.core.survey;

import org.jspecify.annotations.NullMarked;
