// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.acme.wire.ProblemJson;
import io.symbolon.acme.wire.Transport;
import io.symbolon.acme.wire.Transport.Answer;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.net.URI;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.regex.Pattern;
import javax.net.ssl.SSLContext;

/**
 * An authority somewhere else that answers RFC 8555. What it says is not believed further than the
 * standard lets it: every address is HTTPS, every answer is bounded and read strictly. Thread-safe.
 */
public final class RemoteAuthority {
  private static final Pattern NONCE = Pattern.compile("[A-Za-z0-9_-]{1,500}");
  private static final int NONCES = 50; // that are kept
  private static final int TRIES = 6; // with another nonce, or after a wait
  private static final String PROBLEM = "application/problem+json";

  private final Transport transport;
  private final Patience patience;
  private final Directory directory;
  private final URI address;
  private final ConcurrentLinkedDeque<String> nonces = new ConcurrentLinkedDeque<>();

  private RemoteAuthority(
      Transport transport, Patience patience, URI address, Directory directory) {
    this.transport = transport;
    this.patience = patience;
    this.address = address;
    this.directory = directory;
  }

  /**
   * {@return the authority, asked for what it offers}
   *
   * @param directory the address of its directory
   * @param tls whom to trust over HTTPS
   * @param patience how long to wait
   * @throws SymbolonException if nobody answers, or what answers is no such authority
   */
  public static RemoteAuthority at(URI directory, SSLContext tls, Patience patience) {
    Transport transport = new Transport(tls, patience.exchange());
    Answer answer = transport.get(directory);
    String statement =
        "The authority at " + VisibleText.of(directory.toString()) + " can't be ordered from.";
    if (!answer.isGood()) {
      throw failed(statement, answer, patience);
    }
    try {
      return new RemoteAuthority(
          transport, patience, directory, Directory.read(JsonText.read(answer.body())));
    } catch (JsonText.Malformed e) {
      throw notUnderstood(statement, "Its directory is not as RFC 8555 has it: " + e.what());
    }
  }

  /** {@return the address of its directory} */
  public URI address() {
    return address;
  }

  /** {@return what it offers} */
  public Directory directory() {
    return directory;
  }

  Patience patience() {
    return patience;
  }

  /** {@return the moment that counts as now} */
  public Instant now() {
    return patience.clock().instant();
  }

  /**
   * {@return the account of a key}
   *
   * @throws RefusedException if it has none
   */
  public RemoteAccount account(AccountKey key) {
    ObjectNode wish = JsonText.object().put("onlyReturnExisting", true);
    return account(key, wish, "The account was not found.");
  }

  /**
   * {@return a new account, or the one that the key has already}
   *
   * @param contacts addresses such as {@code mailto:buoys@lanternfish.example}
   * @param agreed whether its terms are agreed to
   * @throws RefusedException if the authority refuses it
   */
  public RemoteAccount register(AccountKey key, List<String> contacts, boolean agreed) {
    return registered(key, contacts, agreed, Optional.empty());
  }

  /**
   * {@return the same, bound to an account that the authority knows}
   *
   * @param external what binds it (RFC 8555, 7.3.4)
   */
  public RemoteAccount register(
      AccountKey key, List<String> contacts, boolean agreed, ExternalAccount external) {
    return registered(key, contacts, agreed, Optional.of(external));
  }

  private RemoteAccount registered(
      AccountKey key, List<String> contacts, boolean agreed, Optional<ExternalAccount> external) {
    ObjectNode wish = JsonText.object();
    if (agreed) {
      wish.put("termsOfServiceAgreed", true);
    }
    if (!contacts.isEmpty()) {
      ArrayNode all = wish.putArray("contact");
      contacts.forEach(all::add);
    }
    external.ifPresent(
        one ->
            wish.set(
                "externalAccountBinding",
                JsonText.parsed(key.boundTo(directory.newAccount(), one.keyId(), one.octets()))));
    return account(key, wish, "The account was not made.");
  }

  private RemoteAccount account(AccountKey key, ObjectNode wish, String statement) {
    Answer answer =
        send(key, Optional.empty(), directory.newAccount(), JsonText.write(wish), "", statement);
    return new RemoteAccount(this, key, location(answer, statement));
  }

  /**
   * Revokes a certificate with its own key; no account is needed for that.
   *
   * @param key the certificate's key
   * @param reason why
   * @throws RefusedException if the authority refuses it
   */
  public void revoke(Certificate certificate, AccountKey key, RevocationReason reason) {
    revoke(certificate, key, Optional.empty(), Optional.of(reason));
  }

