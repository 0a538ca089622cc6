package keenfold.view.page;

import freemarker.core.HTMLOutputFormat;
import freemarker.template.Configuration;
import freemarker.template.DefaultObjectWrapper;
import freemarker.template.TemplateException;
import freemarker.template.TemplateExceptionHandler;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.Locale;
import java.util.Map;

/** The templates of the pages: HTML in which all that is filled in is escaped. */
final class Templates {
    private Templates() {}

    /** Returns a page made by a template. */
    static String html(String template, Object page) {
        Configuration configuration = new Configuration(Configuration.VERSION_2_3_34);
        configuration.setClassForTemplateLoading(Templates.class, "");
        configuration.setDefaultEncoding("UTF-8");
        configuration.setLocale(Locale.ROOT);
        configuration.setOutputFormat(HTMLOutputFormat.INSTANCE);
        configuration.setTemplateExceptionHandler(TemplateExceptionHandler.RETHROW_HANDLER);
        configuration.setLogTemplateExceptions(false);
        configuration.setObjectWrapper(new DefaultObjectWrapper(Configuration.VERSION_2_3_34));
        StringWriter out = new StringWriter();
        try {
            configuration.getTemplate(template).process(Map.of("page", page), out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (TemplateException e) {
            throw new IllegalStateException(e);
        }
        return out.toString();
    }
}
