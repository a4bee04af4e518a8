// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.NetworkAddress;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.file.Existing;
import io.symbolon.issue.Lifetime;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Where to look for what ends, and how to tell it.
 *
 * @param paths files and folders
 * @param servers running servers, as HOST:PORT
 * @param within what ends within this time is due
 * @param into the file for a page or for a monitoring agent
 * @param existing what to do about a file that is there
 * @param unlock the sources of passwords to try
 */
record DueJob(
    List<Path> paths,
    List<Server> servers,
    Lifetime within,
    Optional<Path> into,
    Existing existing,
    List<SecretSource> unlock) {
  private static final Lifetime USUAL = Lifetime.days(30);

  /** A running server. */
  record Server(String host, int port) {
    String address() {
      return host + ":" + port;
    }
  }

  static DueJob of(GivenOptions given) {
    List<Path> paths = new ArrayList<>();
    List<Server> servers = new ArrayList<>();
    for (String text : given.arguments()) {
      // What lies here under this name is meant; else what has the form of an address.
      boolean address = text.matches("[^/\\\\]+:[0-9]{1,5}") && !isThere(text);
      if (address) {
        int colon = text.lastIndexOf(':');
        String host = text.substring(0, colon);
        boolean bracketed = host.startsWith("[") && host.endsWith("]");
        servers.add(
            new Server(
                bracketed ? host.substring(1, host.length() - 1) : host,
                NetworkAddress.port(text.substring(colon + 1), text)));
      } else {
        paths.add(GivenOptions.path(text));
      }
    }
    Optional<Path> into = given.pathOf("into");
    into.ifPresent(
        file -> {
          String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
          if (!name.endsWith(".html") && !name.endsWith(".prom")) {
            throw Usage.wrong(
                "The name of --into does not tell what is wanted.",
                "End it in .html for a page, or in .prom for a monitoring agent.");
          }
        });
    return new DueJob(
        paths,
        servers,
        given.value("within").map(Lifetime::parse).orElse(USUAL),
        into,
        given.existing(),
        given.unlock());
  }

  private static boolean isThere(String text) {
    return Files.exists(GivenOptions.path(text));
  }
}
