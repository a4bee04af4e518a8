/**
 * ASN.1 values to and from bytes (X.690): strict DER is read in place, BER is rewritten as DER
 * where a standard allows it, and DER is written.
 */
@NullMarked
package io.symbolon.der;

import org.jspecify.annotations.NullMarked;
