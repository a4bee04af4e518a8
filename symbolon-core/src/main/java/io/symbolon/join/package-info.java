/** Bringing a private key and its certificates together, and picking what a truststore holds. */
@NullMarked
package io.symbolon.join;

import org.jspecify.annotations.NullMarked;
