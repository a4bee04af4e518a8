// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.proof.DnsRecord;
import io.symbolon.acme.proof.HttpFolder;
import io.symbolon.acme.proof.HttpListener;
import io.symbolon.acme.proof.OwnProgram;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.proof.TlsListener;
import io.symbolon.remedy.Input;
import io.symbolon.task.WrongJob;
import io.symbolon.task.renewal.ProofWay;
import io.symbolon.task.words.NetworkAddress;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * How control of hosts is proven.
 *
 * @param ways the ways, the usual one where there is none
 * @param dnsKey the file with the key for updates of the DNS
 */
public record Proofs(List<ProofWay> ways, Optional<Path> dnsKey) {
  /** A file over HTTP, served on port 80. */
  public static final Proofs USUAL = new Proofs(List.of(), Optional.empty());

  private static final Duration DNS_LIMIT = Duration.ofMinutes(5);
  private static final Duration PROGRAM_LIMIT = Duration.ofMinutes(5);
  private static final int HTTP = 80;
  private static final int HTTPS = 443;
  private static final int DNS = 53;

  /** {@return these ways} */
  public static Proofs of(ProofWay... ways) {
    return new Proofs(List.of(ways), Optional.empty());
  }

  /**
   * Checks that a key for the DNS has a name server.
   *
   * @throws WrongJob if it has none
   */
  public Proofs {
    ways = List.copyOf(ways);
    if (dnsKey.isPresent() && ways.stream().noneMatch(one -> one.kind() == ProofWay.Kind.DNS)) {
      throw new WrongJob(
          Input.DNS_KEY.mention() + " is given, and no name server.",
          "Name it as well: " + Input.PROOF.mention("dns=SERVER"));
    }
  }

  /** {@return the proofs themselves} */
  public List<Proof> proofs(Clock clock) {
    List<ProofWay> all = ways.isEmpty() ? List.of(new ProofWay(ProofWay.Kind.LISTEN, "")) : ways;
    return all.stream().map(way -> proof(way, clock)).toList();
  }

  /** {@return how each of them is told to people} */
  public List<String> titles(Clock clock) {
    return proofs(clock).stream().map(Proof::title).toList();
  }

  private Proof proof(ProofWay way, Clock clock) {
    String value = way.value();
    return switch (way.kind()) {
      case LISTEN -> new HttpListener(NetworkAddress.of(value, HTTP));
      case TLS -> new TlsListener(NetworkAddress.of(value, HTTPS), clock, new SecureRandom());
      case FOLDER -> new HttpFolder(Path.of(value));
      case DNS -> new DnsRecord(NetworkAddress.of(value, DNS), dnsKey, DNS_LIMIT, Proofs::sleep);
      case PROGRAM -> new OwnProgram(Path.of(value), "http-01", PROGRAM_LIMIT);
      case DNS_PROGRAM -> new OwnProgram(Path.of(value), "dns-01", PROGRAM_LIMIT);
    };
  }

  private static void sleep(Duration time) {
    try {
      Thread.sleep(time.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
