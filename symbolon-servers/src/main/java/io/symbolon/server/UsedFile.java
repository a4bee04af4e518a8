// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A file that a server's settings name.
 *
 * @param role what it is for
 * @param path where it is, resolved as the server does it
 * @param setting the name of the setting
 * @param origin where the setting stands
 * @param password the password that the settings give for it
 * @param byRoot whether the server reads it before it gives up the rights of root
 */
public record UsedFile(
    FileRole role,
    Path path,
    String setting,
    Origin origin,
    Optional<Secret> password,
    boolean byRoot) {}
