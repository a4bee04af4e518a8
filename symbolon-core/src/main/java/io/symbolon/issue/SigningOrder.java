// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

/**
 * An end-entity certificate that an authority shall sign.
 *
 * @param draft for whom, with which names, and for what use
 * @param lasts how long it shall be valid; it never outlives the authority
 */
public record SigningOrder(RequestDraft draft, Lifetime lasts) {}
