/** Writing results, and telling what was written. */
@NullMarked
package io.symbolon.cli.write;

import org.jspecify.annotations.NullMarked;
