// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.order;

import io.symbolon.acme.proof.DnsRecord;
import io.symbolon.acme.proof.HttpFolder;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.proof.OwnProgram;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.proof.TlsListener;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.NetworkAddress;
import io.symbolon.cli.frame.Usage;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * How control of a host is proven, as {@code --proof} says it.
 *
 * @param ways the ways, the usual one where there is none
 * @param dnsKey the file with the key for updates of the DNS
 */
record ProofOptions(List<ProofWay> ways, Optional<Path> dnsKey) {
  static final String HELP =
      "How control of a host is proven: listen[=ADDRESS:PORT] (a file over HTTP, served here on port"
          + " 80; the default), folder=PATH (the file in a web server's"
          + " document folder), dns=SERVER[:PORT] (a record, with --dns-key FILE; wildcards need"
          + " it), tls[=ADDRESS:PORT] (a certificate, shown here on port 443), program=PATH or"
          + " dns-program=PATH (your own program: docs/automatic.md). May be given several times.";

  private static final Duration DNS_LIMIT = Duration.ofMinutes(5);
  private static final Duration PROGRAM_LIMIT = Duration.ofMinutes(5);
  private static final int HTTP = 80;
  private static final int HTTPS = 443;
  private static final int DNS = 53;

  static ProofOptions of(GivenOptions given) {
    ProofOptions options =
        new ProofOptions(
            given.values("proof").stream().map(ProofOptions::way).toList(),
            given.pathOf("dns-key"));
    if (options.dnsKey().isPresent()
        && options.ways().stream().noneMatch(one -> one.kind() == ProofWay.Kind.DNS)) {
      throw Usage.wrong(
          "--dns-key is given, and no name server.", "Name it as well: --proof dns=SERVER");
    }
    return options;
  }

  List<Proof> proofs(Clock clock) {
    List<ProofWay> all = ways.isEmpty() ? List.of(new ProofWay(ProofWay.Kind.LISTEN, "")) : ways;
    return all.stream().map(way -> proof(way, clock)).toList();
  }

  /** How each of them is told to people. */
  List<String> titles(Clock clock) {
    return proofs(clock).stream().map(Proof::title).toList();
  }

  private static ProofWay way(String text) {
    try {
      return ProofWay.parse(text);
    } catch (SymbolonException e) {
      throw wrong(text);
    }
  }

  private Proof proof(ProofWay way, Clock clock) {
    String value = way.value();
    return switch (way.kind()) {
      case LISTEN -> new HttpListener(NetworkAddress.of(value, HTTP));
      case TLS -> new TlsListener(NetworkAddress.of(value, HTTPS), clock, new SecureRandom());
      case FOLDER -> new HttpFolder(GivenOptions.path(value));
      case DNS ->
          new DnsRecord(NetworkAddress.of(value, DNS), dnsKey, DNS_LIMIT, ProofOptions::sleep);
      case PROGRAM -> new OwnProgram(GivenOptions.path(value), "http-01", PROGRAM_LIMIT);
      case DNS_PROGRAM -> new OwnProgram(GivenOptions.path(value), "dns-01", PROGRAM_LIMIT);
    };
  }

  private static void sleep(Duration time) {
    try {
      Thread.sleep(time.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static RuntimeException wrong(String text) {
    return Usage.wrong(
        "There is no proof '" + VisibleText.of(text) + "'.",
        "Say listen, folder=PATH, dns=SERVER, tls, program=PATH or dns-program=PATH.");
  }
}
