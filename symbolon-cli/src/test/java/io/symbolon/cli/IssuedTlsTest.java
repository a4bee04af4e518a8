// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.key.KeyKind;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.KeyManager;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLServerSocket;
import javax.net.ssl.SSLSocket;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Issued credentials in real handshakes: of the platform with itself, and with nginx. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class IssuedTlsTest {
  @TempDir Path temp;

  private Path at(String name) {
    return temp.resolve(name);
  }

  private static void ok(Object... line) {
    Run run = Run.of(line);
    assertEquals(0, run.code(), run.out() + run.err());
  }

  private static final java.util.Map<KeyKind, Path> FOUNDED =
      new java.util.concurrent.ConcurrentHashMap<>();

  @TempDir static Path shared;

  /** Founded once for each kind; every test works on a copy of its own. */
  private void found(KeyKind kind) throws IOException {
    if (!FOUNDED.containsKey(kind)) {
      foundAnew(kind);
      FOUNDED.put(kind, copy(temp, shared.resolve(kind.word())));
    } else {
      Path unused = copy(FOUNDED.get(kind), temp);
    }
  }

  private static Path copy(Path from, Path to) throws IOException {
    Files.createDirectories(to);
    try (java.util.stream.Stream<Path> files = Files.walk(from)) {
      for (Path file : files.toList()) {
        Path target = to.resolve(from.relativize(file).toString());
        if (Files.isDirectory(file)) {
          Files.createDirectories(target);
        } else {
          Files.copy(file, target, java.nio.file.StandardCopyOption.COPY_ATTRIBUTES);
        }
      }
    }
    return to;
  }

  private void foundAnew(KeyKind kind) {
    ok(
        "authority",
        "found",
        at("root"),
        "--subject",
        "CN=Lanternfish Root",
        "--seal",
        "new=" + at("root.pass"),
        "--key-type",
        kind.word());
    ok(
        "authority",
        "found",
        at("below"),
        "--subject",
        "CN=Lanternfish Issuing A",
        "--under",
        at("root"),
        "--unlock",
        "file=" + at("root.pass"),
        "--seal",
        "new=" + at("below.pass"),
        "--key-type",
        kind.word());
    ok(
        "truststore",
        at("root").resolve("authority.pem"),
        "--into",
        at("trust.p12"),
        "--seal",
        "new=" + at("trust.pass"));
  }

  private void issue(String file, KeyKind kind, String use, String subject, Object... more) {
    Object[] line = {
      "authority",
      "issue",
      "--by",
      at("below"),
      "--unlock",
      "file=" + at("below.pass"),
      "--for",
      use,
      "--subject",
      subject,
      "--key-type",
      kind.word(),
      "--into",
      at(file)
    };
    Object[] all = java.util.Arrays.copyOf(line, line.length + more.length);
    System.arraycopy(more, 0, all, line.length, more.length);
    ok(all);
  }

  private KeyStore store(String name) throws GeneralSecurityException, IOException {
    return KeyStore.getInstance(at(name + ".p12").toFile(), password(name));
  }

  private char[] password(String name) throws IOException {
    return Files.readString(at(name + ".pass")).strip().toCharArray();
  }

  private SSLContext context(Optional<String> credential)
      throws GeneralSecurityException, IOException {
    TrustManagerFactory trust =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trust.init(store("trust"));
    KeyManager[] keys = new KeyManager[0];
    if (credential.isPresent()) {
      KeyManagerFactory factory =
          KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
      factory.init(store(credential.get()), password(credential.get()));
      keys = factory.getKeyManagers();
    }
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(keys, trust.getTrustManagers(), null);
    return context;
  }

  @ParameterizedTest
  @MethodSource("io.symbolon.fixture.Lanternfish#tlsKinds")
  void thePlatformsTlsAcceptsBothSides(KeyKind kind) throws Exception {
    found(kind);
    issue(
        "server.p12",
        kind,
        "server",
        "CN=ingest.lanternfish.example",
        "--host",
        "localhost",
        "--host",
        "127.0.0.1",
        "--seal",
        "new=" + at("server.pass"));
    issue(
        "client.p12",
        kind,
        "client",
        "UID=L00417,CN=buoy-017",
        "--seal",
        "new=" + at("client.pass"));
    for (String protocol : new String[] {"TLSv1.3", "TLSv1.2"}) {
      assertEquals("-", shake(protocol, false, Optional.empty()), protocol);
      assertEquals("UID=L00417, CN=buoy-017", shake(protocol, true, Optional.of("client")));
      assertThrows(
          ExecutionException.class, () -> shake(protocol, true, Optional.empty()), protocol);
      // A server's certificate is not for clients.
      assertThrows(
          ExecutionException.class, () -> shake(protocol, true, Optional.of("server")), protocol);
    }
  }

  /** Who the server saw: the client's subject, or {@code -}. */
  private String shake(String protocol, boolean mutual, Optional<String> client) throws Exception {
    try (SSLServerSocket server =
        (SSLServerSocket)
            context(Optional.of("server"))
                .getServerSocketFactory()
                .createServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      server.setNeedClientAuth(mutual);
      server.setEnabledProtocols(new String[] {protocol});
      CompletableFuture<String> seen =
          CompletableFuture.supplyAsync(
              () -> {
                try (SSLSocket socket = (SSLSocket) server.accept()) {
                  socket.startHandshake();
                  String peer = mutual ? socket.getSession().getPeerPrincipal().getName() : "-";
                  OutputStream out = socket.getOutputStream();
                  out.write(1);
                  out.flush();
                  return peer.replace(",", ", ").replace(",  ", ", ");
                } catch (IOException e) {
                  throw new java.io.UncheckedIOException(e);
                }
              });
      try (SSLSocket socket =
          (SSLSocket)
              context(client)
                  .getSocketFactory()
                  .createSocket(InetAddress.getLoopbackAddress(), server.getLocalPort())) {
        SSLParameters parameters = socket.getSSLParameters();
        parameters.setEndpointIdentificationAlgorithm("HTTPS");
        socket.setSSLParameters(parameters);
        socket.startHandshake();
        assertEquals(1, socket.getInputStream().read());
      } catch (IOException e) {
        // the server tells why
      }
      return seen.get(120, TimeUnit.SECONDS);
    }
  }

  private int get(Nginx nginx, String client) throws Exception {
    HttpClient http = HttpClient.newBuilder().sslContext(context(Optional.of(client))).build();
    URI uri = URI.create("https://localhost:" + nginx.port() + "/");
    return http.send(HttpRequest.newBuilder(uri).build(), HttpResponse.BodyHandlers.ofString())
        .statusCode();
  }

  @Test
  void nginxAcceptsTheChainAndRefusesAClientOnTheRevocationList() throws Exception {
    Nginx.assume();
    found(KeyKind.EC_P256);
    issue(
        "server.pem",
        KeyKind.RSA_2048,
        "server",
        "CN=ingest.lanternfish.example",
        "--host",
        "localhost",
        "--unsealed");
    issue("kept.p12", KeyKind.EC_P256, "client", "CN=kept", "--seal", "new=" + at("kept.pass"));
    issue("lost.p12", KeyKind.EC_P256, "client", "CN=lost", "--seal", "new=" + at("lost.pass"));
    try (Nginx nginx = nginx()) {
      assertEquals(200, get(nginx, "kept"));
      assertEquals(200, get(nginx, "lost"));
    }
    ok(
        "authority",
        "revoke",
        "lost",
        "--by",
        at("below"),
        "--unlock",
        "file=" + at("below.pass"),
        "--reason",
        "key-compromise");
    try (Nginx nginx = nginx()) {
      assertEquals(200, get(nginx, "kept"));
      assertEquals(400, get(nginx, "lost"));
      assertTrue(nginx.log().contains("certificate revoked"), nginx.log());
      Run explained = Run.of("explain", at("nginx.log"), "--json");
      assertEquals(1, explained.code());
      assertEquals(List.of("revoked"), explained.findingIds());
    }
    // The rehearsal foretells it of the same files, and of the other client that it is let in.
    for (String client : List.of("lost", "kept")) {
      Run rehearsed = rehearse(client);
      assertEquals(client.equals("lost"), rehearsed.findingIds().contains("revoked"));
      assertEquals(client.equals("lost") ? 1 : 0, rehearsed.code(), rehearsed.out());
    }
    Run later = rehearse("kept", "--at", "2027-09-01");
    assertTrue(later.findingIds().contains("revocation-list-expired"), later.out());
  }

  private Run rehearse(String client, Object... more) {
    List<Object> line =
        new java.util.ArrayList<>(
            List.of("rehearse", "--server", at("server.pem"), "--host", "localhost", "--json"));
    line.addAll(List.of("--server-trust", at("root").resolve("authority.pem"), at("lists.pem")));
    line.addAll(
        List.of("--client", at(client + ".p12"), "--unlock", "file=" + at(client + ".pass")));
    line.addAll(List.of("--client-trust", at("root").resolve("authority.pem")));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  @Test
  void whatNginxWritesAboutClientsIsExplained() throws Exception {
    Nginx.assume();
    found(KeyKind.EC_P256);
    issue(
        "server.pem",
        KeyKind.EC_P256,
        "server",
        "CN=ingest.lanternfish.example",
        "--host",
        "localhost",
        "--unsealed");
    issue(
        "server.p12",
        KeyKind.EC_P256,
        "server",
        "CN=x.lanternfish.example",
        "--host",
        "x.example",
        "--seal",
        "new=" + at("server.pass"));
    try (Nginx nginx = nginx()) {
      HttpClient nobody = HttpClient.newBuilder().sslContext(context(Optional.empty())).build();
      URI uri = URI.create("https://localhost:" + nginx.port() + "/");
      assertEquals(
          400,
          nobody
              .send(HttpRequest.newBuilder(uri).build(), HttpResponse.BodyHandlers.discarding())
              .statusCode());
      assertEquals(400, get(nginx, "server"), "a server's certificate for a client");
      URI plain = URI.create("http://localhost:" + nginx.port() + "/");
      assertEquals(
          400,
          HttpClient.newHttpClient()
              .send(HttpRequest.newBuilder(plain).build(), HttpResponse.BodyHandlers.discarding())
              .statusCode());
      assertThrows(
          IOException.class,
          () ->
              HttpClient.newHttpClient()
                  .send(
                      HttpRequest.newBuilder(uri).build(), HttpResponse.BodyHandlers.discarding()));
      // A client that does not trust the server sends an alert and hangs up. Where bytes it has not
      // read are left, hanging up may overtake the alert; the server then tells only of that.
      Set<String> told = Set.of("no-client-certificate", "wrong-use", "no-tls");
      Set<String> refused = Set.of("peer-does-not-trust", "closed-during-handshake");
      // The server writes its log when it comes to it: what is looked for may be a moment away.
      Set<String> seen =
          await()
              .atMost(Duration.ofMinutes(1))
              .until(
                  () -> Set.copyOf(Run.of("explain", at("nginx.log"), "--json").findingIds()),
                  ids -> ids.size() > told.size());
      Set<String> other = new HashSet<>(seen);
      assertTrue(other.removeAll(told) && other.size() == 1, nginx.log() + seen);
      assertTrue(refused.containsAll(other), nginx.log() + seen);
      assertTrue(seen.containsAll(told), nginx.log() + seen);
    }
  }

  private Nginx nginx() throws IOException {
    Path lists = at("lists.pem");
    Files.writeString(
        lists,
        Files.readString(at("below").resolve("revocations.pem"))
            + Files.readString(at("root").resolve("revocations.pem")));
    assertFalse(Files.readString(lists).isEmpty());
    return Nginx.start(
        temp, at("server.pem"), at("server.pem"), at("root").resolve("authority.pem"), lists);
  }
}
