/** How tasks speak of things. */
@NullMarked
package io.symbolon.task.words;

import org.jspecify.annotations.NullMarked;
