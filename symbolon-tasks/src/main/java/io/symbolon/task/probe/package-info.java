/** Asking a running server. */
@NullMarked
package io.symbolon.task.probe;

import org.jspecify.annotations.NullMarked;
