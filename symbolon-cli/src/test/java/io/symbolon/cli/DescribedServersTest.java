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
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Servers that are described, and HAProxy: what is written, and what they do with it as they run.
 */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class DescribedServersTest {
  private static final Credential BUOY =
      ISSUING.issue(
          Lanternfish.name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;
  private Path home = Path.of("");
  private int port;

  @ParameterizedTest
  @EnumSource
  void debiansServersDoWhatIsWritten(DebianServer server) throws Exception {
    whatIsWrittenIsWhatItDoes(server);
  }

  @ParameterizedTest
  @EnumSource
  void serversInJavaDoWhatIsWritten(JavaServer server) throws Exception {
    whatIsWrittenIsWhatItDoes(server);
  }

  /** Who gets into an account of MariaDB is in the server: it is told, and told back. */
  @Test
  void anAccountOfMariadbLetsInItsHolderAlone() throws Exception {
    WrittenServer server = DebianServer.MARIADB;
    install(server);
    assertEquals(0, configure(server, "optional").code());
    Process running = started(server);
    try {
      Credential other =
          ISSUING.issue(
              Lanternfish.name("buoy-018"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);
      assertTrue(served(server, Optional.of(other)), "REQUIRE X509 lets any client in\n" + log());
      String role = "buoy=" + temp.resolve("buoy.pem");
      Run written = configure(server, "optional", "--role", role);
      assertEquals(0, written.code(), written.out() + written.err());
      assertTrue(served(server, Optional.of(BUOY)), written.out() + log());
      assertFalse(served(server, Optional.of(other)), "another client");
      Run again = configure(server, "optional", "--role", role);
      assertTrue(again.out().contains("all is as it is wanted"), again.out() + again.err());
      String back =
          written
              .out()
              .lines()
              .filter(line -> line.contains("REQUIRE X509"))
              .findFirst()
              .orElseThrow(() -> new AssertionError(written.out()));
      ConfiguredServers.call(List.of("sh", "-c", back.strip()));
      assertTrue(served(server, Optional.of(other)), "as before");

      Run nobody = configure(server, "optional", "--role", "kelp=" + temp.resolve("buoy.pem"));
      assertEquals(2, nobody.code(), nobody.out() + nobody.err());
      assertTrue(nobody.err().contains("no account kelp"), nobody.err());
    } finally {
      stop(server, running);
    }
  }

  /** A second Redis copies the first one, which lets nobody in without a certificate. */
  @Test
  void aReplicaOfRedisSpeaksTlsToItsMaster() throws Exception {
    WrittenServer server = DebianServer.REDIS;
    install(server);
    assertEquals(0, configure(server, "mutual").code());
    Path copy = temp.resolve("copy");
    WrittenServer.folder(temp, "copy");
    Path data = Files.createDirectory(temp.resolve("copied"));
    Files.setPosixFilePermissions(data, PosixFilePermissions.fromString("rwxrwxrwx"));
    int second = FreePort.take();
    file(
        copy,
        "redis.conf",
        "bind 127.0.0.1\nport %d\nsave \"\"\ndir %s\nreplicaof %s %d\n"
            .formatted(second, data, "127.0.0.1", port));
    Files.setPosixFilePermissions(
        copy.resolve("redis.conf"), PosixFilePermissions.fromString("rw-r--r--"));
    Run none =
        Run.of("configure", "redis-replica", "--home", copy, "--trust", temp.resolve("trust.pem"));
    assertEquals(2, none.code());
    assertTrue(none.err().contains("only with a certificate of its own"), none.err());
    Run written = client("redis-replica", copy, "trust.pem", "--write");
    assertEquals(0, written.code(), written.out() + written.err());
    Process master = started(server);
    Process replica =
        new ProcessBuilder(server.start(copy))
            .directory(temp.toFile())
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("copy.log").toFile())
            .start();
    try {
      String told = "";
      for (int i = 0; i < 600 && !told.contains("master_link_status:up"); i++) {
        ProcessServer.pause();
        told = ServerTalk.redis(second, "INFO replication");
      }
      assertTrue(
          told.contains("master_link_status:up"),
          told + Files.readString(temp.resolve("copy.log")));
    } finally {
      replica.destroy();
      assertTrue(replica.waitFor(60, TimeUnit.SECONDS));
      stop(server, master);
    }
    Run again = client("redis-replica", copy, "trust.pem");
    assertTrue(again.out().contains("all is as it is wanted"), again.out() + again.err());
    // What serves with it lets in whom its master's authority knows, also where that is set in a
    // file that is taken in: that is told, and whom it knew before stays.
    assertEquals(3, client("redis-replica", home, "other.pem").code(), "there is no such file");
    file(temp, "other.pem", pem(otherRoot()));
    Path main = home.resolve("redis.conf");
    Files.move(main, home.resolve("tls.conf"));
    file(home, "redis.conf", "include " + home.resolve("tls.conf") + "\n");
    Run shared =
        client("redis-replica", home, "other.pem", "--incomplete-chain", "--write", "--json");
    assertTrue(shared.findingIds().contains("trust-shared"), shared.out() + shared.err());
    String settings = Files.readString(main);
    assertTrue(settings.contains("tls-client-cert-file"), settings);
    String trust = Files.readString(home.resolve("tls/replica-servers.pem"));
    assertEquals(3, trust.split("BEGIN CERTIFICATE").length - 1, "root, issuing and the new one");
  }

  /** A program that opens connections, with the buoy's credential. */
  private Run client(String kind, Path where, String trust, String... more) {
    List<Object> line = new ArrayList<>(List.of("configure", kind, "--home", where));
    line.addAll(List.of("--trust", temp.resolve(trust), "--credential", temp.resolve("buoy.key")));
    line.add(temp.resolve("buoy.pem"));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  private static io.symbolon.x509.Certificate otherRoot() {
    return io.symbolon.issue.Authority.root(
            Lanternfish.name("Reef Root"), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM)
        .certificate();
  }

  /** The broker and a client of its own makers with PEM instead of stores, and back again. */
  @Test
  void kafkaTakesPemAsWell() throws Exception {
    WrittenServer server = JavaServer.KAFKA;
    install(server);
    Run written = configure(server, "mutual", "--form", "pem");
    assertEquals(0, written.code(), written.out() + written.err());
    Path own = temp.resolve("client.properties");
    file(temp, "client.properties", "ssl.endpoint.identification.algorithm=\n");
    Run client = client("kafka-client", own, "trust.pem", "--form", "pem", "--write");
    assertEquals(0, client.code(), client.out() + client.err());
    Process running = started(server);
    try {
      assertTrue(served(server, Optional.of(BUOY)), log());
      assertFalse(served(server, Optional.empty()), "without a certificate");
      Path told = temp.resolve("asked.log");
      Process asking =
          new ProcessBuilder(JavaServer.askKafka(port, own))
              .redirectErrorStream(true)
              .redirectOutput(told.toFile())
              .start();
      assertTrue(asking.waitFor(3, TimeUnit.MINUTES) && asking.exitValue() == 0, told.toString());
      assertTrue(Files.readString(told).contains("ssl.keystore.type=PEM"), Files.readString(told));
    } finally {
      stop(server, running);
    }
    Run again = configure(server, "mutual");
    assertTrue(again.out().contains("all is as it is wanted"), "it stays PEM: " + again.out());
    Run back = configure(server, "mutual", "--form", "pkcs12");
    assertEquals(0, back.code(), back.out() + back.err());
    assertTrue(Files.readString(home.resolve("server.properties")).contains(".type=PKCS12"));
    Run none = configure(server, "mutual", "--form", "jks");
    assertEquals(2, none.code());
    assertTrue(none.err().contains("as pkcs12 or pem, and not as jks"), none.err());
  }

  private void whatIsWrittenIsWhatItDoes(WrittenServer server) throws Exception {
    install(server);
    for (String mode : server.modes()) {
      Run written = configure(server, mode);
      assertEquals(0, written.code(), written.out() + written.err());
      Process running = started(server);
      try {
        assertTrue(served(server, Optional.of(BUOY)), mode + ": a good client\n" + log());
        boolean without = served(server, Optional.empty());
        assertEquals(
            server.servesWithout(mode), without, mode + ": a client without a certificate");
      } finally {
        stop(server, running);
      }
      Run again = configure(server, mode);
      assertTrue(again.out().contains("all is as it is wanted"), again.out() + again.err());
    }
    Run read = Run.of("configure", server.word(), "--home", home, "--json");
    String last = server.modes().get(server.modes().size() - 1);
    assertTrue(
        read.json().get("servers").findValuesAsText("mode").contains(last),
        read.out() + read.err());
  }

  private void install(WrittenServer server) throws IOException {
    server.assume();
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    WrittenServer.folder(temp, "etc");
    home = temp.resolve("etc");
    port = FreePort.take();
    server.install(home, port);
    try (Stream<Path> all = Files.walk(home)) {
      for (Path path : all.filter(Files::isRegularFile).toList()) {
        Files.setPosixFilePermissions(path, PosixFilePermissions.fromString("rw-r--r--"));
      }
    }
    if (Files.exists(temp.resolve("accounts.sql"))) {
      Files.setPosixFilePermissions(
          temp.resolve("accounts.sql"), PosixFilePermissions.fromString("rw-r--r--"));
    }
  }

  private boolean served(WrittenServer server, Optional<Credential> credential) {
    return server.talk().isServed(port, HOST, root(), credential);
  }

  private String log() throws IOException {
    return Files.readString(temp.resolve("server.log"));
  }

  private Run configure(WrittenServer server, String mode, String... more) {
    file(temp, "ingest.pem", pem(INGEST.certificate(), issuing()));
    file(temp, "ingest.key", keyPem(INGEST));
    file(temp, "trust.pem", pem(root(), issuing()));
    file(temp, "buoy.pem", pem(BUOY.certificate(), issuing()));
    file(temp, "buoy.key", keyPem(BUOY));
    List<Object> line = new ArrayList<>(List.of("configure", server.word(), "--home", home));
    line.addAll(List.of("--credential", temp.resolve("ingest.key"), temp.resolve("ingest.pem")));
    line.addAll(List.of(temp.resolve("trust.pem"), "--host", HOST, "--mode", mode, "--write"));
    if (server.hasPort()) {
      line.addAll(List.of("--port", String.valueOf(port)));
    }
    if (!mode.equals("one-way")) {
      line.addAll(List.of("--client-trust", temp.resolve("trust.pem")));
      line.addAll(List.of("--client", temp.resolve("buoy.key"), temp.resolve("buoy.pem")));
    }
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  private Process started(WrittenServer server) throws IOException {
    Process process =
        new ProcessBuilder(server.start(home))
            .directory(temp.toFile())
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("server.log").toFile())
            .start();
    while (process.isAlive()) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (socket.isConnected()) {
          return process;
        }
      } catch (IOException e) {
        ProcessServer.pause();
      }
    }
    throw new IOException(server + " did not start: " + log());
  }

  private void stop(WrittenServer server, Process process)
      throws IOException, InterruptedException {
    if (!server.stop(home).isEmpty()) {
      ConfiguredServers.call(server.stop(home));
    }
    process.destroy();
    assertTrue(process.waitFor(60, TimeUnit.SECONDS), server + " ends");
    assertFalse(process.isAlive());
  }
}
