/**
 * Keys in all their forms (PKCS#1, SEC 1, PKCS#8, SubjectPublicKeyInfo), generating them, and
 * telling whether two halves fit.
 */
@NullMarked
package io.symbolon.key;

import org.jspecify.annotations.NullMarked;
