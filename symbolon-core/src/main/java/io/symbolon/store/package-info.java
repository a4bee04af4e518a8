/** Containers of entries: PKCS#12 (RFC 7292) and PKCS#7 (RFC 2315). */
@NullMarked
package io.symbolon.store;

import org.jspecify.annotations.NullMarked;
