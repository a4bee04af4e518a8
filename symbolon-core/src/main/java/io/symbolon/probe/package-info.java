/** Probes: handshakes with a running server, and the judgement of what they show. */
@NullMarked
package io.symbolon.probe;

import org.jspecify.annotations.NullMarked;
