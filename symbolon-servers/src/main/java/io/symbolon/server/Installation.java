// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.nio.file.Path;
import java.util.Optional;

/**
 * A server on this machine.
 *
 * @param server the name of the server, as it is typed
 * @param home the folder of its settings
 * @param main the settings file that is read first
 * @param program its program, where one was found
 */
public record Installation(String server, Path home, Path main, Optional<Path> program) {}
