/** What a keystore holds, entry by entry, and how strongly it is sealed. */
@NullMarked
package io.symbolon.entry;

import org.jspecify.annotations.NullMarked;
