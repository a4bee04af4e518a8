// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.LoopbackServer;
import io.symbolon.handshake.CredentialKeyManager;
import io.symbolon.handshake.TlsContexts;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.PrivateKey;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.UnaryOperator;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.X509ExtendedKeyManager;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.mockito.Mockito;

/** What a probe says of the client: in the handshake, right after it, and when it is asked. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ClientSideProbeTest {
  private static final Credential EC = Lanternfish.server(HOST, KeyKind.EC_P256);
  private static final Credential BUOY = client(ISSUING);
  private static final Credential STRANGER =
      client(Authority.root(name("Stranger"), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM));

  private static Credential client(Authority by) {
    Credential made = by.issue(name("buoy"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    return by == ISSUING ? Credential.of(made.key(), List.of(made.certificate(), issuing())) : made;
  }

  private static LoopbackServer server(SSLContext context, boolean asks, String... says)
      throws IOException {
    return LoopbackServer.plain(
        connection -> {
          try (SSLSocket socket =
              (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
            socket.setUseClientMode(false);
            socket.setWantClientAuth(asks);
            socket.startHandshake();
            for (int i = 0; i < says.length; i++) {
              if (i > 0 || says[0].startsWith("HTTP")) {
                assertTrue(socket.getInputStream().read(new byte[4_096]) > 0);
              }
              socket.getOutputStream().write(says[i].getBytes(StandardCharsets.ISO_8859_1));
            }
            socket.getInputStream().readAllBytes();
          }
        });
  }

  private static LoopbackServer server(SSLContext context, String version) throws IOException {
    return LoopbackServer.plain(
        connection -> {
          try (SSLSocket socket =
              (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
            socket.setUseClientMode(false);
            socket.setEnabledProtocols(new String[] {version});
            socket.startHandshake();
            socket.getInputStream().read();
          }
        });
  }

  private static SSLContext wanting(UnaryOperator<TlsSetup> more) {
    return more.apply(TlsSetup.server(EC).wantingClients(Trust.in(root()))).context();
  }

  private static ProbeReport probe(LoopbackServer server, UnaryOperator<Probe> more) {
    return more.apply(
            Probe.of("127.0.0.1", server.port())
                .withHost(HostName.parse(HOST))
                .withTrust(List.of(root()))
                .withLimit(Duration.ofMinutes(1))
                .withHandshakeAlone())
        .run();
  }

  private static List<String> ids(ProbeReport report) {
    return report.findings().stream()
        .map(io.symbolon.finding.Finding::id)
        .filter(id -> !id.equals("root-sent"))
        .toList();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "client-certificate-accepted | 220 relay| 250 relay",
        "client-certificate-refused | 421 4.7.1 no certificate|",
        "client-certificate-refused | 220 relay| 550 go away",
        "client-certificate-accepted | 220 (files)| 530 Please login with USER and PASS.",
        "client-certificate-accepted | * OK ready| + ",
        "client-certificate-refused | * OK ready| s18 NO no valid SSL certificate",
        "client-certificate-accepted,client-not-served | * OK ready| s18 NO unknown",
        "client-certificate-refused | * BYE not you|",
        "client-certificate-refused | -ERR|",
        "client-certificate-accepted | something else|",
      })
  void aServiceThatSpeaksFirstIsRecognisedAndAsked(String expected, String first, String second)
      throws IOException {
    String greeting = first.strip() + "\r\n";
    String[] says =
        second == null ? new String[] {greeting} : new String[] {greeting, second.strip() + "\r\n"};
    if (second != null && second.strip().equals("+")) {
      says = new String[] {greeting, "+ \r\n", "s18 BAD\r\n"};
    }
    try (LoopbackServer server = server(wanting(setup -> setup), true, says)) {
      ProbeReport report = probe(server, probe -> probe.withCredential(BUOY));
      assertEquals(expected, String.join(",", ids(report).stream().sorted().toList()));
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "client-certificate-accepted | 200 OK | hello",
        "client-certificate-accepted | 404 Not Found | client certificate",
        "client-certificate-refused | 400 Bad Request | <title>400 The SSL certificate error</title>",
        "client-certificate-refused | 403 Forbidden | A client certificate is required for this.",
        "client-certificate-accepted,client-not-served | 403 Forbidden | not for you",
        "client-certificate-accepted,client-not-served | 400 Bad Request | Invalid SNI",
      })
  void aWebServersPageTellsWhetherTheCertificateIsTaken(String expected, String status, String body)
      throws IOException {
    SSLContext context = wanting(setup -> setup);
    try (LoopbackServer server =
        LoopbackServer.plain(
            connection -> {
              try (SSLSocket socket =
                  (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
                socket.setUseClientMode(false);
                socket.setWantClientAuth(true);
                var parameters = socket.getSSLParameters();
                parameters.setApplicationProtocols(new String[] {"http/1.1"});
                socket.setSSLParameters(parameters);
                assertTrue(socket.getInputStream().read(new byte[4_096]) > 0);
                socket
                    .getOutputStream()
                    .write(
                        ("HTTP/1.1 " + status + "\r\n\r\n" + body)
                            .getBytes(StandardCharsets.US_ASCII));
              }
            })) {
      ProbeReport report = probe(server, probe -> probe.withCredential(BUOY));
      assertEquals(expected, String.join(",", ids(report).stream().sorted().toList()));
    }
  }

  @Test
  void aServiceThatAnswersAnOctetNowAndThenRefusesNobody() throws IOException {
    SSLContext context = wanting(setup -> setup);
    try (LoopbackServer server =
        LoopbackServer.plain(
            connection -> {
              try (SSLSocket socket =
                  (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
                socket.setUseClientMode(false);
                socket.setWantClientAuth(true);
                while (!socket.isClosed()) {
                  socket.getOutputStream().write('2');
                  Thread.sleep(100);
                }
              }
            })) {
      ProbeReport report =
          probe(server, probe -> probe.withCredential(BUOY).withLimit(Duration.ofSeconds(4)));
      assertEquals(List.of("client-certificate-accepted"), ids(report));
      assertTrue(report.findings().get(0).statement().contains("did not finish its answer"));
    }
  }

  @Test
  void aCredentialThatWasNotShownIsNotCalledAccepted() throws IOException {
    try (LoopbackServer server = server(wanting(setup -> setup), true)) {
      ProbeReport other = probe(server, probe -> probe.withCredential(STRANGER));
      assertEquals(List.of("client-certificate-not-shown"), ids(other));
      String said = other.findings().get(0).statement();
      assertTrue(said.contains("Stranger") && said.contains("Lanternfish Root"), said);
    }
    try (LoopbackServer server = server(TlsSetup.server(EC).context(), false)) {
      ProbeReport unasked = probe(server, probe -> probe.withCredential(BUOY));
      assertEquals(List.of("client-certificate-not-shown"), ids(unasked));
      assertEquals(List.of(), ids(probe(server, probe -> probe)));
    }
  }

  /** The alert is there, though the client may still be writing when the server hangs up. */
  @ParameterizedTest
  @CsvSource({"TLSv1.2", "TLSv1.3"})
  void theAlertOfAServerThatHangsUpIsRead(String version) throws IOException {
    SSLContext context =
        TlsSetup.server(EC)
            .requiringClients(Trust.in(STRANGER.chain().get(0)))
            .withProtocols(version)
            .context();
    for (int i = 0; i < 20; i++) {
      try (LoopbackServer server =
          LoopbackServer.plain(
              connection -> {
                connection.setSoLinger(true, 0); // a reset, as by a server that is killed
                try (SSLSocket socket =
                    (SSLSocket) context.getSocketFactory().createSocket(connection, null, true)) {
                  socket.setUseClientMode(false);
                  socket.setNeedClientAuth(true);
                  socket.setEnabledProtocols(new String[] {version});
                  socket.startHandshake();
                } finally {
                  Thread.sleep(20);
                }
              })) {
        ProbeReport report = probe(server, probe -> probe);
        assertEquals(List.of("client-certificate-required"), ids(report));
        String said = report.findings().get(0).statement();
        assertTrue(said.contains("alert") || said.contains("closed"), said);
        assertTrue(!said.contains("Broken pipe"), said);
      }
    }
  }

  /** A key of the right kind that is another one: no platform checks that when it starts. */
  @ParameterizedTest
  @CsvSource({"TLSv1.2", "TLSv1.3"})
  void aServerWhoseKeyDoesNotFitIsNamedAsThat(String version) throws IOException {
    PrivateKey wrong = Lanternfish.server(HOST, KeyKind.EC_P256).key().toPrivateKey();
    X509ExtendedKeyManager keys = Mockito.spy(new CredentialKeyManager(EC));
    Mockito.doReturn(wrong).when(keys).getPrivateKey(Mockito.anyString());
    SSLContext context = TlsContexts.of(Optional.of(keys), Optional.empty());
    try (LoopbackServer server = server(context, version)) {
      assertTrue(ids(probe(server, probe -> probe)).contains("key-does-not-fit"));
    }
  }

  @ParameterizedTest
  @CsvSource({"TLSv1.2", "TLSv1.3"})
  void bothCertificatesOfAServerAreLookedAt(String version) throws IOException {
    Credential rsa = Lanternfish.server(HOST, KeyKind.RSA_2048);
    SSLContext context = TlsSetup.server(EC, rsa).withProtocols(version).context();
    try (LoopbackServer server = server(context, version)) {
      Probe whole =
          Probe.of("127.0.0.1", server.port())
              .withHost(HostName.parse(HOST))
              .withTrust(List.of(root()))
              .withLimit(Duration.ofMinutes(1));
      for (Credential expected : List.of(EC, rsa)) {
        ProbeReport report = whole.withExpected(expected.certificate()).run();
        assertTrue(ids(report).contains("as-expected"), report.findings().toString());
        assertTrue(ids(report).contains("second-certificate"), report.findings().toString());
        assertEquals(
            List.of(EC.certificate(), rsa.certificate()),
            List.of(report.sent().get(0), report.otherSent().get(0)));
      }
      Credential renewed = Lanternfish.server(HOST, KeyKind.RSA_2048);
      ProbeReport stale = whole.withExpected(renewed.certificate()).run();
      String said =
          stale.findings().stream()
              .filter(finding -> finding.id().equals("not-as-expected"))
              .findFirst()
              .orElseThrow()
              .statement();
      assertTrue(said.contains(rsa.certificate().serialHex()), "the one of the same kind: " + said);
    }
  }
}
