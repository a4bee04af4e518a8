/** Starting programs of this machine without lending them more than they are due. */
@NullMarked
package io.symbolon.program;

import org.jspecify.annotations.NullMarked;
