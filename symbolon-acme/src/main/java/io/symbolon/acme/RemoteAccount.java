// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.wire.IdentifierJson;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.acme.wire.Transport.Answer;
import io.symbolon.failure.SymbolonException;
import io.symbolon.pem.PemBlock;
import io.symbolon.pem.PemReader;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationReason;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** An account at an authority: everything that is done with its key. Thread-safe. */
public final class RemoteAccount {
  private static final int CHAINS = 10; // that are looked at
  private static final int RECENT = 10; // orders that are looked at
  private static final int CHAIN = 20; // certificates in one of them
  private static final String PEM = "application/pem-certificate-chain";

  private final RemoteAuthority authority;
  private final AccountKey key;
  private final URI url;

  RemoteAccount(RemoteAuthority authority, AccountKey key, URI url) {
    this.authority = authority;
    this.key = key;
    this.url = url;
  }

  /** {@return its address, by which the authority knows it} */
  public URI url() {
    return url;
  }

  /** {@return the authority} */
  public RemoteAuthority authority() {
    return authority;
  }

  AccountKey key() {
    return key;
  }

  /**
   * Changes its contacts.
   *
   * @param contacts addresses such as {@code mailto:buoys@lanternfish.example}
   */
  public void changeContacts(List<String> contacts) {
    ObjectNode wish = JsonText.object();
    ArrayNode all = wish.putArray("contact");
    contacts.forEach(all::add);
    change(wish, "The contacts of the account were not changed.");
  }

  /** Agrees to the terms as they are now. */
  public void agree() {
    change(JsonText.object().put("termsOfServiceAgreed", true), "The terms were not agreed to.");
  }

  /** Gives the account up for good: nothing can be done with it any more. */
  public void deactivate() {
    change(JsonText.object().put("status", "deactivated"), "The account was not given up.");
  }

  /**
   * Gives an authorization up, so that the name must be proven again.
   *
   * @param authorization its address
   */
  public void deactivate(URI authorization) {
    Answer unused =
        send(
            authorization,
            JsonText.object().put("status", "deactivated"),
            "The authorization was not given up.");
  }

  private void change(ObjectNode wish, String statement) {
    Answer unused = send(url, wish, statement);
  }

  /**
   * Puts another key in the place of this one (RFC 8555, 7.3.5).
   *
   * @param fresh the new key
   * @return the account with it
   */
  public RemoteAccount changeKey(AccountKey fresh) {
    String statement = "The key of the account was not changed.";
    URI where =
        authority
            .directory()
            .keyChange()
            .orElseThrow(
                () ->
                    RemoteAuthority.notUnderstood(
                        statement, "The authority takes no other key for an account."));
    ObjectNode inside = JsonText.object().put("account", url.toString());
    inside.set("oldKey", JsonText.parsed(key.publicJson()));
    Answer unused =
        send(
            where,
            JsonText.parsed(
                fresh.sign(where, Optional.empty(), Optional.empty(), JsonText.write(inside))),
            statement);
    return new RemoteAccount(authority, fresh, url);
  }

  /**
   * Places an order.
   *
   * @param hosts the hosts and addresses that the certificate is for
   * @return the order
   * @throws RefusedException if the authority refuses it
   */
  public Order order(List<HostName> hosts) {
    return placed(hosts, Optional.empty());
  }

  /**
   * The same for a certificate that takes the place of another one (RFC 9773, 5).
   *
   * @param replaced the certificate that it replaces
   * @return the order
   */
  public Order order(List<HostName> hosts, Certificate replaced) {
    return placed(hosts, Optional.of(replaced));
  }

  private Order placed(List<HostName> hosts, Optional<Certificate> replaced) {
    String statement = "The order was not placed.";
    ObjectNode wish = JsonText.object();
    ArrayNode names = wish.putArray("identifiers");
    Set<Identifier> wanted = new LinkedHashSet<>();
    hosts.forEach(host -> wanted.add(Identifier.of(host)));
    wanted.forEach(one -> names.add(IdentifierJson.of(one)));
    replaced
        .filter(one -> authority.directory().renewalInfo().isPresent())
        .flatMap(RenewalWindow::id)
        .ifPresent(id -> wish.put("replaces", id));
    Answer answer;
    try {
      answer = send(authority.directory().newOrder(), wish, statement);
    } catch (RefusedException e) {
      if (!e.type().equals(ProblemType.ALREADY_REPLACED.word())) {
        throw e;
      }
      wish.remove("replaces"); // it is a new order then, and no replacement (RFC 9773, 5)
      answer = send(authority.directory().newOrder(), wish, statement);
    }
    Order order = order(RemoteAuthority.location(answer, statement), answer, statement);
    if (!new HashSet<>(order.names()).equals(wanted)) {
      throw RemoteAuthority.notUnderstood(
          statement, "The authority made an order for other names than were asked for.");
    }
    return order;
  }

  /**
   * {@return an order as it is now}
   *
   * @param order its address
   */
  public Order order(URI order) {
    String statement = "The order was not found.";
    return order(order, ask(order, "", statement), statement);
  }

