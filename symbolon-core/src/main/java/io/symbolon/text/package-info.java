/** Text that is safe to show. */
@NullMarked
package io.symbolon.text;

import org.jspecify.annotations.NullMarked;
