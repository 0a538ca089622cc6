/**
 * The report: one HTML page that needs nothing but itself.
 *
 * <p>Open {@link keenfold.view.page.ReportPage} first: it puts what was computed into chapters, in the order of the job;
 * {@link keenfold.view.page.Page} is what the template {@code report.ftlh} is handed. Everything from the user's data is
 * escaped by the template engine; only our own SVG is put in as it is.
 */
@NullMarked
package keenfold.view.page;

import org.jspecify.annotations.NullMarked;
