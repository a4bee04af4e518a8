// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.NginxProgram;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.party.Trust;
import io.symbolon.pem.PemWriter;
import io.symbolon.tls.TlsSetup;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.StreamSupport;
import javax.net.ssl.SSLSocket;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a rehearsal says of servers of other kinds, beside those servers, with the same files. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class OtherServersTest {
  private static final Path HTTPD = Path.of("/usr/sbin/apache2");
  private static final Path HAPROXY = Path.of("/usr/sbin/haproxy");
  private static final Credential SERVER =
      ISSUING.issue(
          Lanternfish.name(HOST),
          KeyKind.RSA_2048,
          List.of(HostName.parse(HOST)),
          Use.SERVER,
          NOW,
          Lanternfish.YEAR);
  private static final Credential BUOY =
      ISSUING.issue(
          Lanternfish.name("buoy-17"),
          KeyKind.EC_P256,
          List.of(),
          Use.CLIENT,
          NOW,
          Lanternfish.YEAR);

  @TempDir Path folder;

  /** The files of a server. */
  private record Setup(Credential credential, Path key, Path chain, Path trust, Path lists) {
    boolean hasLists() throws IOException {
      return Files.size(lists) > 0;
    }
  }

  private static byte[] lists(RevocationList... lists) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (RevocationList list : lists) {
      out.writeBytes(PemWriter.write("X509 CRL", list.encoding()));
    }
    return out.toByteArray();
  }

  private static RevocationList list(
      Authority of, List<Authority.Revocation> revoked, Duration age) {
    return of.revocationList(revoked, BigInteger.ONE, NOW.minus(age), Lifetime.days(1));
  }

  private Setup setup(String circumstance) {
    Credential credential = SERVER;
    byte[] chain = pem(SERVER.certificate(), issuing());
    byte[] trust = pem(root(), issuing());
    byte[] lists = new byte[0];
    RevocationList above = list(ROOT, List.of(), Duration.ZERO);
    switch (circumstance) {
      case "other key first" -> chain = pem(issuing(), SERVER.certificate());
      case "same key first" -> {
        credential = Lanternfish.CATALOGUE; // EC, as the authority above it
        chain = pem(issuing(), credential.certificate());
      }
      case "lists" -> lists = lists(list(ISSUING, List.of(), Duration.ZERO), above);
      case "list missing" -> lists = lists(list(ISSUING, List.of(), Duration.ZERO));
      case "list ended" -> lists = lists(list(ISSUING, List.of(), Duration.ofDays(3)), above);
      case "revoked" ->
          lists =
              lists(
                  list(
                      ISSUING,
                      List.of(
                          new Authority.Revocation(
                              BUOY.certificate().serial(), NOW, RevocationReason.KEY_COMPROMISE)),
                      Duration.ZERO),
                  above);
      case "without root" -> trust = pem(issuing());
      default -> {}
    }
    return new Setup(
        credential,
        file(folder, "server.key", keyPem(credential)),
        file(folder, "chain.pem", chain),
        file(folder, "trust.pem", trust),
        file(folder, "lists.pem", lists));
  }

  private JsonNode said(Setup setup) throws IOException {
    List<Object> command =
        new ArrayList<>(
            List.of("rehearse", "--json", "--host", "x", "--server", setup.key(), setup.chain()));
    command.set(3, setup.credential().certificate().subject().commonName().orElseThrow());
    command.addAll(List.of("--server-trust", setup.trust()));
    if (setup.hasLists()) {
      command.add(setup.lists());
    }
    command.addAll(
        List.of(
            "--client",
            file(folder, "client.key", keyPem(BUOY)),
            file(folder, "client.pem", pem(BUOY.certificate(), issuing())),
            "--client-trust",
            file(folder, "roots.pem", pem(root()))));
    return Run.of(command.toArray()).json().at("/pairs/0/others");
  }

  private static String apache(Setup setup, int port) throws IOException {
    return """
        LoadModule mpm_event_module /usr/lib/apache2/modules/mod_mpm_event.so
        LoadModule authz_core_module /usr/lib/apache2/modules/mod_authz_core.so
        LoadModule socache_shmcb_module /usr/lib/apache2/modules/mod_socache_shmcb.so
        LoadModule ssl_module /usr/lib/apache2/modules/mod_ssl.so
        ServerName localhost
        ServerRoot %1$s
        DefaultRuntimeDir %1$s
        PidFile %1$s/httpd.pid
        ErrorLog %1$s/httpd.log
        Mutex file:%1$s
        User www-data
        Group www-data
        Listen 127.0.0.1:%2$d
        <VirtualHost 127.0.0.1:%2$d>
          SSLEngine on
          SSLCertificateFile %3$s
          SSLCertificateKeyFile %4$s
          SSLCACertificateFile %5$s
          SSLVerifyClient require
          %6$s
        </VirtualHost>
        """
        .formatted(
            setup.key().getParent(),
            port,
            setup.chain(),
            setup.key(),
            setup.trust(),
            setup.hasLists()
                ? "SSLCARevocationFile " + setup.lists() + "\n  SSLCARevocationCheck chain"
                : "");
  }

  private static String haproxy(Setup setup, int port) throws IOException {
    Files.copy(setup.key(), setup.chain().resolveSibling("chain.pem.key"));
    return """
        defaults
          mode http
          timeout connect 20s
          timeout client 20s
          timeout server 20s
        frontend buoys
          bind 127.0.0.1:%d ssl crt %s ca-file %s verify required %s
          http-request return status 200
        """
        .formatted(
            port,
            setup.chain(),
            setup.trust(),
            setup.hasLists() ? "crl-file " + setup.lists() : "");
  }

  /** Starts a server, or tells that it does not start. */
  private boolean accepts(String kind, Setup setup) throws Exception {
    int port = FreePort.take();
    Path log = folder.resolve("log");
    List<String> command =
        switch (kind) {
          case "httpd" ->
              List.of(
                  HTTPD.toString(),
                  "-X",
                  "-f",
                  file(folder, "httpd.conf", apache(setup, port)).toString());
          case "haproxy" ->
              List.of(
                  HAPROXY.toString(),
                  "-db",
                  "-f",
                  file(folder, "haproxy.cfg", haproxy(setup, port)).toString());
          default -> List.of();
        };
    Process process;
    try {
      process =
          command.isEmpty()
              ? NginxProgram.start(
                  Files.createDirectory(folder.resolve("n")), log, port, nginx(setup, port))
              : new ProcessBuilder(command)
                  .redirectInput(Path.of("/dev/null").toFile())
                  .redirectErrorStream(true)
                  .redirectOutput(log.toFile())
                  .start();
    } catch (IOException e) {
      return false; // it did not start
    }
    try {
      return answers(process, port) && request(port, setup);
    } finally {
      process.destroy();
      assertTrue(process.waitFor(60, TimeUnit.SECONDS));
    }
  }

  private static String nginx(Setup setup, int port) throws IOException {
    return """
        server {
          listen 127.0.0.1:%d ssl;
          ssl_certificate %s;
          ssl_certificate_key %s;
          ssl_client_certificate %s;
          ssl_verify_client on;
          %s
          location / { return 200 "17 buoys reporting"; }
        }
        """
        .formatted(
            port,
            setup.chain(),
            setup.key(),
            setup.trust(),
            setup.hasLists() ? "ssl_crl " + setup.lists() + ";" : "");
  }

  private static boolean answers(Process process, int port) {
    while (process.isAlive()) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        return socket.isConnected();
      } catch (IOException e) {
        ProcessServer.pause();
      }
    }
    return false;
  }

  /** What a client gets who asks for something: a refusal may come after the handshake. */
  private static boolean request(int port, Setup setup) {
    String host = setup.credential().certificate().subject().commonName().orElseThrow();
    TlsSetup client = TlsSetup.client(Trust.in(root())).withCredentials(BUOY);
    try (Socket plain = new Socket(InetAddress.getLoopbackAddress(), port);
        SSLSocket socket =
            (SSLSocket) client.context().getSocketFactory().createSocket(plain, host, port, true)) {
      socket.setSoTimeout(60_000);
      socket
          .getOutputStream()
          .write(
              ("GET / HTTP/1.0\r\nHost: " + host + "\r\n\r\n").getBytes(StandardCharsets.US_ASCII));
      String answer =
          new String(socket.getInputStream().readAllBytes(), StandardCharsets.ISO_8859_1);
      return answer.startsWith("HTTP/1.") && !answer.substring(9).startsWith("400");
    } catch (IOException e) {
      return false;
    }
  }

  @ParameterizedTest
  @CsvSource({
    "good,nginx,true",
    "good,haproxy,true",
    "good,httpd,false", // its usual depth
    "other key first,nginx,false",
    "other key first,httpd,false",
    "other key first,haproxy,false",
    "same key first,nginx,false",
    "same key first,haproxy,false",
    "lists,nginx,true",
    "lists,haproxy,true",
    "list missing,nginx,false",
    "list missing,haproxy,false",
    "list ended,nginx,false",
    "list ended,haproxy,false",
    "revoked,nginx,false",
    "revoked,haproxy,false",
    "without root,nginx,false",
    "without root,haproxy,false"
  })
  void whatIsSaidOfAServerIsWhatItDoes(String circumstance, String kind, boolean accepts)
      throws Exception {
    NginxProgram.assume();
    for (Path program : List.of(HTTPD, HAPROXY)) {
      boolean there = Files.isExecutable(program);
      assertTrue(there || !"true".equals(System.getenv("CI")), program + " is not installed");
      assumeTrue(there, program + " is not installed");
    }
    Setup setup = setup(circumstance);
    JsonNode others = said(setup);
    JsonNode one =
        StreamSupport.stream(others.spliterator(), false)
            .filter(other -> other.get("server").asText().equals(kind))
            .findFirst()
            .orElseThrow();
    assertEquals(accepts, one.get("accepts").asBoolean(), one.toString());
    assertEquals(accepts, accepts(kind, setup), () -> log());
  }

  private String log() {
    StringBuilder all = new StringBuilder();
    for (String name : List.of("log", "httpd.log")) {
      try {
        all.append(Files.readString(folder.resolve(name)));
      } catch (IOException e) {
        all.append("no ").append(name).append('\n');
      }
    }
    return all.toString();
  }
}
