/** Password-based encryption and integrity, and the secrets they work with. */
@NullMarked
package io.symbolon.seal;

import org.jspecify.annotations.NullMarked;
