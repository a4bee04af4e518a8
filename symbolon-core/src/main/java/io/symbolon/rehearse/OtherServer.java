// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import java.util.Optional;

/**
 * What a server of another kind than Java's would do with the same files.
 *
 * @param kind the kind of server
 * @param accepts whether it would accept the client, with its usual settings
 * @param why what becomes of the client there, and why
 * @param setting the setting that helps, where one does
 */
public record OtherServer(
    ServerKind kind, boolean accepts, Optional<String> why, Optional<String> setting) {}
