// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.issue.Lifetime;
import io.symbolon.x509.HostName;
import java.net.InetSocketAddress;
import java.net.URI;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * How an authority answers.
 *
 * @param listen where it listens
 * @param host the name by which clients reach it, which its own certificate is for
 * @param lasts how long its certificates are valid
 * @param allowed the hosts that may be ordered: names, {@code *.domain} for all hosts below one;
 *     everything where it is empty
 * @param knownKeys the thumbprints of the account keys that may order; everybody may where there
 *     are none
 * @param externalKeys the keys that an account must be bound to one of, by their names
 * @param terms the terms of service, where there are any
 * @param lookup how hosts are found whose control is proven
 * @param limits how much may be asked for
 * @param files where the revocation list and its certificate are served over plain HTTP, with their
 *     addresses in new certificates
 */
@SuppressWarnings("ArrayRecordComponent") // keys are looked up and never compared
public record AnswerPlan(
    InetSocketAddress listen,
    HostName host,
    Lifetime lasts,
    List<String> allowed,
    Set<String> knownKeys,
    Map<String, byte[]> externalKeys,
    Optional<URI> terms,
    Lookup lookup,
    RequestLimits limits,
    Optional<InetSocketAddress> files) {
  /** How long certificates are valid where nothing else is said. */
  public static final Lifetime LASTS = Lifetime.days(90);

  /** Copies the lists. */
  public AnswerPlan {
    allowed = List.copyOf(allowed);
    knownKeys = Set.copyOf(knownKeys);
    externalKeys = Map.copyOf(externalKeys);
  }

  /**
   * {@return the plan of an authority that lets everybody order what its constraints permit}
   *
   * @param listen where it listens
   * @param host the name by which clients reach it
   */
  public static AnswerPlan of(InetSocketAddress listen, HostName host) {
    return new AnswerPlan(
        listen,
        host,
        LASTS,
        List.of(),
        Set.of(),
        Map.of(),
        Optional.empty(),
        Lookup.usual(),
        RequestLimits.USUAL,
        Optional.empty());
  }

  /**
   * {@return the same with other hosts that may be ordered}
   *
   * @param newAllowed the hosts that may be ordered
   */
  public AnswerPlan withAllowed(List<String> newAllowed) {
    return new AnswerPlan(
        listen, host, lasts, newAllowed, knownKeys, externalKeys, terms, lookup, limits, files);
  }

  /**
   * {@return the same with other keys to be bound to}
   *
   * @param newExternalKeys the keys that an account must be bound to one of
   */
  public AnswerPlan withExternalKeys(Map<String, byte[]> newExternalKeys) {
    return new AnswerPlan(
        listen, host, lasts, allowed, knownKeys, newExternalKeys, terms, lookup, limits, files);
  }

  /**
   * {@return the same with other terms}
   *
   * @param newTerms the terms of service
   */
  public AnswerPlan withTerms(URI newTerms) {
    return new AnswerPlan(
        listen,
        host,
        lasts,
        allowed,
        knownKeys,
        externalKeys,
        Optional.of(newTerms),
        lookup,
        limits,
        files);
  }

  /**
   * {@return the same with another lookup}
   *
   * @param newLookup how hosts are found
   */
  public AnswerPlan withLookup(Lookup newLookup) {
    return new AnswerPlan(
        listen, host, lasts, allowed, knownKeys, externalKeys, terms, newLookup, limits, files);
  }

  /**
   * {@return the same with other limits}
   *
   * @param newLimits how much may be asked for
   */
  public AnswerPlan withLimits(RequestLimits newLimits) {
    return new AnswerPlan(
        listen, host, lasts, allowed, knownKeys, externalKeys, terms, lookup, newLimits, files);
  }

  /**
   * {@return the same with other files}
   *
   * @param newFiles where the revocation list is served
   */
  public AnswerPlan withFiles(InetSocketAddress newFiles) {
    return new AnswerPlan(
        listen,
        host,
        lasts,
        allowed,
        knownKeys,
        externalKeys,
        terms,
        lookup,
        limits,
        Optional.of(newFiles));
  }

  /**
   * How hosts are found whose control is proven.
   *
   * @param addresses addresses of hosts that no DNS knows, by name
   * @param dns the name server that is asked; the system's where there is none
   * @param httpPort the port for a file over HTTP
   * @param tlsPort the port for a certificate over TLS
   */
  public record Lookup(
      Map<String, String> addresses, Optional<InetSocketAddress> dns, int httpPort, int tlsPort) {
    /**
     * Copies the addresses.
     *
     * @param dns the name server
     * @param httpPort the port for HTTP
     * @param tlsPort the port for TLS
     */
    public Lookup {
      addresses = Map.copyOf(addresses);
    }

    /** {@return what the standard says: the system's DNS, ports 80 and 443} */
    public static Lookup usual() {
      return new Lookup(Map.of(), Optional.empty(), 80, 443);
    }
  }

  /**
   * How much may be asked for in an hour.
   *
   * @param ordersOfAddress orders from one address
   * @param ordersOfAll orders of all accounts
   * @param accountsOfAddress new accounts from one address
   * @param accounts new accounts
   */
  public record RequestLimits(
      int ordersOfAccount,
      int ordersOfAddress,
      int ordersOfAll,
      int accountsOfAddress,
      int accounts) {
    /** What is usual. */
    public static final RequestLimits USUAL = new RequestLimits(300, 3_000, 20_000, 50, 1_000);
  }
}
