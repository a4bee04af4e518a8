// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.probe.Probe;
import io.symbolon.probe.StartWith;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Which server is asked, and what for.
 *
 * @param probe the server and how it is asked, without the files below
 * @param trust what a client would trust
 * @param credential the files of what a client would show
 * @param expected the file with the certificate that was deployed
 * @param unlock the sources of passwords to try on the files
 * @param into where the certificates go that the server sends
 * @param replace whether an existing file is replaced
 * @param details whether every cipher suite is shown
 */
record ProbeJob(
    Probe probe,
    List<Path> trust,
    List<Path> credential,
    Optional<Path> expected,
    List<SecretSource> unlock,
    Optional<Path> into,
    boolean replace,
    boolean details) {
  static ProbeJob of(GivenOptions given) {
    Probe probe = probe(given.argument());
    Optional<String> host = given.value("host");
    if (host.isPresent()) {
      probe = probe.withHost(GivenOptions.oneHost(host.get()));
    }
    Optional<String> limit = given.value("limit");
    if (limit.isPresent()) {
      probe = probe.withLimit(limit(limit.get()));
    }
    Optional<String> start = given.value("start-with");
    if (start.isPresent()) {
      probe = probe.withStart(startWith(start.get()));
    }
    if (given.has("one-handshake")) {
      probe = probe.withHandshakeAlone();
    }
    return new ProbeJob(
        probe,
        given.paths("trust"),
        given.paths("credential"),
        given.pathOf("expect"),
        given.unlock(),
        given.pathOf("into"),
        given.has("replace"),
        given.has("details"));
  }

  /** The services that can be begun with. */
  static String services() {
    return Arrays.stream(StartWith.values()).map(StartWith::word).collect(Collectors.joining(", "));
  }

  private static StartWith startWith(String word) {
    return StartWith.ofWord(word)
        .orElseThrow(
            () ->
                Usage.wrong(
                    "'" + Output.shown(word) + "' is not a service that Symbolon can begin with.",
                    "Take one of: " + services() + "."));
  }

  private static Duration limit(String text) {
    if (!text.matches("[1-9][0-9]{0,3}")) {
      throw Usage.wrong(
          "--limit takes whole seconds from 1 to 9999.", "Say for example --limit 5.");
    }
    return Duration.ofSeconds(Integer.parseInt(text));
  }

  private static Probe probe(String address) {
    int colon = address.lastIndexOf(':');
    String port = address.substring(colon + 1);
    if (colon <= 0 || !port.matches("[0-9]{1,5}")) {
      throw Usage.wrong(
          "'" + Output.shown(address) + "' is not HOST:PORT.",
          "Write it like ingest.lanternfish.example:8443 or [2001:db8::17]:8443.");
    }
    return Probe.of(address.substring(0, colon), Integer.parseInt(port));
  }
}
