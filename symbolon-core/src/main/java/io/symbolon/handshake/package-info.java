/**
 * The platform as it is used for handshakes: contexts, key and trust managers, handshakes in
 * memory, and\n * observers of them. Not exported.
 */
@NullMarked
package io.symbolon.handshake;

import org.jspecify.annotations.NullMarked;
