// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import io.symbolon.server.machine.ServerCommand;
import java.nio.file.Path;
import java.util.Map;

/**
 * A copy of a server that is started aside and stopped at once, to see whether it starts: with
 * settings that name the same credential, and an address and folder of its own.
 */
public interface TrialStart {
  /**
   * {@return the copy's files, by their names}
   *
   * @param folder where they will be
   * @param port a free port of this machine
   */
  Map<String, byte[]> files(Path folder, int port);

  /**
   * {@return what starts it; it ends well where the server goes on in the background}
   *
   * @param folder where its files are
   */
  ServerCommand start(Path folder);

  /**
   * {@return what stops it}
   *
   * @param folder where its files are
   */
  ServerCommand stop(Path folder);

  /**
   * {@return the file in which it says why it does not start}
   *
   * @param folder where its files are
   */
  Path log(Path folder);

  /**
   * {@return the file that is there as long as it runs}
   *
   * @param folder where its files are
   */
  Path running(Path folder);
}
