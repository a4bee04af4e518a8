/** Packing a key, its certificate and its chain into one credential. */
@NullMarked
package io.symbolon.task.join;

import org.jspecify.annotations.NullMarked;
