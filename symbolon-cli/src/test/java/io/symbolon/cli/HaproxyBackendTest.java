// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.tls.TlsSetup;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLServerSocket;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** HAProxy as a client: it reaches a server of mutual TLS that trusts it, and no other server. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class HaproxyBackendTest {
  private static final String PROGRAM = "/usr/sbin/haproxy";
  private static final Credential RELAY =
      ISSUING.issue(Lanternfish.name("relay"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;

  @Test
  void serversAreReachedOverMutualTlsAndChecked() throws Exception {
    boolean there = Files.exists(Path.of(PROGRAM));
    assertTrue(there || !"true".equals(System.getenv("CI")), "haproxy; .ci/run installs it");
    Assumptions.assumeTrue(there, "haproxy is not installed");
    TlsSetup setup = TlsSetup.server(INGEST).requiringClients(Trust.in(root()));
    int port = FreePort.take();
    try (SSLServerSocket behind =
        (SSLServerSocket)
            setup
                .context()
                .getServerSocketFactory()
                .createServerSocket(0, 50, InetAddress.getLoopbackAddress())) {
      Thread answering = new Thread(() -> answer(behind), "answers");
      answering.setDaemon(true);
      answering.start();
      Path main =
          file(
              temp,
              "haproxy.cfg",
              """
              defaults
                mode http
                timeout connect 20s
                timeout client 20s
                timeout server 20s
              frontend plain
                bind 127.0.0.1:%d
                default_backend archive
              backend archive
                # the archive, still in clear text
                server one 127.0.0.1:%d weight 10 # the first
              backend other
                server two 127.0.0.1:9
              """
                  .formatted(port, behind.getLocalPort()));
      assertEquals(502, through(port), "it speaks clear text to a server of TLS");
      Run unclear = configure();
      assertEquals(4, unclear.code(), unclear.out() + unclear.err());
      assertTrue(unclear.err().contains("archive, other"), unclear.err());
      Run written = configure("--site", "archive", "--host", HOST);
      assertEquals(0, written.code(), written.out() + written.err());
      String text = Files.readString(main);
      assertTrue(text.contains(" weight 10 ssl verify required ca-file "), text);
      assertTrue(text.contains(" # the first\n"), text);
      assertTrue(text.contains("server two 127.0.0.1:9\n"), text);
      assertEquals(200, through(port), "over mutual TLS");
      assertEquals(0, configure("--site", "archive", "--host", HOST).code());
      assertEquals(text, Files.readString(main));
      Files.writeString(main, text.replace(HOST, "another.lanternfish.example"));
      assertEquals(503, through(port), "another name is not this server");
    }
  }

  private static void answer(SSLServerSocket behind) {
    while (!behind.isClosed()) {
      try (Socket socket = behind.accept()) {
        socket.getInputStream().read();
        socket
            .getOutputStream()
            .write(
                "HTTP/1.1 200 OK\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
                    .getBytes(StandardCharsets.US_ASCII));
      } catch (IOException e) {
        ProcessServer.pause(); // a client that gave up, or the end
      }
    }
  }

  private Run configure(String... more) {
    file(temp, "relay.pem", pem(RELAY.certificate(), issuing()));
    file(temp, "relay.key", keyPem(RELAY));
    file(temp, "trust.pem", pem(root(), issuing()));
    List<Object> line = new java.util.ArrayList<>(List.of("configure", "haproxy-backend"));
    line.addAll(List.of("--home", temp, "--trust", temp.resolve("trust.pem"), "--write"));
    line.addAll(List.of("--credential", temp.resolve("relay.key"), temp.resolve("relay.pem")));
    line.add(temp.resolve("trust.pem"));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  /** What a client in clear text is told. */
  private int through(int port) throws Exception {
    Process process =
        new ProcessBuilder(PROGRAM, "-db", "-f", temp.resolve("haproxy.cfg").toString())
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("haproxy.log").toFile())
            .start();
    try {
      while (process.isAlive()) {
        try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
          assertTrue(socket.isConnected());
          HttpRequest request =
              HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/"))
                  .version(HttpClient.Version.HTTP_1_1)
                  .build();
          return HttpClient.newHttpClient()
              .send(request, HttpResponse.BodyHandlers.discarding())
              .statusCode();
        } catch (java.net.ConnectException e) {
          ProcessServer.pause();
        }
      }
      throw new IOException(Files.readString(temp.resolve("haproxy.log")));
    } finally {
      process.destroy();
      assertTrue(process.waitFor(60, TimeUnit.SECONDS), "haproxy ends");
    }
  }
}
