// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ServerChoice;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.issue.Lifetime;
import io.symbolon.join.JoinOptions;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.server.Server;
import io.symbolon.server.wish.Wish;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.NamedFiles;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BiFunction;

/** Which server, and what is wanted of it, as options say it. */
final class ConfigureChoice {
  private static final List<String> FOR_WRITING =
      List.of(
          "client-trust",
          "client",
          "role",
          "mode",
          "host",
          "port",
          "redirect-from",
          "strict-transport",
          "protocols",
          "ciphers",
          "place",
          "site",
          "may-change",
          "owner",
          "form",
          "write",
          "reload",
          "no-renewal");

  private static final List<String> FOR_TRYING =
      List.of(
          "client-trust", "mode", "host", "port", "protocols", "ciphers", "place", "site", "form");

  private ConfigureChoice() {}

  /** Refuses options that do not go together. */
  static void check(GivenOptions given) {
    for (String option : List.of("trust", "server")) {
      if (given.has(option)) {
        throw Usage.wrong(
            "--" + option + " is for clients.",
            "For a server, say --client-trust and --client. For a client, name it first.");
      }
    }
    boolean credential = given.has("credential");
    Optional<String> server =
        given.arguments().stream().findFirst().map(name -> name.toLowerCase(Locale.ROOT));
    boolean tries = given.has("try");
    Optional<Path> description = given.pathOf("description");
    if (description.isPresent() && server.isPresent()) {
      throw Usage.wrong(
          "A server is named, and a description of one as well.",
          "Say either SERVER or --description FILE.");
    }
    if (given.has("list") && (server.isPresent() || description.isPresent() || tries)) {
      throw Usage.wrong("--list lists all that is known.", "Say nothing else with it.");
    }
    if (!credential) {
      for (String option : FOR_WRITING) {
        boolean looks = option.equals("site") && (server.isPresent() || description.isPresent());
        if (given.has(option) && !looks && !(tries && FOR_TRYING.contains(option))) {
          throw Usage.wrong(
              "--" + option + " is given, but no credential.",
              "Name the server's key and certificate: --credential FILE...");
        }
      }
    }
    boolean named = server.isPresent() || description.isPresent();
    if (!named && (given.has("home") || tries || credential)) {
      throw Usage.wrong(
          "No server is named.",
          "Name it: symbolon configure SERVER. Without options, symbolon configure lists them.");
    }
    if (tries && (given.has("write") || given.has("client") || given.has("role"))) {
      throw Usage.wrong(
          "--try writes nothing and knows no clients.", "Leave --write, --client and --role out.");
    }
    if (given.has("reload") && !given.has("write")) {
      throw Usage.wrong("--reload is given without --write.", "Say --write --reload.");
    }
  }

  static ConfigureJob job(GivenOptions given, Server server) {
    NamedFiles files =
        new NamedFiles(
            given.paths("credential"),
            given.paths("client-trust"),
            given.paths("client"),
            given.values("role").stream().map(ConfigureChoice::role).toList(),
            given.chains(JoinOptions.standard()),
            given.unlock());
    return new ConfigureJob(
        server, given.pathOf("home"), files, wish(given), !given.has("no-renewal"));
  }

  private static Wish wish(GivenOptions given) {
    Wish wish =
        Wish.of()
            .withHosts(given.hosts())
            .withProtocols(protocols(given))
            .withMayChange(given.values("may-change"));
    wish = with(wish, ServerChoice.mode(given), Wish::withMode);
    wish = with(wish, ServerChoice.port(given, "port"), Wish::withPort);
    wish = with(wish, ServerChoice.port(given, "redirect-from"), Wish::withRedirectFrom);
    wish =
        with(
            wish,
            given.value("strict-transport").map(ConfigureChoice::duration),
            Wish::withStrictTransport);
    wish = with(wish, given.value("ciphers"), Wish::withCiphers);
    wish = with(wish, given.pathOf("place"), Wish::withFolder);
    wish = with(wish, given.value("site"), Wish::withSite);
    wish = with(wish, given.owner(), Wish::withOwner);
    return with(wish, given.value("form"), Wish::withForm);
  }

  private static <T> Wish with(Wish wish, Optional<T> value, BiFunction<Wish, T, Wish> how) {
    return value.map(one -> how.apply(wish, one)).orElse(wish);
  }

  private static NamedFiles.RoleFile role(String text) {
    int at = text.indexOf('=');
    if (at < 1 || at == text.length() - 1) {
      throw Usage.wrong(
          "'" + Output.shown(text) + "' does not say whose certificate it is.",
          "Say --role ROLE=FILE, such as --role buoy=buoy.pem.");
    }
    return new NamedFiles.RoleFile(
        text.substring(0, at), GivenOptions.path(text.substring(at + 1)));
  }

  private static Duration duration(String text) {
    Instant start = Instant.parse("2026-01-01T00:00:00Z"); // a year is 365 days then
    return Duration.between(start, Lifetime.parse(text).from(start));
  }

  private static List<ProtocolVersion> protocols(GivenOptions given) {
    if (given.values("protocols").isEmpty()) {
      return List.of(); // as they are; the usual ones where there was no TLS
    }
    List<ProtocolVersion> versions = new ArrayList<>();
    for (String text : given.values("protocols")) {
      for (String word : text.split(",", -1)) {
        versions.add(
            ProtocolVersion.ofPlatformName(word)
                .filter(one -> one != ProtocolVersion.SSL_3_0)
                .orElseThrow(
                    () ->
                        Usage.wrong(
                            "There is no protocol version '" + Output.shown(word) + "'.",
                            "Say --protocols TLSv1.2 TLSv1.3.")));
      }
    }
    return versions.stream().distinct().sorted().toList();
  }
}
