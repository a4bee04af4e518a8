/** How much is read and worked on at most. */
@NullMarked
package io.symbolon.limit;

import org.jspecify.annotations.NullMarked;
