// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

/**
 * A file to be written.
 *
 * @param name its name, safe for any system
 * @param content what it holds; not copied
 * @param secret whether a private key is in it, sealed or open
 */
@SuppressWarnings("ArrayRecordComponent") // never compared
public record EncodedFile(String name, byte[] content, boolean secret) {}
