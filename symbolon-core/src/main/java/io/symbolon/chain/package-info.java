/** Ordering, completing and judging chains of certificates. */
@NullMarked
package io.symbolon.chain;

import org.jspecify.annotations.NullMarked;
