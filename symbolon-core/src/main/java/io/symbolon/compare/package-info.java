/** Two sets of files side by side: what is the same, what was renewed, what differs. */
@NullMarked
package io.symbolon.compare;

import org.jspecify.annotations.NullMarked;
