// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.Output;
import io.symbolon.join.JoinOptions;
import io.symbolon.server.Server;
import io.symbolon.server.place.Mode;
import io.symbolon.server.wish.Wish;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.NamedFiles;
import java.util.List;
import java.util.Optional;

/** What is wanted of a server, as options say it. */
public final class ServerChoice {
  private ServerChoice() {}

  /** What is wanted of a server besides a certificate that is not there yet. */
  public static ConfigureJob shown(GivenOptions given, Server server) {
    NamedFiles files =
        new NamedFiles(
            List.of(),
            given.paths("client-trust"),
            List.of(),
            List.of(),
            JoinOptions.standard(),
            given.unlock());
    Wish wish = Wish.of().withHosts(given.hosts());
    wish = mode(given).map(wish::withMode).orElse(wish);
    wish = port(given, "port").map(wish::withPort).orElse(wish);
    wish = given.value("site").map(wish::withSite).orElse(wish);
    return new ConfigureJob(server, given.pathOf("home"), files, wish);
  }

  /** Who is to show a certificate. */
  public static Optional<Mode> mode(GivenOptions given) {
    boolean trust = !given.values("client-trust").isEmpty();
    Optional<Mode> mode =
        given
            .value("mode")
            .map(
                word ->
                    Mode.ofWord(word)
                        .orElseThrow(
                            () ->
                                Usage.wrong(
                                    "There is no mode '" + Output.shown(word) + "'.",
                                    "Say --mode one-way, mutual or optional.")))
            .or(() -> trust ? Optional.of(Mode.MUTUAL) : Optional.empty());
    if (mode.filter(Mode::asksClients).isPresent() && !trust && !given.has("try")) {
      throw Usage.wrong(
          "A server that asks for clients' certificates must know their authorities.",
          "Name their files: --client-trust FILE...");
    }
    if (mode.filter(one -> !one.asksClients()).isPresent() && trust) {
      throw Usage.wrong(
          "With --mode one-way no client shows a certificate.",
          "Leave --client-trust out, or say --mode mutual or optional.");
    }
    return mode;
  }

  /** A port that an option says. */
  public static Optional<Integer> port(GivenOptions given, String option) {
    return given.value(option).map(text -> port(option, text));
  }

  private static int port(String option, String text) {
    try {
      int port = Integer.parseInt(text);
      if (port > 0 && port < 65_536) {
        return port;
      }
    } catch (NumberFormatException e) {
      // told below
    }
    throw Usage.wrong(
        "'" + Output.shown(text) + "' is not a port.", "Say a number: --" + option + " 443.");
  }
}
