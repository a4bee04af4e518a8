// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.explain.FailureText;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Side;
import io.symbolon.handshake.MemoryHandshake;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.nio.charset.StandardCharsets;
import java.security.KeyManagementException;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SNIServerName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Contexts made from setups, over real sockets, in both roles. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class TlsSetupTest {
  private static final Trust OURS = Trust.in(root());

  /** What a handshake agreed on, as the client saw it. */
  private record Agreed(String protocol, String suite, Certificate shown) {}

  /**
   * Serves one connection and makes it. The client asks for the host, whatever address it is
   * reached at.
   *
   * @throws IOException what the client, or if it was content the server, failed with
   */
  private static Agreed shake(
      TlsSetup server, TlsSetup client, String host, Consumer<SSLSocket> more) throws IOException {
    try (SSLServerSocket listening =
        (SSLServerSocket)
            server
                .context()
                .getServerSocketFactory()
                .createServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      CompletableFuture<Optional<IOException>> serving =
          CompletableFuture.supplyAsync(
              () -> {
                try (SSLSocket socket = (SSLSocket) listening.accept()) {
                  socket.startHandshake();
                  socket.getOutputStream().write(17);
                  return Optional.empty();
                } catch (IOException e) {
                  return Optional.of(e);
                }
              });
      try (java.net.Socket below =
              new java.net.Socket(InetAddress.getLoopbackAddress(), listening.getLocalPort());
          SSLSocket socket =
              (SSLSocket) client.context().getSocketFactory().createSocket(below, host, 1, true)) {
        more.accept(socket);
        socket.startHandshake();
        assertEquals(17, socket.getInputStream().read());
        return new Agreed(
            socket.getSession().getProtocol(),
            socket.getSession().getCipherSuite(),
            Certificate.of(socket.getSession().getPeerCertificates()[0]));
      } catch (IOException e) {
        Optional<IOException> other = serving.join();
        if (other.isPresent()) {
          e.addSuppressed(other.get());
        }
        throw e;
      }
    }
  }

  private static Agreed shake(TlsSetup server, TlsSetup client) throws IOException {
    return shake(server, client, HOST, socket -> {});
  }

  private static String failure(TlsSetup server, TlsSetup client) {
    IOException e = assertThrows(IOException.class, () -> shake(server, client));
    StringBuilder all = new StringBuilder(String.valueOf(e.getMessage()));
    for (Throwable other : e.getSuppressed()) {
      all.append('\n').append(other.getMessage());
    }
    return all.toString();
  }

  private static Credential buoy(String subject, GeneralName... names) {
    return ISSUING.issue(
        DistinguishedName.parse(subject),
        KeyKind.EC_P256,
        java.util.Arrays.stream(names).map(n -> HostName.parse(n.value())).toList(),
        Use.CLIENT,
        NOW,
        YEAR);
  }

  @Test
  void aClientChecksTheHostUnlessItIsToldNotTo() throws IOException {
    TlsSetup client = TlsSetup.client(OURS);
    assertEquals(INGEST.certificate(), shake(TlsSetup.server(INGEST), client).shown());
    assertTrue(failure(TlsSetup.server(CATALOGUE), client).contains("No subject alternative DNS"));
    assertEquals(
        CATALOGUE.certificate(),
        shake(TlsSetup.server(CATALOGUE), client.withoutHostCheck()).shown());
    assertTrue(failure(TlsSetup.server(INGEST), TlsSetup.client(Trust.system())).contains("PKIX"));
    assertEquals(
        INGEST.certificate(),
        shake(TlsSetup.server(INGEST), TlsSetup.client(OURS.orSystem())).shown());
  }

  @Test
  void whoIsNotCalledByNameIsNotTakenForGood() {
    TlsSetup client = TlsSetup.client(OURS);
    var outcome =
        MemoryHandshake.run(
            TlsSetup.server(INGEST).context().createSSLEngine(),
            client.context().createSSLEngine());
    assertEquals(Optional.of(Side.CLIENT), outcome.first());
  }

  @ParameterizedTest
  @ValueSource(strings = {"TLSv1.3", "TLSv1.2"})
  void clientsAreRequiredWantedOrNotAsked(String protocol) throws IOException {
    TlsSetup server = TlsSetup.server(INGEST).withProtocols(protocol);
    TlsSetup nobody = TlsSetup.client(OURS);
    TlsSetup buoy = nobody.withCredentials(buoy("CN=buoy-017"));
    assertEquals(protocol, shake(server, buoy).protocol());
    assertEquals(protocol, shake(server.requiringClients(OURS), buoy).protocol());
    assertEquals(protocol, shake(server.wantingClients(OURS), nobody).protocol());
    assertTrue(failure(server.requiringClients(OURS), nobody).contains("Empty client certificate"));
    assertThrows(SymbolonException.class, () -> nobody.requiringClients(OURS));
  }

  @Test
  void protocolsAndSuitesAreKeptToAndUnknownOnesAreNamed() throws IOException {
    TlsSetup server = TlsSetup.server(INGEST);
    TlsSetup client = TlsSetup.client(OURS);
    assertEquals(
        "TLS_ECDHE_RSA_WITH_AES_128_GCM_SHA256",
        shake(
                server
                    .withProtocols("TLSv1.2")
                    .withCipherSuites("TLS_ECDHE_RSA_WITH_AES_128_GCM_SHA256"),
                client)
            .suite());
    assertTrue(
        failure(server.withProtocols("TLSv1.2"), client.withProtocols("TLSv1.3"))
            .contains("protocol"));
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> server.withCipherSuites("TLS_OF_TOMORROW"));
    assertTrue(e.seen().contains("TLS_OF_TOMORROW"));
    assertThrows(SymbolonException.class, () -> server.withProtocols());
    assertThrows(SymbolonException.class, () -> server.withCredentials());
    assertThrows(SymbolonException.class, () -> TlsSetup.server());
    assertArray(List.of("TLSv1.3"), server.withProtocols("TLSv1.3").parameters().getProtocols());
  }

  private static void assertArray(List<String> expected, String[] actual) {
    assertEquals(expected, List.of(actual));
  }

  @Test
  void theCredentialIsChosenByTheHostThatIsAskedForAndTheKeyThatCanBeUsed() throws IOException {
    Credential ec = io.symbolon.fixture.Lanternfish.server(HOST, KeyKind.EC_P256);
    Credential wild =
        ISSUING.issue(
            name("w"),
            KeyKind.EC_P256,
            List.of(HostName.parse("*.buoys.lanternfish.example")),
            Use.SERVER,
            NOW,
            YEAR);
    TlsSetup server = TlsSetup.server(CATALOGUE, INGEST, wild, ec);
    TlsSetup client = TlsSetup.client(OURS).withoutHostCheck();
    assertEquals(ec.certificate(), shake(server, client).shown());
    assertEquals(
        wild.certificate(),
        shake(server, client, "buoy-017.buoys.lanternfish.example", s -> {}).shown());
    assertEquals(
        CATALOGUE.certificate(),
        shake(server, client, "nobody.lanternfish.example", s -> {}).shown(),
        "the first where nobody covers the host");
    // A client that can use RSA alone is shown the one with an RSA key.
    TlsSetup rsaOnly =
        client.withProtocols("TLSv1.2").withCipherSuites("TLS_ECDHE_RSA_WITH_AES_128_GCM_SHA256");
    assertEquals(INGEST.certificate(), shake(server, rsaOnly).shown());
    assertEquals(
        CATALOGUE.certificate(),
        shake(
                server,
                client,
                "127.0.0.1",
                socket -> {
                  SSLParameters none = socket.getSSLParameters();
                  none.setServerNames(List.of());
                  socket.setSSLParameters(none);
                })
            .shown());
    assertTrue(
        shake(
                server,
                client,
                "x",
                socket -> {
                  SSLParameters odd = socket.getSSLParameters();
                  odd.setServerNames(List.of(new SNIHostName("INGEST.Lanternfish.Example")));
                  socket.setSSLParameters(odd);
                })
            .shown()
            .equals(ec.certificate()));
  }

  @Test
  void aClientThatAsksForNonsenseIsRefusedByThePlatformOrServedAsIfItAskedForNothing()
      throws IOException {
    TlsSetup server = TlsSetup.server(CATALOGUE, INGEST);
    TlsSetup client = TlsSetup.client(OURS).withoutHostCheck();
    for (String nonsense :
        List.of("a b", "x".repeat(200), "*.lanternfish.example", "a/../b", "-a-.example", "a..b")) {
      try {
        Agreed agreed =
            shake(
                server,
                client,
                "x",
                socket -> {
                  SSLParameters odd = socket.getSSLParameters();
                  odd.setServerNames(
                      List.of(
                          new SNIServerName(0, nonsense.getBytes(StandardCharsets.US_ASCII)) {}));
                  socket.setSSLParameters(odd);
                });
        assertEquals(CATALOGUE.certificate(), agreed.shown(), nonsense);
      } catch (SSLException e) { // the platform refuses some of them itself
        assertTrue(e.toString().contains("illegal_parameter"), nonsense + ": " + e);
      }
    }
  }

  @Test
  void aClientShowsTheCredentialOfAnAuthorityThatTheServerNames() throws IOException {
    Authority stranger = Authority.root(name("Stranger"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Credential foreign =
        stranger.issue(name("f"), KeyKind.RSA_2048, List.of(), Use.CLIENT, NOW, YEAR);
    Credential own = buoy("CN=buoy-017,OU=buoys");
    TlsSetup client = TlsSetup.client(OURS).withCredentials(foreign, own);
    TlsSetup server = TlsSetup.server(INGEST).requiringClients(OURS);
    assertEquals(INGEST.certificate(), shake(server, client).shown());
    assertEquals(
        INGEST.certificate(),
        shake(server.requiringClients(Trust.in(stranger.certificate())), client).shown());
  }

  @Test
  void aRuleAcceptsSomeOfTheTrustedAndTheRefusalNamesIt() throws IOException {
    Credential buoy =
        buoy(
            "CN=buoy-017,OU=Buoys ,O=Lanternfish Observatory",
            GeneralName.ofHost("buoy-017.buoys.lanternfish.example"));
    Credential ship = buoy("CN=ship-2,OU=ships");
    TlsSetup mutual = TlsSetup.server(INGEST).requiringClients(OURS);
    TlsSetup client = TlsSetup.client(OURS);
    String print = buoy.certificate().sha256().toUpperCase(java.util.Locale.ROOT);
    for (PeerRule rule :
        List.of(
            PeerRule.subject("OU=buoys"),
            PeerRule.subject("O=Lanternfish Observatory,OU=buoys"),
            PeerRule.host("*.buoys.lanternfish.example"),
            PeerRule.host("BUOY-017.buoys.lanternfish.example"),
            PeerRule.alternativeName(GeneralName.ofHost("buoy-017.buoys.lanternfish.example")),
            PeerRule.fingerprint(print.replaceAll("(..)(?=.)", "$1:")),
            PeerRule.anyOf(List.of(PeerRule.subject("OU=rafts"), PeerRule.fingerprint(print))))) {
      TlsSetup server = mutual.accepting(rule);
      assertEquals(
          INGEST.certificate(), shake(server, client.withCredentials(buoy)).shown(), "" + rule);
      String refused = failure(server, client.withCredentials(ship));
      assertTrue(refused.contains("refused by the rule: " + rule), refused);
      assertEquals(
          List.of("peer-rule-refused"),
          FailureText.explain(refused, "").stream()
              .map(one -> one.finding().id())
              .filter(id -> !id.equals("peer-does-not-trust"))
              .toList());
    }
    PeerRule both =
        PeerRule.allOf(List.of(PeerRule.subject("OU=buoys"), PeerRule.subject("CN=buoy-018")));
    assertTrue(both.refusal(buoy.certificate()).orElseThrow().contains("OU=buoys and subject"));
    // Who may call himself anything is not taken for one of them.
    Credential wild = buoy("CN=w", GeneralName.ofHost("*.lanternfish.example"));
    assertFalse(PeerRule.host(HOST).refusal(wild.certificate()).isEmpty());
    assertFalse(PeerRule.host("*.lanternfish.example").refusal(buoy.certificate()).isEmpty());
    // A rule makes nobody trusted, on the client's side either.
    Authority stranger = Authority.root(name("Stranger"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Credential fake =
        stranger.issue(
            DistinguishedName.parse("OU=buoys"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    assertThrows(
        IOException.class,
        () -> shake(mutual.accepting(PeerRule.subject("OU=buoys")), client.withCredentials(fake)));
    TlsSetup pinned = client.accepting(PeerRule.fingerprint(CATALOGUE.certificate().sha256()));
    assertTrue(failure(TlsSetup.server(INGEST), pinned).contains("refused by the rule"));
    for (String wrong : List.of("", "abc", "zz".repeat(32))) {
      assertThrows(SymbolonException.class, () -> PeerRule.fingerprint(wrong));
    }
    assertThrows(SymbolonException.class, () -> PeerRule.subject(""));
    assertThrows(SymbolonException.class, () -> PeerRule.anyOf(List.of()));
    assertThrows(
        SymbolonException.class,
        () -> TlsSetup.server(INGEST).accepting(PeerRule.subject("OU=buoys")));
  }

  /** What a program that embeds the library is told of the exception it caught. */
  private static String explained(TlsSetup server, TlsSetup client) {
    IOException e = assertThrows(IOException.class, () -> shake(server, client));
    return FailureText.explain(new IllegalStateException("no readings", e), "ingest").id();
  }

  @Test
  void theExceptionsThatAProgramCatchesAreExplained() {
    TlsSetup server = TlsSetup.server(INGEST);
    TlsSetup client = TlsSetup.client(OURS);
    Credential ec = io.symbolon.fixture.Lanternfish.server(HOST, KeyKind.EC_P256);
    assertEquals("host-not-covered", explained(TlsSetup.server(CATALOGUE), client));
    assertEquals("root-not-trusted", explained(server, TlsSetup.client(Trust.system())));
    assertEquals(
        "no-common-protocol",
        explained(server.withProtocols("TLSv1.3"), client.withProtocols("TLSv1.2")));
    // A server with an EC key alone, and a client that can use RSA alone.
    assertEquals(
        "handshake-failed",
        explained(
            TlsSetup.server(ec),
            client
                .withProtocols("TLSv1.2")
                .withCipherSuites("TLS_ECDHE_RSA_WITH_AES_128_GCM_SHA256")));
    // The alert of an older Java does not say whether it dislikes a certificate or got none.
    String required = explained(server.requiringClients(OURS), client);
    assertEquals(
        Runtime.version().feature() < 25 ? "peer-does-not-trust" : "no-client-certificate",
        required);
    Finding raw = FailureText.explain(new IOException("the sea is\u202E rough"), "ingest");
    assertEquals("not-explained", raw.id());
    assertTrue(raw.statement().contains("the sea is\\u{202E} rough"), raw.statement());
    IOException loop = new IOException("a");
    loop.initCause(new IOException("b", loop));
    assertEquals("not-explained", FailureText.explain(loop, "").id());
  }

  @Test
  void whatAProgramSetsItselfGoesOverTheSetup() throws IOException {
    SSLContext context = TlsSetup.server(INGEST).requiringClients(OURS).context();
    assertTrue(context.getDefaultSSLParameters().getNeedClientAuth());
    assertTrue(context.createSSLEngine().getNeedClientAuth());
    try (SSLServerSocket socket =
        (SSLServerSocket) context.getServerSocketFactory().createServerSocket()) {
      assertTrue(socket.getNeedClientAuth());
      socket.setWantClientAuth(true);
      socket.setEnabledProtocols(new String[] {"TLSv1.2"});
      assertFalse(socket.getNeedClientAuth());
      assertTrue(socket.getWantClientAuth());
      assertArray(List.of("TLSv1.2"), socket.getEnabledProtocols());
      assertFalse(socket.getUseClientMode());
    }
    assertThrows(KeyManagementException.class, () -> context.init(null, null, null));
    assertThrows(
        SSLException.class,
        () -> shake(TlsSetup.server(INGEST), TlsSetup.client(OURS), "x", s -> {}));
  }
}
