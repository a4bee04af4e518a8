// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ProbeTest {
  private static final HostName INGEST_HOST = HostName.parse(HOST);

  private static List<String> ids(ProbeReport report) {
    return report.findings().stream().map(Finding::id).toList();
  }

  /** Serves every connection in turn until closed. */
  private static final class Server implements AutoCloseable {
    private final ServerSocket socket;

    Server(ServerSocket socket, Consumer<Socket> service) {
      this.socket = socket;
      Thread thread =
          new Thread(
              () -> {
                while (!socket.isClosed()) {
                  try (Socket connection = socket.accept()) {
                    service.accept(connection);
                  } catch (IOException e) {
                    // The next connection, or the end.
                  }
                }
              });
      thread.setDaemon(true);
      thread.start();
    }

    static Server plain(Consumer<Socket> service) throws IOException {
      return new Server(new ServerSocket(0, 5, InetAddress.getLoopbackAddress()), service);
    }

    static Server tls(Credential credential, Consumer<SSLServerSocket> settings)
        throws IOException {
      SSLServerSocket socket =
          (SSLServerSocket)
              TlsSetup.server(credential)
                  .wantingClients(Trust.in(root()))
                  .context()
                  .getServerSocketFactory()
                  .createServerSocket(0, 5, InetAddress.getLoopbackAddress());
      socket.setWantClientAuth(false);
      settings.accept(socket);
      return new Server(
          socket,
          connection -> {
            try {
              ((SSLSocket) connection).startHandshake();
              assertTrue(connection.getInputStream().read() < 1000);
            } catch (IOException e) {
              return; // the probe hangs up, or the handshake failed
            }
          });
    }

    Probe probe() {
      return Probe.of("127.0.0.1", socket.getLocalPort())
          .withHost(INGEST_HOST)
          .withTrust(List.of(root()))
          .withLimit(Duration.ofSeconds(30))
          .withHandshakeAlone();
    }

    @Override
    public void close() throws IOException {
      socket.close();
    }
  }

  private static Credential withChain(Credential credential, Certificate... chain) {
    return Credential.of(credential.key(), List.of(chain));
  }

  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#tlsKinds")
  void aGoodServerOfEveryKindIsAccepted(KeyKind kind) throws IOException {
    Credential credential =
        ISSUING.issue(name(HOST), kind, List.of(INGEST_HOST), Use.SERVER, NOW, YEAR);
    try (Server server =
        Server.tls(withChain(credential, credential.certificate(), issuing()), s -> {})) {
      ProbeReport report = server.probe().run();
      assertEquals("TLSv1.3", report.protocol().orElseThrow());
      assertEquals(List.of(credential.certificate(), issuing()), report.sent());
      assertEquals(ProbeReport.Check.PASSED, report.trust());
      assertEquals(ProbeReport.Check.PASSED, report.hostCovered());
      assertEquals(List.of(), ids(report));
    }
  }

  @Test
  void aMissingIntermediateIsTheServersFaultAndNamed() throws IOException {
    try (Server server = Server.tls(withChain(INGEST, INGEST.certificate()), s -> {})) {
      ProbeReport report = server.probe().run();
      assertEquals(ProbeReport.Check.FAILED, report.trust());
      assertEquals(List.of("issuer-not-sent"), ids(report));
      assertTrue(report.findings().get(0).statement().contains("Lanternfish Issuing A"));
      assertEquals(
          ProbeReport.Check.PASSED,
          server.probe().withTrust(List.of(issuing(), root())).run().trust());
    }
  }

  @Test
  void aStrangersRootAnotherHostAndAnExpiredCertificateAreEachNamed() throws IOException {
    Authority stranger = Authority.root(name("Stranger Root"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    try (Server server = Server.tls(INGEST, s -> {})) {
      assertEquals(
          List.of("root-not-trusted", "root-sent"),
          ids(server.probe().withTrust(List.of(stranger.certificate())).run()));
      ProbeReport other = server.probe().withHost(HostName.parse("other.example")).run();
      assertEquals(ProbeReport.Check.FAILED, other.hostCovered());
      assertEquals("host-not-covered", other.findings().get(0).id());
    }
    Credential expired =
        ISSUING.issue(
            name(HOST),
            KeyKind.EC_P256,
            List.of(INGEST_HOST),
            Use.SERVER,
            NOW,
            Duration.ofSeconds(1));
    try (Server server =
        Server.tls(withChain(expired, expired.certificate(), issuing()), s -> {})) {
      Thread.sleep(1_100);
      ProbeReport report = server.probe().run();
      assertEquals(List.of("expired"), ids(report));
      assertEquals(ProbeReport.Check.FAILED, report.trust());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Test
  void aClientsCertificateOnAServerIsNamed() throws IOException {
    Credential client =
        ISSUING.issue(name(HOST), KeyKind.EC_P256, List.of(INGEST_HOST), Use.CLIENT, NOW, YEAR);
    try (Server server = Server.tls(withChain(client, client.certificate(), issuing()), s -> {})) {
      assertEquals(List.of("not-for-servers"), ids(server.probe().run()));
    }
  }

  @Test
  void aStrangerAmongTheCertificatesSentIsNamed() throws IOException {
    try (Server server =
        Server.tls(withChain(INGEST, INGEST.certificate(), root(), issuing()), s -> {})) {
      assertEquals(List.of("chain-order"), ids(server.probe().run()));
    }
  }

  @Test
  void withoutTrustTheCheckIsReportedAsNotMade() throws IOException {
    try (Server server = Server.tls(INGEST, s -> {})) {
      ProbeReport report =
          Probe.of("127.0.0.1", server.socket.getLocalPort()).withHost(INGEST_HOST).run();
      assertEquals(ProbeReport.Check.NOT_MADE, report.trust());
      assertTrue(ids(report).contains("trust-not-checked"));
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"TLSv1.3", "TLSv1.2"})
  void aServerThatRequiresAClientsCertificateSaysSo(String protocol) throws IOException {
    try (Server server =
        Server.tls(
            INGEST,
            s -> {
              s.setNeedClientAuth(true);
              s.setEnabledProtocols(new String[] {protocol});
            })) {
      assertEquals("client-certificate-required", ids(server.probe().run()).get(0));
    }
    try (Server server =
        Server.tls(
            INGEST,
            s -> {
              s.setWantClientAuth(true);
              s.setEnabledProtocols(new String[] {protocol});
            })) {
      ProbeReport report = server.probe().run();
      assertTrue(report.clientCertificateAsked());
      assertTrue(ids(report).contains("client-certificate-asked"), ids(report).toString());
    }
  }

  @Test
  void whatIsNoTlsIsToldApart() throws IOException {
    try (Server http =
        Server.plain(
            socket -> {
              try {
                assertTrue(socket.getInputStream().read() >= 0);
                socket
                    .getOutputStream()
                    .write("HTTP/1.1 400 Bad Request\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
                socket.getOutputStream().flush();
                Thread.sleep(200);
              } catch (IOException | InterruptedException e) {
                return; // the probe hangs up
              }
            })) {
      assertEquals(List.of("no-tls"), ids(http.probe().run()));
    }
    try (Server closing = Server.plain(socket -> {})) {
      assertEquals(List.of("closed-during-handshake"), ids(closing.probe().run()));
    }
  }

  @Test
  void nobodyThereAndNobodyAnsweringAreTheSameReason() throws IOException {
    int free;
    try (ServerSocket socket = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
      free = socket.getLocalPort();
    }
    assertEquals(Reason.NO_ANSWER, failure(Probe.of("127.0.0.1", free)).reason());
    assertEquals(Reason.NO_ANSWER, failure(Probe.of("nowhere.lanternfish.example", 443)).reason());
    try (Server silent =
        Server.plain(
            socket -> {
              try {
                Thread.sleep(60_000);
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            })) {
      SymbolonException e = failure(silent.probe().withLimit(Duration.ofMillis(300)));
      assertEquals(Reason.NO_ANSWER, e.reason());
      assertTrue(e.seen().contains("does not come to TLS"), e.seen());
    }
  }

  private static SymbolonException failure(Probe probe) {
    return assertThrows(SymbolonException.class, probe::run);
  }

  @Test
  void mutualTlsWorksWithCredentialsOfOurOwn() throws IOException {
    Credential buoy =
        ISSUING.issue(name("buoy-017"), KeyKind.ED25519, List.of(), Use.CLIENT, NOW, YEAR);
    try (Server server = Server.tls(CATALOGUE, s -> s.setNeedClientAuth(true));
        SSLSocket socket =
            (SSLSocket)
                TlsSetup.client(Trust.in(root()))
                    .withCredentials(buoy)
                    .withoutHostCheck()
                    .context()
                    .getSocketFactory()
                    .createSocket(InetAddress.getLoopbackAddress(), server.socket.getLocalPort())) {
      socket.startHandshake();
      assertEquals(
          CATALOGUE.certificate(), Certificate.of(socket.getSession().getPeerCertificates()[0]));
      assertEquals(3, socket.getSession().getLocalCertificates().length);
    }
    assertThrows(SymbolonException.class, () -> Trust.in(List.of()));
  }

  @ParameterizedTest
  @ValueSource(strings = {"TLSv1.3", "TLSv1.2"})
  void aClientsCredentialIsShownAndTheServersAnswerTold(String protocol) throws IOException {
    Authority stranger = Authority.root(name("Stranger Root"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Credential client =
        ISSUING.issue(name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    Credential foreign =
        stranger.issue(name("buoy-018"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    Credential server =
        ISSUING.issue(name("s"), KeyKind.EC_P256, List.of(INGEST_HOST), Use.SERVER, NOW, YEAR);
    try (Server mutual =
        Server.tls(
            withChain(INGEST, INGEST.certificate(), issuing()),
            s -> {
              s.setNeedClientAuth(true);
              s.setEnabledProtocols(new String[] {protocol});
            })) {
      ProbeReport accepted = mutual.probe().withCredential(client).run();
      assertEquals(List.of("client-certificate-accepted"), ids(accepted));
      assertEquals(1, accepted.authoritiesNamed().size());
      assertTrue(accepted.authoritiesNamed().get(0).contains("Lanternfish Root"));
      assertEquals(
          List.of("client-authority-not-named"), ids(mutual.probe().withCredential(foreign).run()));
      List<String> refused = ids(mutual.probe().withCredential(server).run());
      assertEquals(List.of("client-certificate-refused", "not-for-clients"), refused);
    }
  }

  @Test
  void theDeployedCertificateIsComparedWithTheOneShown() throws IOException {
    try (Server server = Server.tls(withChain(INGEST, INGEST.certificate(), issuing()), s -> {})) {
      assertEquals(
          List.of("as-expected"), ids(server.probe().withExpected(INGEST.certificate()).run()));
      ProbeReport other = server.probe().withExpected(CATALOGUE.certificate()).run();
      assertEquals(List.of("not-as-expected"), ids(other));
      assertTrue(other.findings().get(0).statement().contains(INGEST.certificate().serialHex()));
    }
  }
}
