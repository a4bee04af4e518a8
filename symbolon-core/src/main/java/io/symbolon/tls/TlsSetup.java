// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Side;
import io.symbolon.handshake.CredentialKeyManager;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.handshake.TrustManagers;
import io.symbolon.party.Trust;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.X509ExtendedTrustManager;

/**
 * How one side does TLS: what it shows, whom it trusts, and on what terms. Every socket and engine
 * of its {@link #context()} follows it without further settings. The settings are immutable: every
 * {@code with} method gives a new setup. Thread-safe.
 */
public final class TlsSetup {
  /** What a server does about its clients' certificates. */
  public enum ClientCertificate {
    /** It does not ask: one-way TLS. */
    NOT_ASKED,
    /** It asks, and goes on where a client shows none; one that is shown must be trusted. */
    WANTED,
    /** It refuses clients without one: mutual TLS. */
    REQUIRED
  }

  private final Side side;
  private final List<Credential> credentials;
  private final Optional<Trust> trust;
  private final ClientCertificate clientCertificate;
  private final List<String> protocols;
  private final List<String> cipherSuites;
  private final Optional<PeerRule> rule;
  private final boolean hostChecked;

  private TlsSetup(
      Side side,
      List<Credential> credentials,
      Optional<Trust> trust,
      ClientCertificate clientCertificate,
      List<String> protocols,
      List<String> cipherSuites,
      Optional<PeerRule> rule,
      boolean hostChecked) {
    this.side = side;
    this.credentials = List.copyOf(credentials);
    this.trust = trust;
    this.clientCertificate = clientCertificate;
    this.protocols = List.copyOf(protocols);
    this.cipherSuites = List.copyOf(cipherSuites);
    this.rule = rule;
    this.hostChecked = hostChecked;
  }

  /**
   * {@return a server that shows one of these credentials: the one whose certificate covers the
   * host that a client asks for (SNI) and whose kind of key the client can use; where none covers
   * it, or none is asked for, the first that can be used} It asks for no client's certificate.
   *
   * @throws SymbolonException if there are no credentials
   */
  public static TlsSetup server(Collection<Credential> credentials) {
    if (credentials.isEmpty()) {
      throw wrong("A server needs something to show.", "No credential is given.", "Give one.");
    }
    return new TlsSetup(
        Side.SERVER,
        List.copyOf(credentials),
        Optional.empty(),
        ClientCertificate.NOT_ASKED,
        List.of(),
        List.of(),
        Optional.empty(),
        false);
  }

  /** {@return a server that shows these credentials; the first where nothing says which} */
  public static TlsSetup server(Credential... credentials) {
    return server(List.of(credentials));
  }

  /**
   * {@return a client with this trust, that shows nothing and checks the name of its server}
   *
   * @param trust whom to trust
   */
  public static TlsSetup client(Trust trust) {
    return new TlsSetup(
        Side.CLIENT,
        List.of(),
        Optional.of(trust),
        ClientCertificate.NOT_ASKED,
        List.of(),
        List.of(),
        Optional.empty(),
        true);
  }

  /**
   * With what a client shows where it is asked: the first whose kind of key and issuer the server
   * names. For a server, what it shows instead.
   *
   * @param shown the certificates that are shown, end-entity first
   * @return a changed copy
   * @throws SymbolonException if a server would have nothing to show
   */
  public TlsSetup withCredentials(Credential... shown) {
    if (side == Side.SERVER && shown.length == 0) {
      throw wrong("A server needs something to show.", "No credential is given.", "Give one.");
    }
    return with(List.of(shown), trust, clientCertificate);
  }

  /**
   * {@return a server that requires its clients' certificates, of authorities in this trust: mutual
   * TLS}
   *
   * @param clientTrust whose clients are trusted
   */
  public TlsSetup requiringClients(Trust clientTrust) {
    return clients(clientTrust, ClientCertificate.REQUIRED);
  }

  /**
   * {@return a server that asks for its clients' certificates and goes on without}
   *
   * @param clientTrust whose clients are trusted
   */
  public TlsSetup wantingClients(Trust clientTrust) {
    return clients(clientTrust, ClientCertificate.WANTED);
  }

  private TlsSetup clients(Trust clientTrust, ClientCertificate asked) {
    if (side == Side.CLIENT) {
      throw wrong(
          "Only a server asks for clients' certificates.", "This is a client.", "Leave it out.");
    }
    return with(credentials, Optional.of(clientTrust), asked);
  }

  private TlsSetup with(List<Credential> shown, Optional<Trust> whom, ClientCertificate asked) {
    return new TlsSetup(side, shown, whom, asked, protocols, cipherSuites, rule, hostChecked);
  }

  /**
   * With these protocol versions alone, by the platform's names, such as {@code TLSv1.3}.
   *
   * @param versions the protocol versions
   * @return a changed copy
   * @throws SymbolonException if the platform has none of that name, or none is given
   */
  public TlsSetup withProtocols(String... versions) {
    SSLParameters all = TlsContexts.platform().getSupportedSSLParameters();
    List<String> chosen = chosen("protocol version", versions, all.getProtocols());
    return new TlsSetup(
        side, credentials, trust, clientCertificate, chosen, cipherSuites, rule, hostChecked);
  }

