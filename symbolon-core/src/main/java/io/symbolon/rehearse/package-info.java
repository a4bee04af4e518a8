/** Rehearsals: handshakes in memory between the files of servers and of clients. */
@NullMarked
package io.symbolon.rehearse;

import org.jspecify.annotations.NullMarked;
