/** A handshake in memory between the files of two sides. */
@NullMarked
package io.symbolon.task.rehearse;

import org.jspecify.annotations.NullMarked;
