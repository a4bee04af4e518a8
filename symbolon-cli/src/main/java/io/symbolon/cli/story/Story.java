// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.story;

import java.io.PrintStream;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.function.Function;
import java.util.function.ToIntFunction;
import java.util.function.UnaryOperator;

/**
 * The story that {@code symbolon demo} tells. It is found as a service: what only the story needs
 * lies in a folder of its own, and a host without the demo has none of it.
 */
public interface Story {
  /** Tells the story; returns whether everything went as it should. */
  boolean tell(Telling telling);

  /**
   * Serves a page with the keystore that the story made, until it is closed.
   *
   * @param folder the folder that the story was told in
   * @param port a port of this machine's own address, with the one above it; 0 for any that are
   *     free
   */
  Served serve(Path folder, int port);

  /**
   * A server that runs.
   *
   * @param address where it listens, as HOST:PORT
   * @param database where a stand-in for a database listens, as HOST:PORT: on the port above
   * @param host the name that its certificate covers
   * @param keystore what it was started with
   * @param server ends it when it is closed
   */
  record Served(String address, String database, String host, Path keystore, Runnable server) {}

  /**
   * How it is told.
   *
   * @param folder the new folder for its files
   * @param out where to
   * @param clock says what is expired
   * @param heading makes a heading stand out
   * @param command makes a command stand out
   * @param faint makes what matters less stand back
   * @param typed a command line as it is typed in the shell at hand
   * @param commandLine runs one command line and returns its exit code
   */
  record Telling(
      Path folder,
      PrintStream out,
      Clock clock,
      UnaryOperator<String> heading,
      UnaryOperator<String> command,
      UnaryOperator<String> faint,
      Function<List<String>, String> typed,
      ToIntFunction<List<String>> commandLine) {}
}
