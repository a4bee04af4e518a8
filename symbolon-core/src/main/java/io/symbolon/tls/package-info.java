/** Setups for one-way and mutual TLS, rules for peers, and contexts that are reloaded. */
@NullMarked
package io.symbolon.tls;

import org.jspecify.annotations.NullMarked;
