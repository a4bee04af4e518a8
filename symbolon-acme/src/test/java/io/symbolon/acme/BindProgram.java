// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Assumptions;

/** The name server BIND with the observatory's zone, which takes updates that are signed. */
final class BindProgram implements AutoCloseable {
  private static final Path PROGRAM = Path.of("/usr/sbin/named");

  final int port;
  final Path key;
  private final Process process;

  private BindProgram(int port, Path key, Process process) {
    this.port = port;
    this.key = key;
    this.process = process;
  }

  static void assume() {
    boolean there = Files.isExecutable(PROGRAM);
    if (!there && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("BIND is not installed; .ci/run installs it");
    }
    Assumptions.assumeTrue(there, "BIND is not installed");
  }

  InetSocketAddress address() {
    return ServedAuthority.loopback(port);
  }

  static BindProgram start(Path home) throws IOException {
    Files.createDirectories(home);
    int port = FreePort.take();
    Path key = home.resolve("update.key");
    Files.writeString(
        key,
        """
        # for updates of the zone
        key "buoys" {
          algorithm hmac-sha256;
          secret "a2VscCBmb3Jlc3QgYXQgdGhlIGRlZXAgc2VhIGZsb29y";
        };
        """);
    Files.writeString(
        home.resolve("zone"),
        zone(
            "lanternfish.example",
            """
            ingest IN A 127.0.0.1
            _acme-challenge.catalogue IN CNAME catalogue.proofs.example.
            """));
    Files.writeString(home.resolve("proofs"), zone("proofs.example", ""));
    Files.writeString(
        home.resolve("named.conf"),
        """
        include "%2$s/update.key";
        options {
          directory "%2$s";
          listen-on port %1$d { 127.0.0.1; };
          listen-on-v6 { none; };
          pid-file "%2$s/named.pid";
          session-keyfile "%2$s/session.key";
          recursion no;
          dnssec-validation no;
          empty-zones-enable no;
        };
        controls { };
        zone "lanternfish.example" { type primary; file "zone"; allow-update { key "buoys"; }; };
        zone "proofs.example" { type primary; file "proofs"; allow-update { key "buoys"; }; };
        """
            .formatted(port, home));
    Process process =
        new ProcessBuilder(
                PROGRAM.toString(), "-g", "-n", "1", "-c", home.resolve("named.conf").toString())
            .redirectErrorStream(true)
            .redirectOutput(home.resolve("log").toFile())
            .start();
    while (process.isAlive()) {
      try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
        if (socket.isConnected()) {
          return new BindProgram(port, key, process);
        }
      } catch (IOException e) {
        pause();
      }
    }
    throw new IOException("BIND did not start: " + Files.readString(home.resolve("log")));
  }

  private static void pause() {
    try {
      Thread.sleep(50);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static String zone(String name, String more) {
    return """
        $TTL 60
        @ IN SOA ns.%1$s. buoys.%1$s. ( 1 60 60 60 60 )
        @ IN NS ns.%1$s.
        ns IN A 127.0.0.1
        %2$s"""
        .formatted(name, more);
  }

  @Override
  public void close() {
    process.destroy();
    process.onExit().orTimeout(30, TimeUnit.SECONDS).join();
  }
}
