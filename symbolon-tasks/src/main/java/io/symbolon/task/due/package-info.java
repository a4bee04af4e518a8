/** What ends, soonest first. */
@NullMarked
package io.symbolon.task.due;

import org.jspecify.annotations.NullMarked;
