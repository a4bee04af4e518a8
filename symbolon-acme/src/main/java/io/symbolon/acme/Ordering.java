// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.acme.Authorization.Challenge;
import io.symbolon.acme.Authorization.ChallengeStatus;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.SignatureAlgorithm;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * An order from where it stands to its certificate: control is proven, the request sent, the
 * certificate fetched and held against what was ordered. Whoever has the address of an order can go
 * on with it later.
 */
public final class Ordering {
  /** Is told of every step. */
  public interface Progress {
    /** Tells nobody. */
    Progress SILENT = (step, about) -> {};

    /**
     * Is told.
     *
     * @param about the name it is about; empty where it is about the order
     */
    void reached(Step step, String about);
  }

  /** The steps. */
  public enum Step {
    /** Something is being shown, so that the authority can look at it. */
    SHOWING,
    /** The authority is looking. */
    WAITING_FOR_PROOF,
    /** Control of a name is proven, now or before. */
    PROVEN,
    /** The request was sent. */
    REQUESTED,
    /** The certificate is being made. */
    WAITING_FOR_CERTIFICATE,
    /** The certificate is here. */
    FETCHED,
    /** An order of before did not move, or its time is over: another one is begun. */
    GIVEN_UP
  }

  private static final String STATEMENT = "The certificate was not obtained.";

  private final RemoteAccount account;
  private final List<Proof> proofs;
  private final Progress progress;

  /**
   * Orders of an account.
   *
   * @param proofs how control can be proven, what is liked most first
   * @param progress is told of the steps
   */
  public Ordering(RemoteAccount account, List<Proof> proofs, Progress progress) {
    this.account = account;
    this.proofs = List.copyOf(proofs);
    this.progress = progress;
  }

  /**
   * Goes on with an order to its end.
   *
   * @param placed the order
   * @param request the request for its certificate: the same each time that one order is gone on
   *     with
   * @return the certificate with its chain
   * @throws SymbolonException if it fails, or what came is not what was ordered
   */
  public List<Certificate> obtain(Order placed, CertificateRequest request) {
    return obtained(placed, request, Optional.empty());
  }

  /**
   * The same with a chain that leads to a root.
   *
   * @param root the name of the root at the end of the chain
   * @return the certificate with its chain
   */
  public List<Certificate> obtain(Order placed, CertificateRequest request, String root) {
    return obtained(placed, request, Optional.of(root));
  }

  private List<Certificate> obtained(
      Order placed, CertificateRequest request, Optional<String> root) {
    Order order = placed;
    if (order.status() == Order.Status.PENDING) {
      prove(order);
      order = await(order, Order.Status.PENDING);
    }
    if (order.status() == Order.Status.READY) {
      order = account.finalizing(order, request);
      progress.reached(Step.REQUESTED, "");
    }
    if (order.status() == Order.Status.PROCESSING || order.status() == Order.Status.READY) {
      progress.reached(Step.WAITING_FOR_CERTIFICATE, "");
      order = await(order, Order.Status.PROCESSING);
    }
    if (order.status() != Order.Status.VALID || order.certificate().isEmpty()) {
      throw account.failure(order, STATEMENT);
    }
    List<Certificate> chain = fetch(order, request, root);
    progress.reached(Step.FETCHED, "");
    return chain;
  }

  /** Asks until an order has left a status. */
  private Order await(Order given, Order.Status status) {
    Patience.Waits waits = account.authority().patience().waits();
    Order order = account.order(given.url());
    while (order.status() == status) {
      if (!waits.once(order.again())) {
        throw new SymbolonException(
            Reason.NO_ANSWER,
            STATEMENT,
            "The authority is still at work on the order"
                + order
                    .again()
                    .map(moment -> ", and asks to be asked again at " + moment)
                    .orElse("")
                + ".",
            "Give the same command later: it goes on where it stopped.");
      }
      order = account.order(given.url());
    }
    return order;
  }

  private record Running(Authorization authorization, Challenge challenge, Proof.Shown shown) {}

  private void prove(Order order) {
    List<Running> running = new ArrayList<>();
    RuntimeException failure = null;
    try {
      for (java.net.URI one : order.authorizations()) {
        Authorization authorization = account.authorization(one);
        check(order, authorization);
        switch (authorization.status()) {
          case VALID -> progress.reached(Step.PROVEN, authorization.fullName());
          case PENDING -> running.add(show(authorization));
          case INVALID, DEACTIVATED, EXPIRED, REVOKED -> throw account.failure(order, STATEMENT);
        }
      }
      for (Running one : running) {
        if (one.challenge().status() == ChallengeStatus.PENDING) {
          account.ready(one.challenge());
        }
        progress.reached(Step.WAITING_FOR_PROOF, one.authorization().fullName());
      }
      for (Running one : running) {
        await(one);
        progress.reached(Step.PROVEN, one.authorization().fullName());
      }
    } catch (RuntimeException e) {
      failure = e;
    }
    for (Running one : running) {
      try {
        one.shown().close();
      } catch (RuntimeException e) {
        if (failure == null) {
          failure = e;
        } else {
          failure.addSuppressed(e);
        }
      }
    }
    if (failure != null) {
      throw failure;
    }
  }

