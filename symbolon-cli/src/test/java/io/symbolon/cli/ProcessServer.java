// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** A server that is a process of its own and writes a log. */
abstract class ProcessServer implements RealServer {
  final Process process;
  private final Path log;
  private final int port;

  ProcessServer(Process process, Path log, int port) {
    this.process = process;
    this.log = log;
    this.port = port;
  }

  /** Waits a little, for a server that is about to serve. */
  static void pause() {
    try {
      Thread.sleep(25);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public final int port() {
    return port;
  }

  @Override
  public final String log() throws IOException {
    return Files.exists(log) ? Files.readString(log) : "";
  }

  /** What ends it besides the process that was started. */
  void end() {}

  @Override
  public final void close() {
    end();
    process.destroy();
    try {
      if (!process.waitFor(60, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
