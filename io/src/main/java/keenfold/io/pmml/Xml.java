package keenfold.io.pmml;

import java.io.Writer;
import java.util.ArrayDeque;
import java.util.Deque;
import javax.xml.transform.OutputKeys;
import javax.xml.transform.TransformerConfigurationException;
import javax.xml.transform.sax.SAXTransformerFactory;
import javax.xml.transform.sax.TransformerHandler;
import javax.xml.transform.stream.StreamResult;
import keenfold.core.data.Checks;
import org.xml.sax.SAXException;
import org.xml.sax.helpers.AttributesImpl;

/** Writes elements as they come, so that a document is never whole in memory. What it writes to must be UTF-8. */
final class Xml {
    private static final String NAMESPACE = "http://www.dmg.org/PMML-4_4";

    private final TransformerHandler out;
    private final Deque<String> open = new ArrayDeque<>();

    Xml(Writer to) {
        try {
            out = ((SAXTransformerFactory) SAXTransformerFactory.newInstance()).newTransformerHandler();
            out.getTransformer().setOutputProperty(OutputKeys.ENCODING, "UTF-8");
            out.getTransformer().setOutputProperty(OutputKeys.INDENT, "yes");
            out.setResult(new StreamResult(to));
            out.startDocument();
            out.startPrefixMapping("", NAMESPACE);
        } catch (TransformerConfigurationException | SAXException e) {
            throw new IllegalStateException(e);
        }
    }

    /**
     * Begins an element.
     *
     * @param attributes names and values, one after the other; numbers are written so that they read back equal
     */
    Xml open(String element, Object... attributes) {
        AttributesImpl all = new AttributesImpl();
        for (int i = 0; i < attributes.length; i += 2) {
            String name = attributes[i].toString();
            all.addAttribute("", name, name, "CDATA", legal(attributes[i + 1].toString()));
        }
        try {
            out.startElement(NAMESPACE, element, element, all);
        } catch (SAXException e) {
            throw new IllegalStateException(e);
        }
        open.push(element);
        return this;
    }

    /** Ends the element that was begun last. */
    Xml close() {
        String element = open.pop();
        try {
            out.endElement(NAMESPACE, element, element);
        } catch (SAXException e) {
            throw new IllegalStateException(e);
        }
        return this;
    }

    /** Writes an element without content. */
    Xml leaf(String element, Object... attributes) {
        return open(element, attributes).close();
    }

    /** Writes text. */
    Xml text(String text) {
        char[] all = legal(text).toCharArray();
        try {
            out.characters(all, 0, all.length);
        } catch (SAXException e) {
            throw new IllegalStateException(e);
        }
        return this;
    }

    void end() {
        try {
            out.endPrefixMapping("");
            out.endDocument();
        } catch (SAXException e) {
            throw new IllegalStateException(e);
        }
    }

    /** XML 1.0 has no form at all for some characters, not even an escaped one. */
    private static String legal(String text) {
        Checks.that(
                text.codePoints()
                        .allMatch(c -> c == '\t'
                                || c == '\n'
                                || c == '\r'
                                || (c >= 0x20 && c <= 0xD7FF)
                                || (c >= 0xE000 && c <= 0xFFFD)
                                || c >= 0x10000),
                "\"%s\" has a character that XML cannot hold",
                text);
        return text;
    }
}