  /** An authority must not have anything proven that was not ordered. */
  private static void check(Order order, Authorization authorization) {
    Identifier whole = new Identifier(authorization.name().type(), authorization.fullName());
    if (!order.names().contains(whole)) {
      throw RemoteAuthority.notUnderstood(
          STATEMENT,
          "The authority wants control of "
              + authorization.fullName()
              + " to be proven, which was not ordered.");
    }
  }

  private Running show(Authorization authorization) {
    for (Proof proof : proofs) {
      if (proof.suits(authorization.name(), authorization.isWildcard())) {
        for (Challenge challenge : authorization.challenges()) {
          if (challenge.type().equals(proof.type())) {
            progress.reached(Step.SHOWING, authorization.fullName());
            String token = challenge.token();
            Proof.Task task =
                new Proof.Task(authorization.name(), token, account.key().authorizationOf(token));
            return new Running(authorization, challenge, proof.show(task));
          }
        }
      }
    }
    String offered =
        authorization.challenges().stream()
            .map(one -> VisibleText.of(one.type()))
            .collect(Collectors.joining(", "));
    throw new SymbolonException(
        Reason.UNSUPPORTED,
        "Control of " + VisibleText.of(authorization.fullName()) + " can't be proven this way.",
        "The authority takes "
            + (offered.isEmpty() ? "nothing that is known here" : offered)
            + "; given was "
            + proofs.stream().map(Proof::title).collect(Collectors.joining("; "))
            + ".",
        authorization.isWildcard()
            ? "A wildcard is proven by a DNS record: " + Input.PROOF.mention("dns=SERVER")
            : "Choose another way: " + Input.PROOF.mention() + ".");
  }

  private void await(Running running) {
    Patience.Waits waits = account.authority().patience().waits();
    Authorization now = account.authorization(running.authorization().url());
    while (now.status() == Authorization.Status.PENDING) {
      if (!waits.once(now.again())) {
        throw new SymbolonException(
            Reason.NO_ANSWER,
            STATEMENT,
            "The authority is still looking at the proof for "
                + VisibleText.of(now.fullName())
                + ".",
            "Give the same command later: it goes on where it stopped.");
      }
      now = account.authorization(running.authorization().url());
    }
    if (now.status() != Authorization.Status.VALID) {
      String name = now.fullName();
      throw RefusedException.of(
          "The authority did not accept the proof for " + VisibleText.of(name) + ".",
          now.error()
              .orElseThrow(
                  () ->
                      RemoteAuthority.notUnderstood(
                          "The authority did not accept the proof for "
                              + VisibleText.of(name)
                              + ".",
                          "The authority does not say why.")),
          Optional.empty());
    }
  }

  private List<Certificate> fetch(Order order, CertificateRequest request, Optional<String> root) {
    List<List<Certificate>> chains =
        account.chains(order.certificate().orElseThrow(), root.isPresent());
    chains.forEach(chain -> check(chain, order, request));
    if (root.isEmpty()) {
      return chains.get(0);
    }
    return chains.stream()
        .filter(chain -> endsAt(chain, root.get()))
        .findFirst()
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.NOT_FOUND,
                    "The authority does not offer the chain that was asked for.",
                    "The authority's chains end at "
                        + chains.stream()
                            .map(chain -> chain.get(chain.size() - 1).issuer().shortText())
                            .collect(Collectors.joining(", "))
                        + ".",
                    "Choose one of these, or leave the choice out."));
  }

  private static boolean endsAt(List<Certificate> chain, String root) {
    return chain.stream().anyMatch(one -> one.issuer().shortText().equals(root));
  }

  /** What comes must be for our key, for the names that were ordered, and signed all the way up. */
  private static void check(List<Certificate> chain, Order order, CertificateRequest request) {
    Certificate certificate = chain.get(0);
    if (!certificate.publicKey().equals(request.publicKey())) {
      throw wrong("The certificate that came is for another key.");
    }
    Set<String> ordered = new HashSet<>();
    order.names().forEach(one -> ordered.add(one.value()));
    Set<String> certified =
        certificate.alternativeNames().stream()
            .map(GeneralName::value)
            .collect(Collectors.toCollection(TreeSet::new));
    if (!certified.equals(ordered)) {
      throw wrong(
          "The certificate that came is for "
              + VisibleText.of(String.join(", ", certified))
              + ", ordered was "
              + VisibleText.of(String.join(", ", new TreeSet<>(ordered)))
              + ".");
    }
    for (int i = 0; i + 1 < chain.size(); i++) {
      if (chain.get(i).verify(chain.get(i + 1)) == SignatureAlgorithm.Validity.INVALID) {
        throw wrong("The chain that came does not hold: one certificate has not signed another.");
      }
    }
  }

  private static SymbolonException wrong(String seen) {
    return new SymbolonException(
        Reason.DOES_NOT_FIT,
        "The certificate was not taken.",
        seen,
        "Nothing was written. Tell whoever runs the authority.");
  }
}
