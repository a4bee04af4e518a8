/** Two files or folders side by side. */
@NullMarked
package io.symbolon.task.compare;

import org.jspecify.annotations.NullMarked;
