// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.fixture.FreePort;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

/** An authority that answers orders for hosts of the observatory, until this is closed. */
final class ServedAuthority implements AutoCloseable {
  private final Path folder;
  private final int port = FreePort.take();
  private final int httpPort = FreePort.take();
  private Thread serving;

  /** In a folder; hosts are all at this machine. */
  ServedAuthority(Path folder, String... hosts) throws IOException {
    this.folder = folder;
    Run.of(
            "authority",
            "found",
            folder.resolve("root"),
            "--subject",
            "CN=Lanternfish Root",
            "--seal",
            "new=" + folder.resolve("root.pw"))
        .expect(0);
    Files.writeString(folder.resolve("hosts"), "127.0.0.1 " + String.join(" ", hosts) + "\n");
    this.serving = serve();
  }

  private Thread serve() {
    Thread thread =
        new Thread(
            () ->
                Run.of(
                    "authority",
                    "serve",
                    "--by",
                    folder.resolve("root"),
                    "--unlock",
                    "file=" + folder.resolve("root.pw"),
                    "--host",
                    "127.0.0.1",
                    "--listen",
                    "127.0.0.1:" + port,
                    "--hosts",
                    folder.resolve("hosts"),
                    "--http-port",
                    httpPort,
                    "--allow",
                    "*.lanternfish.example",
                    "--terms",
                    "https://www.lanternfish.example/terms"));
    thread.start();
    await()
        .atMost(Duration.ofMinutes(2))
        .ignoreExceptionsInstanceOf(IOException.class)
        .until(
            () -> {
              assertTrue(thread.isAlive(), "it serves");
              try (Socket socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
                return socket.isConnected();
              }
            });
    return thread;
  }

  /** Begins again, after it was closed. */
  void again() {
    assertEquals(Thread.State.TERMINATED, serving.getState());
    serving = serve();
  }

  int port() {
    return port;
  }

  /** The port of this machine that it asks for proofs. */
  int httpPort() {
    return httpPort;
  }

  Path root() {
    return folder.resolve("root/authority.pem");
  }

  /** An order of an account, which is made with the first. */
  Run order(Path account, Object... more) {
    List<Object> line = new ArrayList<>(List.of("order", "--account", account));
    line.addAll(List.of("--from", "https://127.0.0.1:" + port + "/directory"));
    line.addAll(List.of("--trust", root()));
    line.addAll(List.of("--proof", "listen=127.0.0.1:" + httpPort));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  @Override
  public void close() {
    serving.interrupt();
    try {
      serving.join();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