  void revoke(
      Certificate certificate,
      AccountKey key,
      Optional<URI> account,
      Optional<RevocationReason> reason) {
    String statement = "The certificate was not revoked.";
    URI url =
        directory
            .revokeCert()
            .orElseThrow(() -> notUnderstood(statement, "The authority revokes nothing this way."));
    ObjectNode wish =
        JsonText.object()
            .put(
                "certificate",
                Base64.getUrlEncoder().withoutPadding().encodeToString(certificate.encoding()));
    reason.ifPresent(one -> wish.put("reason", one.code()));
    Answer unused = send(key, account, url, JsonText.write(wish), "", statement);
  }

  /**
   * {@return when the authority wants a certificate to be renewed (RFC 9773); nothing where it does
   * not say}
   */
  public Optional<RenewalWindow> renewal(Certificate certificate) {
    Optional<String> id = RenewalWindow.id(certificate);
    if (directory.renewalInfo().isEmpty() || id.isEmpty()) {
      return Optional.empty();
    }
    URI url = URI.create(directory.renewalInfo().get() + "/" + id.get());
    Answer answer = transport.get(url);
    if (!answer.isGood()) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          RenewalWindow.read(
              JsonText.read(answer.body()), patience.again(answer), patience.clock().instant()));
    } catch (JsonText.Malformed e) {
      throw notUnderstood(
          "When the certificate should be renewed is not known.",
          "The answer is not as RFC 9773 has it: " + e.what());
    }
  }

  /**
   * Sends a signed message, with another nonce where one is not taken, and again after a wait where
   * the authority asks for that.
   */
  Answer send(
      AccountKey key,
      Optional<URI> account,
      URI url,
      byte[] payload,
      String accepted,
      String statement) {
    Patience.Waits waits = patience.waits();
    for (int tries = 1; ; tries++) {
      String nonce = nonce(statement);
      Answer answer =
          transport.post(url, key.sign(url, Optional.of(nonce), account, payload), accepted);
      keepNonce(answer);
      if (answer.isGood()) {
        return answer;
      }
      Problem problem = problem(answer);
      if (tries < TRIES && problem.is(ProblemType.BAD_NONCE)) {
        continue;
      }
      boolean busy = problem.is(ProblemType.RATE_LIMITED) || answer.status() == 503;
      Optional<Instant> again = patience.again(answer);
      if (tries < TRIES && busy && again.isPresent() && waits.once(again)) {
        continue;
      }
      throw RefusedException.of(statement, problem, again);
    }
  }

  /** Asks with a signed message without content (RFC 8555, 6.3). */
  Answer ask(AccountKey key, URI account, URI url, String accepted, String statement) {
    return send(key, Optional.of(account), url, new byte[0], accepted, statement);
  }

  private String nonce(String statement) {
    String kept = nonces.pollFirst();
    if (kept != null) {
      return kept;
    }
    Answer answer = transport.head(directory.newNonce());
    return fresh(answer)
        .orElseThrow(() -> notUnderstood(statement, "The authority gave no usable nonce."));
  }

  private void keepNonce(Answer answer) {
    fresh(answer)
        .filter(one -> nonces.size() < NONCES && !nonces.contains(one))
        .ifPresent(nonces::addFirst);
  }

  private static Optional<String> fresh(Answer answer) {
    return answer.headers().firstValue("Replay-Nonce").filter(NONCE.asMatchPredicate());
  }

  static URI location(Answer answer, String statement) {
    try {
      return JsonText.address(
          answer.headers().firstValue("Location").orElse(""), "the header Location");
    } catch (JsonText.Malformed e) {
      throw notUnderstood(statement, e.what());
    }
  }

  private static Problem problem(Answer answer) {
    if (answer.type().equals(PROBLEM)) {
      try {
        return ProblemJson.read(JsonText.read(answer.body()), answer.status());
      } catch (JsonText.Malformed e) {
        // told below by its status alone
      }
    }
    return new Problem(
        Optional.empty(), "", "", answer.status(), Optional.empty(), Optional.empty(), List.of());
  }

  private static SymbolonException failed(String statement, Answer answer, Patience patience) {
    Optional<String> moved =
        answer.status() / 100 == 3 ? answer.headers().firstValue("Location") : Optional.empty();
    if (moved.isPresent()) {
      return new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          statement,
          "The address leads on to " + VisibleText.of(moved.get()) + ".",
          "Give that address, if you trust it.");
    }
    if (answer.status() == 404) {
      return notUnderstood(statement, "There is nothing at this address.");
    }
    return RefusedException.of(statement, problem(answer), patience.again(answer));
  }

  static SymbolonException notUnderstood(
      String statement, @org.jspecify.annotations.Nullable String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        statement,
        VisibleText.of(String.valueOf(seen)),
        "Check the address of the directory; whoever runs the authority tells it.");
  }
}
