package io.symbolon.cli;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.concurrent.TimeUnit;

/** A server that runs for a test, with what it writes about its failures. */
interface RealServer extends AutoCloseable {
  int port();

  String log() throws IOException;

  @Override
  void close();

  /** A port where nobody listens. */
  static int freePort() throws IOException {
    try (ServerSocket free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return free.getLocalPort();
    }
  }

  /** Ends a server that is a process of its own. */
  static void stop(Process process) {
    process.destroy();
    try {
      if (!process.waitFor(10, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
