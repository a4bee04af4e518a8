// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

/**
 * A word of a settings file.
 *
 * @param value what it means, without quotes
 * @param from where it begins in the text, its quote included
 * @param to where it ends, exclusive
 */
public record Word(String value, int from, int to) {}
