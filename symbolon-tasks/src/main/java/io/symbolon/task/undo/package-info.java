/** Bringing files back as they were. */
@NullMarked
package io.symbolon.task.undo;

import org.jspecify.annotations.NullMarked;
