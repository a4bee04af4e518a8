/** What every other package speaks in: failures, findings, limits and text that is safe to show. */
@NullMarked
package io.symbolon;

import org.jspecify.annotations.NullMarked;
