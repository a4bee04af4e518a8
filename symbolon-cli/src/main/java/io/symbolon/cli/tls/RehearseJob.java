// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.tls;

import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Optional;

/**
 * Which files are to meet in a handshake.
 *
 * @param server the server's files
 * @param serverTrust whose clients it trusts
 * @param client the client's files
 * @param clientTrust whom the client trusts
 * @param optionalClients whether the server asks for a client's certificate and requires none
 * @param host the name by which the client asks for the server
 * @param at the moment that is rehearsed; now where it is not said
 * @param everyPair whether each pair gets a handshake, however many there are
 * @param unlock the sources of passwords to try on the files
 */
record RehearseJob(
    List<Path> server,
    List<Path> serverTrust,
    List<Path> client,
    List<Path> clientTrust,
    boolean optionalClients,
    Optional<HostName> host,
    Optional<Instant> at,
    boolean everyPair,
    List<SecretSource> unlock) {
  static RehearseJob of(GivenOptions given) {
    if (given.values("server").isEmpty()) {
      throw Usage.wrong(
          "No server is given.",
          "Name its files with --server FILE..., and the client's with --client-trust FILE... and,"
              + " for mutual TLS, --client FILE...");
    }
    return new RehearseJob(
        given.paths("server"),
        given.paths("server-trust"),
        given.paths("client"),
        given.paths("client-trust"),
        optional(given),
        given.value("host").map(GivenOptions::oneHost),
        given.value("at").map(RehearseJob::moment),
        given.has("every-pair"),
        given.unlock());
  }

  private static boolean optional(GivenOptions given) {
    String word = given.value("clients").orElse("required");
    if (!word.equals("required") && !word.equals("optional")) {
      throw Usage.wrong(
          "A server asks for clients' certificates in no way '" + Output.shown(word) + "'.",
          "Say --clients required or --clients optional.");
    }
    if (word.equals("optional") && given.values("server-trust").isEmpty()) {
      throw Usage.wrong(
          "--clients optional is for a server that asks for certificates.",
          "Give the server's trust as well: --server-trust FILE...");
    }
    return word.equals("optional");
  }

  private static Instant moment(String text) {
    try {
      return text.contains("T")
          ? Instant.parse(text)
          : LocalDate.parse(text).atTime(12, 0).toInstant(ZoneOffset.UTC);
    } catch (DateTimeParseException e) {
      throw Usage.wrong(
          "'" + Output.shown(text) + "' is not a date.",
          "Write it like 2027-03-01 (noon in UTC) or 2027-03-01T12:00:00Z.");
    }
  }
}
