/** An optional part: reading Parquet files. Found by {@link java.util.ServiceLoader} when its jar is on the class path. */
@NullMarked
package keenfold.parquet;

import org.jspecify.annotations.NullMarked;
