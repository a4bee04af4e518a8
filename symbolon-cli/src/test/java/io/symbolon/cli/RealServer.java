package io.symbolon.cli;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;

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
}
