// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** A kind of server whose settings are put together at random, from what its manual allows. */
abstract class MadeServer {
  private final String kind;
  private final String program;
  private final ServerTalk talk;

  MadeServer(String kind, String program, ServerTalk talk) {
    this.kind = kind;
    this.program = program;
    this.talk = talk;
  }

  /** The name that {@code configure} knows it by. */
  final String kind() {
    return kind;
  }

  final String program() {
    return program;
  }

  final ServerTalk talk() {
    return talk;
  }

  /**
   * Writes settings.
   *
   * @param home an empty folder
   * @param ports that are free, of which it takes some, but not the last
   */
  abstract void make(Path home, Chance chance, MadeFiles files, List<Integer> ports)
      throws IOException;

  /** Whether it shows a certificate for the names in it, where no setting says for which. */
  boolean namesInCertificates() {
    return false;
  }

  /** What runs it in the foreground. */
  abstract List<String> start(Path home);

  @Override
  public String toString() {
    return kind;
  }
}
