/** The one failure that callers can act on, and why things fail. */
@NullMarked
package io.symbolon.failure;

import org.jspecify.annotations.NullMarked;
