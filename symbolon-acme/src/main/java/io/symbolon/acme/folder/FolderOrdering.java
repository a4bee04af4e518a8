// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.folder;

import io.symbolon.acme.ObtainedCheck;
import io.symbolon.acme.Order;
import io.symbolon.acme.Ordering;
import io.symbolon.acme.RefusedException;
import io.symbolon.acme.RemoteAccount;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Naming;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Orders whose every step is in the account's folder before the next one is taken: whoever is
 * killed goes on where it stopped, with the same key and the same order.
 */
public final class FolderOrdering {
  /** How long an order may stay with the authority before another one is begun in its place. */
  public static final Duration MOVES = Duration.ofHours(1);

  private final AccountFolder folder;
  private final RemoteAccount account;
  private final Secret seal;
  private final List<Proof> proofs;
  private final Ordering.Progress progress;
  private final SecureRandom random;

  /**
   * Orders of an account.
   *
   * @param folder its folder, held by the caller
   * @param seal the password of the folder
   * @param proofs how control can be proven
   * @param progress is told of the steps
   * @param random where keys come from
   */
  public FolderOrdering(
      AccountFolder folder,
      RemoteAccount account,
      Secret seal,
      List<Proof> proofs,
      Ordering.Progress progress,
      SecureRandom random) {
    this.folder = folder;
    this.account = account;
    this.seal = seal;
    this.proofs = List.copyOf(proofs);
    this.progress = progress;
    this.random = random;
  }

  /**
   * A key with its certificate and chain.
   *
   * @param pair the key
   * @param chain the certificate and those above it
   */
  public record Obtained(KeyPair pair, List<Certificate> chain) {
    /**
     * Copies the chain.
     *
     * @param pair the key
     */
    public Obtained {
      chain = List.copyOf(chain);
    }
  }

  private record Begun(Standing standing, Order order, KeyPair pair) {}

  /**
   * {@return a new key with its certificate} The key stays in the folder, sealed, until {@link
   * #finished}.
   *
   * @param standing how it stood
   * @param hosts the hosts that it is for
   * @param kind the kind of the key
   * @param root the name of the root at the end of the chain, where one is preferred
   */
  public Obtained obtain(
      Standing standing, List<HostName> hosts, KeyKind kind, Optional<String> root) {
    try {
      Begun begun = begun(standing, hosts).orElseGet(() -> begin(standing, hosts, kind));
      Ordering ordering = new Ordering(account, proofs, progress);
      CertificateRequest request = request(begun.pair(), hosts);
      List<Certificate> chain =
          root.map(name -> ordering.obtain(begun.order(), request, name))
              .orElseGet(() -> ordering.obtain(begun.order(), request));
      judge(standing, chain);
      return new Obtained(begun.pair(), chain);
    } catch (SymbolonException e) {
      if (e.reason() != Reason.NO_ANSWER) {
        abandon(standing); // the same again would end in the same way
      }
      throw e;
    }
  }

  /** Before anything is replaced; what is not taken is kept for a person. */
  private void judge(Standing standing, List<Certificate> chain) {
    try {
      ObtainedCheck.check(chain, folder.trust(), now());
    } catch (SymbolonException e) {
      Path kept = folder.keepRefused(standing, chain);
      throw new SymbolonException(
          e.reason(),
          e.statement(Naming.MARKS),
          e.seen(Naming.MARKS) + " It is kept in " + VisibleText.of(kept.toString()) + ".",
          e.remedy(),
          e);
    }
  }

  /** What was never obtained leaves nothing; what was, is as it was before. */
  private void abandon(Standing standing) {
    if (standing.isUnfinished()) {
      boolean unused = folder.forget(standing.name());
    } else {
      folder.save(standing.withoutOrder());
      folder.dropKey(standing);
    }
  }

  private Instant now() {
    return account.authority().now();
  }

  /** What was begun before and can be gone on with. */
  private Optional<Begun> begun(Standing standing, List<HostName> hosts) {
    Optional<KeyPair> pair = folder.waitingKey(standing, List.of(seal));
    if (pair.isEmpty()) {
      return Optional.empty();
    }
    if (standing.order().isEmpty()) {
      // Killed before the address of the order was written down, or before there was one.
      Optional<Order> placed = account.openOrder(hosts);
      placed.ifPresent(one -> folder.save(standing.ordered(one.url(), now())));
      return placed.map(one -> new Begun(standing.ordered(one.url(), now()), one, pair.get()));
    }
    try {
      Order order = account.order(standing.order().get());
      Set<Identifier> wanted = new HashSet<>();
      hosts.forEach(host -> wanted.add(Identifier.of(host)));
      boolean same = new HashSet<>(order.names()).equals(wanted);
      if (isStuck(standing, order)) {
        progress.reached(Ordering.Step.GIVEN_UP, "");
        return Optional.empty();
      }
      return same && order.status() != Order.Status.INVALID
          ? Optional.of(new Begun(standing, order, pair.get()))
          : Optional.empty();
    } catch (RefusedException e) {
      return Optional.empty(); // the authority has forgotten it
    }
  }

  /** An order that does not move, or whose time is over, is not gone on with. */
  private boolean isStuck(Standing standing, Order order) {
    boolean done = order.status() == Order.Status.VALID;
    boolean over = order.expires().filter(end -> end.isBefore(now())).isPresent();
    boolean idle =
        order.status() == Order.Status.PROCESSING
            && standing.since().map(one -> one.plus(MOVES)).filter(now()::isAfter).isPresent();
    return !done && (over || idle);
  }

  private Begun begin(Standing standing, List<HostName> hosts, KeyKind kind) {
    KeyPair pair = kind.generate(random);
    Standing fresh = standing.withoutOrder();
    folder.save(fresh);
    folder.keepKey(fresh, pair, seal, random);
    Order order =
        standing
            .certificate()
            .map(replaced -> account.order(hosts, replaced))
            .orElseGet(() -> account.order(hosts));
    Standing ordered = fresh.ordered(order.url(), now());
    folder.save(ordered);
    return new Begun(ordered, order, pair);
  }

  private static CertificateRequest request(KeyPair pair, List<HostName> hosts) {
    List<GeneralName> names =
        hosts.stream().map(host -> GeneralName.ofHost(host.toString())).distinct().toList();
    return new RequestDraft(DistinguishedName.parse(""), names, Use.SERVER)
        .sign(pair.getPrivate(), SubjectPublicKeyInfo.of(pair.getPublic()));
  }

  /**
   * Writes down that key and certificate are where they belong.
   *
   * @param standing how it stood
   * @param obtained what was obtained
   */
  public void finished(Standing standing, Obtained obtained) {
    folder.save(standing.obtained(obtained.chain().get(0)));
    folder.dropKey(standing);
  }
}
