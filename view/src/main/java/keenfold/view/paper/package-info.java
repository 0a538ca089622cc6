/** Tables as papers print them: LaTeX and Markdown, made of the same tables of results as text, page, CSV and JSON. */
@NullMarked
package keenfold.view.paper;

import org.jspecify.annotations.NullMarked;
