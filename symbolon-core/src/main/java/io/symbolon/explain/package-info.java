/** Why a handshake fails, in words that can be acted on. */
@NullMarked
package io.symbolon.explain;

import org.jspecify.annotations.NullMarked;
