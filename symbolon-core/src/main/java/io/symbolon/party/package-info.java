/**
 * The two sides of a handshake: what each brings, whom it trusts, and with which protocols it
 * speaks.
 */
@NullMarked
package io.symbolon.party;

import org.jspecify.annotations.NullMarked;
