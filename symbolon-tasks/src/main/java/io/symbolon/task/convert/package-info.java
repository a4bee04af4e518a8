/** Writing the same content in another format. */
@NullMarked
package io.symbolon.task.convert;

import org.jspecify.annotations.NullMarked;
