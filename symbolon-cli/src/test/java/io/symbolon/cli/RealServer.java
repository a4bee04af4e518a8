// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;

/** A server that runs for a test, with what it writes about its failures. */
interface RealServer extends AutoCloseable {
  int port();

  String log() throws IOException;

  @Override
  void close();
}
