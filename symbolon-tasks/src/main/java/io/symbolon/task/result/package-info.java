/** What a task writes: where, protected how, and what is to be said of it. */
@NullMarked
package io.symbolon.task.result;

import org.jspecify.annotations.NullMarked;
