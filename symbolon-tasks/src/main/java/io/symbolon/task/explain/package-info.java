/** Failures of TLS in logs and stack traces. */
@NullMarked
package io.symbolon.task.explain;

import org.jspecify.annotations.NullMarked;
