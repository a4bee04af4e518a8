// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.ReloadReport.Outcome;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class ReloadingTlsTest {
  private static final Credential OTHER =
      io.symbolon.fixture.Lanternfish.server(HOST, KeyKind.EC_P256);

  @TempDir Path folder;
  private Path server = Path.of("");
  private Path trust = Path.of("");

  @BeforeEach
  void write() {
    server = file(folder, "server.pem", content(INGEST, issuing()));
    trust = file(folder, "trust.pem", pem(root()));
  }

  private static byte[] content(Credential credential, Certificate... more) {
    byte[] key = keyPem(credential);
    byte[] chain = pem(credential.certificate());
    byte[] rest = pem(more);
    byte[] all = Arrays.copyOf(key, key.length + chain.length + rest.length);
    System.arraycopy(chain, 0, all, key.length, chain.length);
    System.arraycopy(rest, 0, all, key.length + chain.length, rest.length);
    return all;
  }

  private static List<String> ids(ReloadReport report) {
    return report.findings().stream().map(io.symbolon.finding.Finding::id).toList();
  }

  /** Serves in the background until closed. */
  private static SSLServerSocket serve(ReloadingTls tls) throws IOException {
    SSLServerSocket listening =
        (SSLServerSocket)
            tls.context()
                .getServerSocketFactory()
                .createServerSocket(0, 50, InetAddress.getLoopbackAddress());
    Thread thread =
        new Thread(
            () -> {
              while (!listening.isClosed()) {
                try {
                  Socket socket = listening.accept();
                  Thread one = new Thread(() -> answer(socket));
                  one.setDaemon(true);
                  one.start();
                } catch (IOException e) {
                  assertTrue(listening.isClosed(), e.toString());
                }
              }
            });
    thread.setDaemon(true);
    thread.start();
    return listening;
  }

  private static void answer(Socket socket) {
    try (socket) {
      int asked = socket.getInputStream().read();
      while (asked >= 0) {
        socket.getOutputStream().write(asked + 1);
        asked = socket.getInputStream().read();
      }
    } catch (IOException e) {
      return; // refused, or the client is gone
    }
  }

  private static SSLSocket connect(javax.net.ssl.SSLContext client, SSLServerSocket to)
      throws IOException {
    Socket below = new Socket(InetAddress.getLoopbackAddress(), to.getLocalPort());
    return (SSLSocket) client.getSocketFactory().createSocket(below, HOST, to.getLocalPort(), true);
  }

  private static Certificate ask(SSLSocket socket) throws IOException {
    socket.getOutputStream().write(16);
    assertEquals(17, socket.getInputStream().read());
    return Certificate.of(socket.getSession().getPeerCertificates()[0]);
  }

  @Test
  void aThousandReloadsUnderLoadFailNoHandshake() throws Exception {
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(server));
    Path next = folder.resolve("next.pem");
    AtomicInteger handshakes = new AtomicInteger();
    AtomicInteger ofOther = new AtomicInteger();
    List<CompletableFuture<Void>> clients = new ArrayList<>();
    java.util.concurrent.atomic.AtomicBoolean go =
        new java.util.concurrent.atomic.AtomicBoolean(true);
    try (SSLServerSocket listening = serve(tls);
        SSLSocket standing = connect(TlsSetup.client(Trust.in(root())).context(), listening)) {
      assertEquals(INGEST.certificate(), ask(standing));
      for (int i = 0; i < 3; i++) {
        // One client resumes its sessions where it can; the others begin anew.
        javax.net.ssl.SSLContext kept = TlsSetup.client(Trust.in(root())).context();
        boolean resuming = i == 0;
        clients.add(
            CompletableFuture.runAsync(
                () -> {
                  while (go.get()) {
                    try (SSLSocket socket =
                        connect(
                            resuming ? kept : TlsSetup.client(Trust.in(root())).context(),
                            listening)) {
                      if (ask(socket).equals(OTHER.certificate())) {
                        ofOther.incrementAndGet();
                      }
                      handshakes.incrementAndGet();
                      Thread.sleep(10); // under load, and not starved by it
                    } catch (IOException e) {
                      throw new java.io.UncheckedIOException(e);
                    } catch (InterruptedException e) {
                      Thread.currentThread().interrupt();
                      return;
                    }
                  }
                },
                task -> new Thread(task).start()));
      }
      for (int i = 0; i < 1_000; i++) {
        Files.write(next, i % 2 == 0 ? content(OTHER, issuing()) : content(INGEST, issuing()));
        Files.move(next, server, StandardCopyOption.ATOMIC_MOVE);
        ReloadReport report = tls.reload();
        assertEquals(Outcome.REPLACED, report.outcome(), report.findings().toString());
      }
      go.set(false);
      for (CompletableFuture<Void> client : clients) {
        client.get(120, TimeUnit.SECONDS);
      }
      assertEquals(INGEST.certificate(), ask(standing), "what is connected goes on");
    }
    assertTrue(handshakes.get() > 300, "only " + handshakes);
    assertTrue(ofOther.get() > 50 && ofOther.get() < handshakes.get() - 50, ofOther + " of it");
  }

  @Test
  void whatIsBrokenIsRefusedWithAReportAndTheOldOneStays() throws IOException {
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(server).withTrust(trust));
    assertEquals(Outcome.UNCHANGED, tls.reload().outcome());
    byte[] whole = content(OTHER, issuing());
    Authority stranger = Authority.root(name("S"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Credential gone =
        Authority.root(name("Past"), KeyKind.EC_P256, NOW.minusSeconds(9_000), YEAR, RANDOM)
            .issue(
                name(HOST),
                KeyKind.EC_P256,
                List.of(HostName.parse(HOST)),
                Use.SERVER,
                NOW.minusSeconds(7_200),
                Duration.ofHours(1));
    Credential client =
        ISSUING.issue(
            name(HOST), KeyKind.EC_P256, List.of(HostName.parse(HOST)), Use.CLIENT, NOW, YEAR);
    Map<ByteBuffer, String> all = new java.util.LinkedHashMap<>();
    for (int length = 0; length < whole.length - 30; length += 41) {
      all.put(ByteBuffer.wrap(Arrays.copyOf(whole, length)), "");
    }
    all.put(ByteBuffer.wrap(content(OTHER)), "chain-shorter");
    all.put(ByteBuffer.wrap(pem(OTHER.certificate(), issuing())), "not-reloaded");
    all.put(ByteBuffer.wrap(content(gone, issuing())), "expired");
    all.put(ByteBuffer.wrap(content(client, issuing())), "not-for-servers");
    byte[] mixed = keyPem(INGEST);
    byte[] strangers = pem(OTHER.certificate(), issuing());
    byte[] both = Arrays.copyOf(mixed, mixed.length + strangers.length);
    System.arraycopy(strangers, 0, both, mixed.length, strangers.length);
    all.put(ByteBuffer.wrap(both), "not-reloaded");
    for (Map.Entry<ByteBuffer, String> broken : all.entrySet()) {
      Files.write(server, broken.getKey().array());
      ReloadReport report = tls.reload();
      assertTrue(report.isRefused(), () -> broken.getKey().capacity() + " octets: " + report);
      String id = broken.getValue();
      assertTrue(id.isEmpty() || ids(report).contains(id), report.toString());
      assertTrue(report.findings().stream().allMatch(f -> !f.statement().isBlank()));
      assertEquals(List.of(INGEST.certificate(), issuing()), shown(tls));
    }
    Files.delete(server);
    assertTrue(tls.reload().isRefused());
    Files.write(server, whole);
    Files.write(trust, keyPem(OTHER));
    assertTrue(tls.reload().isRefused(), "nobody would be trusted");
    Files.write(trust, pem(stranger.certificate()));
    assertEquals(Outcome.REPLACED, tls.reload().outcome());
    assertEquals(List.of(OTHER.certificate(), issuing()), shown(tls));
    assertThrows(
        SymbolonException.class,
        () -> ReloadingTls.of(TlsFiles.server(folder.resolve("nothing.pem"))));
  }

  private static List<Certificate> shown(ReloadingTls tls) {
    return tls.setup().credentials().get(0).chain();
  }

  @Test
  void aHostThatIsNoLongerCoveredIsToldAndTheNewOneTaken() {
    Credential renamed =
        io.symbolon.fixture.Lanternfish.server("intake.lanternfish.example", KeyKind.EC_P256);
    Credential same =
        ISSUING.issue(
            INGEST.certificate().subject(),
            KeyKind.EC_P256,
            List.of(HostName.parse("intake.lanternfish.example")),
            Use.SERVER,
            NOW,
            YEAR);
    List<TlsSetup> next =
        new ArrayList<>(
            List.of(TlsSetup.server(INGEST), TlsSetup.server(same), TlsSetup.server(renamed)));
    ReloadingTls tls = ReloadingTls.of(() -> next.remove(0));
    ReloadReport report = tls.reload();
    assertEquals(Outcome.REPLACED, report.outcome());
    assertEquals(List.of("host-dropped"), ids(report));
    assertEquals(List.of(), ids(tls.reload()));
  }

  @Test
  void aClientThatIsTrustedNoLongerIsRefusedAlsoWithASessionFromBefore() throws IOException {
    Authority stranger = Authority.root(name("S"), KeyKind.EC_P256, NOW, YEAR, RANDOM);
    Credential buoy =
        ISSUING.issue(name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(server).withTrust(trust));
    for (String protocol : List.of("TLSv1.3", "TLSv1.2")) {
      javax.net.ssl.SSLContext client =
          TlsSetup.client(Trust.in(root())).withCredentials(buoy).withProtocols(protocol).context();
      Files.write(trust, pem(root()));
      assertTrue(!tls.reload().isRefused());
      try (SSLServerSocket listening = serve(tls)) {
        for (int i = 0; i < 2; i++) {
          try (SSLSocket socket = connect(client, listening)) {
            assertEquals(INGEST.certificate(), ask(socket));
          }
        }
        Files.write(trust, pem(stranger.certificate()));
        assertEquals(Outcome.REPLACED, tls.reload().outcome());
        try (SSLSocket socket = connect(client, listening)) {
          assertThrows(IOException.class, () -> ask(socket));
        }
      }
    }
  }

  @Test
  void filesThatAreWatchedAreReloadedWhenTheyHaveSettled() throws Exception {
    ReloadingTls tls = ReloadingTls.of(TlsFiles.server(server));
    BlockingQueue<ReloadReport> reports = new ArrayBlockingQueue<>(100);
    try (ReloadingTls.Watch watch = tls.watch(Duration.ofMillis(60), reports::add)) {
      assertTrue(watch != null);
      byte[] whole = content(OTHER, issuing());
      // Written slowly: as long as it grows nobody reads it.
      try (var out = Files.newOutputStream(server)) {
        for (int at = 0; at < whole.length; at += 100) {
          out.write(whole, at, Math.min(100, whole.length - at));
          out.flush();
          Thread.sleep(15);
        }
      }
      // A machine that stops for a moment lets half of it look settled: refused, and tried again.
      ReloadReport report = reports.poll(120, TimeUnit.SECONDS);
      while (report != null && report.isRefused()) {
        assertEquals(List.of(INGEST.certificate(), issuing()), shown(tls));
        report = reports.poll(120, TimeUnit.SECONDS);
      }
      assertEquals(Outcome.REPLACED, report == null ? null : report.outcome());
      assertEquals(List.of(OTHER.certificate(), issuing()), shown(tls));
      Files.writeString(server, "nonsense");
      report = reports.poll(120, TimeUnit.SECONDS);
      assertEquals(Outcome.REFUSED, report == null ? null : report.outcome());
      assertEquals(null, reports.poll(300, TimeUnit.MILLISECONDS), "told once");
    }
    Files.write(server, content(INGEST, issuing()));
    assertEquals(null, reports.poll(300, TimeUnit.MILLISECONDS), "nobody looks any more");
    assertEquals(Outcome.REPLACED, tls.reload().outcome());
  }
}
