// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.util.Map;
import java.util.Optional;

/**
 * One block between boundary lines (RFC 7468, 2). The label is what the sender called it; only the
 * content says what it is.
 *
 * @param label the text behind {@code BEGIN}, such as {@code CERTIFICATE}
 * @param headers the header lines of an RFC 1421 block, by name; empty in most
 * @param name the friendly name (RFC 2985, 5.5.1) that a line in front of the block tells
 * @param content the decoded octets; not copied, so not to be changed
 * @param line the line of the first boundary, counted from 1
 */
@SuppressWarnings("ArrayRecordComponent") // a block is never compared
public record PemBlock(
    String label, Map<String, String> headers, Optional<String> name, byte[] content, int line) {}