  /**
   * {@return an open order for exactly these hosts, where the authority lists the account's orders
   * (RFC 8555, 7.1.2.1)}: one that was placed just before a command ended
   */
  public Optional<Order> openOrder(List<HostName> hosts) {
    String statement = "The orders of the account were not listed.";
    Set<Identifier> wanted = new HashSet<>();
    hosts.forEach(host -> wanted.add(Identifier.of(host)));
    try {
      ObjectNode own = JsonText.read(ask(url, "", statement).body());
      if (!own.has("orders")) {
        return Optional.empty();
      }
      URI list = JsonText.address(own, "orders");
      List<URI> all =
          JsonText.addresses(
              JsonText.read(ask(list, "", statement).body()), "orders", Order.MOST_NAMES);
      for (URI one : all.subList(0, Math.min(RECENT, all.size()))) {
        Order order = order(one);
        boolean open =
            order.status() == Order.Status.PENDING || order.status() == Order.Status.READY;
        if (open && new HashSet<>(order.names()).equals(wanted)) {
          return Optional.of(order);
        }
      }
      return Optional.empty();
    } catch (JsonText.Malformed | RefusedException e) {
      return Optional.empty(); // it lists none, as many authorities do
    }
  }

  private Order order(URI order, Answer answer, String statement) {
    try {
      return Order.read(order, JsonText.read(answer.body()), authority.patience().again(answer));
    } catch (JsonText.Malformed e) {
      throw RemoteAuthority.notUnderstood(
          statement, "The order is not as RFC 8555 has it: " + e.what());
    }
  }

  /**
   * {@return an authorization as it is now}
   *
   * @param authorization its address
   */
  public Authorization authorization(URI authorization) {
    String statement = "What must be proven is not known.";
    Answer answer = ask(authorization, "", statement);
    try {
      return Authorization.read(
          authorization, JsonText.read(answer.body()), authority.patience().again(answer));
    } catch (JsonText.Malformed e) {
      throw RemoteAuthority.notUnderstood(
          statement, "The authorization is not as RFC 8555 has it: " + e.what());
    }
  }

  /** Tells that a challenge can be looked at. */
  public void ready(Authorization.Challenge challenge) {
    Answer unused =
        send(challenge.url(), JsonText.object(), "The authority does not look at what is shown.");
  }

  /**
   * Sends the request for the certificate of an order that is ready.
   *
   * @return the order as it is then
   */
  public Order finalizing(Order order, CertificateRequest request) {
    String statement = "The certificate was not asked for.";
    ObjectNode wish =
        JsonText.object()
            .put("csr", Base64.getUrlEncoder().withoutPadding().encodeToString(request.encoding()));
    return order(order.url(), send(order.finalizing(), wish, statement), statement);
  }

  /**
   * {@return the chains that an authority hands out for a certificate, the usual one first}
   *
   * @param certificate the address of the certificate
   * @param alternates whether others than the usual one are fetched as well
   */
  public List<List<Certificate>> chains(URI certificate, boolean alternates) {
    String statement = "The certificate was not fetched.";
    Answer first = ask(certificate, PEM, statement);
    List<List<Certificate>> all = new ArrayList<>(List.of(chain(first, statement)));
    if (alternates) {
      Set<URI> seen = new HashSet<>(Set.of(certificate));
      for (URI other : first.links("alternate", CHAINS)) {
        if (seen.add(other)) {
          all.add(chain(ask(other, PEM, statement), statement));
        }
      }
    }
    return all;
  }

  private static List<Certificate> chain(Answer answer, String statement) {
    List<Certificate> chain = new ArrayList<>();
    for (PemBlock block : PemReader.read(answer.body()).blocks()) {
      if (!block.label().equals("CERTIFICATE") || chain.size() == CHAIN) {
        throw RemoteAuthority.notUnderstood(
            statement, "The answer holds something other than a chain of certificates.");
      }
      chain.add(Certificate.read(block.content()));
    }
    if (chain.isEmpty()) {
      throw RemoteAuthority.notUnderstood(statement, "What came is not a certificate in PEM.");
    }
    return chain;
  }

  /**
   * Revokes a certificate that this account ordered.
   *
   * @throws RefusedException if the authority refuses it
   */
  public void revoke(Certificate certificate) {
    authority.revoke(certificate, key, Optional.of(url), Optional.empty());
  }

  /** The same for a reason. */
  public void revoke(Certificate certificate, RevocationReason reason) {
    authority.revoke(certificate, key, Optional.of(url), Optional.of(reason));
  }

  private Answer ask(URI where, String accepted, String statement) {
    return authority.ask(key, url, where, accepted, statement);
  }

  private Answer send(URI where, ObjectNode wish, String statement) {
    return authority.send(key, Optional.of(url), where, JsonText.write(wish), "", statement);
  }

  /** The failure of an order, as its error or its authorizations tell it. */
  SymbolonException failure(Order order, String statement) {
    Optional<Problem> problem = order.error();
    for (URI one : order.authorizations()) {
      if (problem.isEmpty()) {
        Authorization authorization = authorization(one);
        problem = authorization.error().map(error -> error.about(authorization.fullName()));
      }
    }
    Optional<Instant> never = Optional.empty();
    return RefusedException.of(
        statement,
        problem.orElse(Problem.of(ProblemType.SERVER_INTERNAL, "the order failed without a word")),
        never);
  }
}
