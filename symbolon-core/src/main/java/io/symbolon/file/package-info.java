/** Safe writing: atomic, owner-only where it must be, and undoable. */
@NullMarked
package io.symbolon.file;

import org.jspecify.annotations.NullMarked;
