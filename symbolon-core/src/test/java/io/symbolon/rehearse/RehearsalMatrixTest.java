// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.explain.FailureText;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.fixture.TlsParties;
import io.symbolon.party.Party;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * The verdict of a rehearsal is what the pair then really does: with the platform's own key and
 * trust managers, from keystores, over sockets.
 */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class RehearsalMatrixTest {
  private static final char[] PASSWORD = "x".toCharArray();

  static List<TlsParties> setups() {
    return TlsParties.all();
  }

  @ParameterizedTest
  @MethodSource("setups")
  void theVerdictIsWhatThePairDoes(TlsParties setup) throws Exception {
    RehearsalReport report =
        Rehearsal.create()
            .withHost(HostName.parse(setup.host()))
            .run(setup.server(), setup.client());
    for (RehearsalReport.Try one : report.tries()) {
      assertEquals(
          really(setup, one.protocol().platformName()),
          one.isAccepted(),
          one.protocol() + " " + report);
    }
    for (RehearsalReport.Try one : report.tries()) {
      if (!one.isAccepted()) { // what the platform says in a log is explained as well
        List<FailureText.Explanation> explained = FailureText.explain(one.raw(), "log");
        assertEquals(1, explained.size(), one.raw());
        assertTrue(!explained.get(0).finding().id().equals("not-explained"), one.raw());
      }
    }
    List<String> problems =
        report.findings().stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .map(Finding::id)
            .toList();
    boolean byJava = report.tries().stream().allMatch(RehearsalReport.Try::isAccepted);
    if (setup.finding().isPresent()) {
      assertTrue(problems.contains(setup.finding().get()), report.toString());
      assertTrue(!byJava, "refused at least once");
    } else {
      assertTrue(byJava, report.toString());
    }
    assertEquals(byJava && problems.isEmpty(), report.isAccepted(), report.toString());
    assertTrue(byJava || !problems.contains("refused-by-platform"), "explained: " + report);
  }

  @Test
  void whatIsDeducedOfAMatrixIsWhatEachPairDoes() {
    List<Party> servers = new ArrayList<>();
    List<Party> clients = new ArrayList<>();
    List<TlsParties> all = TlsParties.all();
    Party mutual = all.get(all.size() - 1).server();
    for (TlsParties setup : all) {
      boolean ofClient = setup.toString().startsWith("client");
      if (ofClient) {
        clients.add(setup.client());
      } else if (servers.size() < 26 && setup.host().equals(TlsParties.HOST)) {
        servers.add(setup.server().withTrust(mutual.trust().orElseThrow()));
        if (servers.size() % 5 == 0) {
          servers.add(setup.server()); // and one that asks nobody
        }
      }
    }
    Rehearsal rehearsal = Rehearsal.create().withHost(HostName.parse(TlsParties.HOST));
    // Bad ones first, so that good partners have to be looked for.
    java.util.Collections.reverse(servers);
    java.util.Collections.reverse(clients);
    List<RehearsalReport> deduced = rehearsal.deducedMatrix(servers, clients);
    List<RehearsalReport> each = rehearsal.matrix(servers, clients);
    assertTrue(each.stream().anyMatch(RehearsalReport::isAccepted));
    assertEquals(servers.size() * clients.size(), each.size());
    for (int i = 0; i < each.size(); i++) {
      RehearsalReport one = each.get(i);
      RehearsalReport other = deduced.get(i);
      String what = one + " and " + other;
      assertEquals(one.server() + one.client(), other.server() + other.client());
      for (int t = 0; t < one.tries().size(); t++) {
        assertEquals(one.tries().get(t).refusedBy(), other.tries().get(t).refusedBy(), what);
        assertEquals(one.tries().get(t).cipherSuite(), other.tries().get(t).cipherSuite(), what);
      }
      assertEquals(problems(one), problems(other), what);
    }
  }

  private static java.util.Set<String> problems(RehearsalReport report) {
    return report.findings().stream()
        .filter(finding -> finding.level() == Level.PROBLEM)
        .map(Finding::id)
        .collect(java.util.stream.Collectors.toSet());
  }

  private static boolean really(TlsParties setup, String protocol) throws Exception {
    try (SSLServerSocket listener =
        (SSLServerSocket)
            context(setup.server())
                .getServerSocketFactory()
                .createServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      listener.setNeedClientAuth(setup.server().trust().isPresent());
      listener.setEnabledProtocols(new String[] {protocol});
      CompletableFuture<Boolean> server =
          CompletableFuture.supplyAsync(
              () -> {
                try (SSLSocket socket = (SSLSocket) listener.accept()) {
                  socket.setSoTimeout(60_000);
                  socket.startHandshake();
                  socket.getOutputStream().write(1);
                  return socket.getInputStream().read() == 2;
                } catch (IOException e) {
                  return false;
                }
              });
      boolean client = false;
      java.net.Socket plain =
          new java.net.Socket(InetAddress.getLoopbackAddress(), listener.getLocalPort());
      try (SSLSocket socket =
          (SSLSocket)
              context(setup.client())
                  .getSocketFactory()
                  .createSocket(plain, setup.host(), listener.getLocalPort(), true)) {
        socket.setSoTimeout(60_000);
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setEndpointIdentificationAlgorithm("HTTPS");
        if (!Character.isDigit(setup.host().charAt(0))) {
          parameters.setServerNames(List.of(new SNIHostName(setup.host())));
        }
        socket.setSSLParameters(parameters);
        socket.startHandshake();
        client = socket.getInputStream().read() == 1;
        socket.getOutputStream().write(2);
      } catch (IOException e) {
        client = false;
      }
      return server.get(120, TimeUnit.SECONDS) && client;
    }
  }

  private static SSLContext context(Party party) throws GeneralSecurityException, IOException {
    SSLContext context = SSLContext.getInstance("TLS");
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    keys.init(store(party.credential()), PASSWORD);
    KeyStore trust = KeyStore.getInstance("JKS");
    trust.load(null, null);
    int number = 0;
    for (Certificate certificate : party.trust().orElse(List.of())) {
      trust.setCertificateEntry("trusted-" + number++, certificate.toX509Certificate());
    }
    TrustManagerFactory trusted =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trusted.init(trust);
    context.init(keys.getKeyManagers(), trusted.getTrustManagers(), null);
    return context;
  }

  /** JKS takes any chain, PKCS#12 only one in order. */
  private static KeyStore store(Optional<Credential> credential)
      throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("JKS");
    store.load(null, null);
    if (credential.isPresent()) {
      store.setKeyEntry(
          "key",
          credential.get().key().toPrivateKey(),
          PASSWORD,
          credential.get().chain().stream()
              .map(Certificate::toX509Certificate)
              .toArray(java.security.cert.Certificate[]::new));
    }
    return store;
  }
}
