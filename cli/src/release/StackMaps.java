import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.lang.classfile.ClassFile;
import java.lang.classfile.ClassFile.ClassHierarchyResolverOption;
import java.lang.classfile.ClassFile.StackMapsOption;
import java.lang.classfile.ClassFileVersion;
import java.lang.classfile.ClassHierarchyResolver;
import java.lang.classfile.ClassTransform;
import java.lang.classfile.CodeBuilder;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;

/**
 * Copies a jar, with stack maps for classes of a format older than Java 6: no archive of classes holds one without, and each
 * start would parse and verify it anew. Run by runtime.sh, with a JDK from 24 on: java StackMaps.java FROM.jar TO.jar.
 */
final class StackMaps {
    private StackMaps() {}

    public static void main(String[] args) throws IOException {
        Path from = Path.of(args[0]);
        try (URLClassLoader classes = new URLClassLoader(new URL[] {from.toUri().toURL()});
                InputStream bytes = Files.newInputStream(from);
                ZipInputStream in = new ZipInputStream(bytes);
                OutputStream file = Files.newOutputStream(Path.of(args[1]));
                ZipOutputStream out = new ZipOutputStream(file)) {
            ClassHierarchyResolver types = ClassHierarchyResolver.ofResourceParsing(classes)
                    .orElse(ClassHierarchyResolver.defaultResolver());
            ClassFile format = ClassFile.of(StackMapsOption.GENERATE_STACK_MAPS, ClassHierarchyResolverOption.of(types));
            for (ZipEntry next = in.getNextEntry(); next != null; next = in.getNextEntry()) {
                byte[] content = in.readAllBytes();
                ZipEntry copy = new ZipEntry(next.getName());
                copy.setTime(next.getTime());
                out.putNextEntry(copy);
                out.write(next.getName().endsWith(".class") ? withStackMaps(format, content) : content);
                out.closeEntry();
            }
        }
    }

    private static byte[] withStackMaps(ClassFile format, byte[] content) {
        if (format.parse(content).majorVersion() >= ClassFile.JAVA_6_VERSION) {
            return content;
        }
        ClassTransform version = (to, part) -> to.with(
                part instanceof ClassFileVersion ? ClassFileVersion.of(ClassFile.JAVA_17_VERSION, 0) : part);
        return format.transformClass(
                format.parse(content),
                version.andThen(ClassTransform.transformingMethodBodies(CodeBuilder::with)));
    }
}