  /**
   * With these cipher suites alone, by their standard names, such as {@code
   * TLS_AES_256_GCM_SHA384}, in the order of preference.
   *
   * @param suites the cipher suites
   * @return a changed copy
   * @throws SymbolonException if the platform has none of that name, or none is given
   */
  public TlsSetup withCipherSuites(String... suites) {
    SSLParameters all = TlsContexts.platform().getSupportedSSLParameters();
    List<String> chosen = chosen("cipher suite", suites, all.getCipherSuites());
    return new TlsSetup(
        side, credentials, trust, clientCertificate, protocols, chosen, rule, hostChecked);
  }

  private static List<String> chosen(String what, String[] names, String[] known) {
    List<String> all = Arrays.asList(known);
    List<String> unknown = new ArrayList<>(List.of(names));
    unknown.removeAll(all);
    if (names.length == 0 || !unknown.isEmpty()) {
      throw wrong(
          "There is no such " + what + ".",
          names.length == 0
              ? "None is given."
              : "This Java does not know " + VisibleText.of(String.join(", ", unknown)) + ".",
          "It knows " + String.join(", ", all) + ".");
    }
    return List.of(names);
  }

  /**
   * With a rule for which of the trusted peers are accepted.
   *
   * @param peers which peers are accepted
   * @return a changed copy
   * @throws SymbolonException if this side asks no peer for a certificate
   */
  public TlsSetup accepting(PeerRule peers) {
    if (trust.isEmpty()) {
      throw wrong(
          "A rule for clients needs their certificates.",
          "This server asks for none.",
          "Say first whose clients are required or wanted.");
    }
    return new TlsSetup(
        side,
        credentials,
        trust,
        clientCertificate,
        protocols,
        cipherSuites,
        Optional.of(peers),
        hostChecked);
  }

  /**
   * {@return a client that takes its server's certificate for any host, as long as it is trusted}
   * It is for peers that are told apart in another way, such as by a {@link PeerRule}.
   */
  public TlsSetup withoutHostCheck() {
    return new TlsSetup(
        side, credentials, trust, clientCertificate, protocols, cipherSuites, rule, false);
  }

  /** {@return which side it is} */
  public Side side() {
    return side;
  }

  /** {@return what it shows, in the order of preference} */
  public List<Credential> credentials() {
    return credentials;
  }

  /** {@return whom it trusts; empty for a server that asks for no certificate} */
  public Optional<Trust> trust() {
    return trust;
  }

  /** {@return what a server does about its clients' certificates} */
  public ClientCertificate clientCertificate() {
    return clientCertificate;
  }

  /**
   * {@return a context of the platform whose sockets and engines follow this setup} Those of a
   * client need to be made with the name of the server, so that it can be checked; without it they
   * refuse.
   */
  public SSLContext context() {
    return SetupContext.of(() -> generation());
  }

  /** {@return the terms alone, for programs that set them by themselves: a new copy each time} */
  public SSLParameters parameters() {
    SSLParameters terms = TlsContexts.platform().getDefaultSSLParameters();
    apply(terms);
    return terms;
  }

  void apply(SSLParameters terms) {
    if (!protocols.isEmpty()) {
      terms.setProtocols(protocols.toArray(String[]::new));
    }
    if (!cipherSuites.isEmpty()) {
      terms.setCipherSuites(cipherSuites.toArray(String[]::new));
      terms.setUseCipherSuitesOrder(true);
    }
    if (clientCertificate == ClientCertificate.REQUIRED) {
      terms.setNeedClientAuth(true);
    } else if (clientCertificate == ClientCertificate.WANTED) {
      terms.setWantClientAuth(true);
    }
    if (hostChecked) {
      terms.setEndpointIdentificationAlgorithm("HTTPS"); // RFC 9525, for any protocol
    }
  }

  /** The platform's context of this setup, without its terms. */
  LoadedSetup generation() {
    Optional<X509ExtendedTrustManager> judge =
        trust.map(
            whom ->
                rule.<X509ExtendedTrustManager>map(r -> new RuledTrust(TrustManagers.of(whom), r))
                    .orElseGet(() -> TrustManagers.of(whom)));
    SSLContext platform =
        TlsContexts.of(
            credentials.isEmpty()
                ? Optional.empty()
                : Optional.of(new CredentialKeyManager(credentials)),
            judge);
    return new LoadedSetup(this, platform);
  }

  /** Whether everything but what is shown and trusted is the same. */
  boolean hasTermsOf(TlsSetup other) {
    return side == other.side
        && clientCertificate == other.clientCertificate
        && protocols.equals(other.protocols)
        && cipherSuites.equals(other.cipherSuites)
        && hostChecked == other.hostChecked
        && rule.map(PeerRule::toString).equals(other.rule.map(PeerRule::toString));
  }

  /** The same server with nobody asked for a certificate. */
  TlsSetup oneWay() {
    return new TlsSetup(
        side,
        credentials,
        Optional.empty(),
        ClientCertificate.NOT_ASKED,
        protocols,
        cipherSuites,
        Optional.empty(),
        hostChecked);
  }

  private static SymbolonException wrong(String statement, String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, statement, seen, remedy);
  }

  @Override
  public String toString() {
    return "TlsSetup(" + side + ", " + credentials + ", " + trust + ")";
  }
}
