// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.Run;
import io.symbolon.fixture.FreePort;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The whole story, with a real server and a real client in a process of its own. */
class DemoTest {
  @TempDir Path folder;

  @Test
  void theStoryIsToldToItsEnd() throws Exception {
    Path into = folder.resolve("demo");
    Run run = Run.of("demo", "--into", into);
    assertEquals(0, run.code(), run.out() + run.err());
    for (String line :
        List.of(
            "$ symbolon survey " + into + "/pile --host ingest.lanternfish.example",
            "fits: proven by a signature",
            "Joined ingest.lanternfish.example",
            "lanternfish-issuing-a",
            "a client with this trust accepts this server",
            "got 200 over TLSv1.3",
            "Lanternfish ingest: 17 buoys reporting",
            "they accept each other",
            "refused: ",
            "unable to find valid certification path",
            "Tidewater Certificate Desk wants the organisation",
            "Completed catalogue.lanternfish.example",
            "answered by " + into + "/catalogue.p12",
            "revoked  ",
            "Currentflow  written, restarted, and the server does what is wanted",
            "Obtained ingest.lanternfish.example",
            "handshakes with 2 certificates, 0 failed")) {
      assertTrue(run.out().contains(line), () -> line + "\nis missing in\n" + run.out());
    }
    assertEquals(
        List.of("symbolon request: the request was not written."), // as the story tells
        run.err().lines().filter(line -> line.startsWith("symbolon")).toList());
    for (String file :
        List.of("ingest.pass", "truststore.pass", "issuing.pass", "buoy-passwords/buoy-017.pass")) {
      String password = Files.readString(into.resolve(file)).strip();
      assertFalse(run.out().contains(password), "a password was shown");
    }
    assertEquals(4, Run.of("demo", "--into", into).code());
    int port = FreePort.take();
    Thread serving = new Thread(() -> Run.of("demo", "--into", into, "--serve", port));
    serving.start();
    Run probed;
    do {
      probed =
          Run.of(
              "probe",
              "127.0.0.1:" + port,
              "--host",
              "ingest.lanternfish.example",
              "--trust",
              into.resolve("truststore.p12"),
              "--unlock",
              "file=" + into.resolve("truststore.pass"),
              "--one-handshake");
    } while (probed.code() == 5 && serving.isAlive());
    Run database =
        Run.of(
            "probe",
            "127.0.0.1:" + (port + 1),
            "--start-with",
            "postgresql",
            "--host",
            "ingest.lanternfish.example",
            "--trust",
            into.resolve("truststore.p12"),
            "--unlock",
            "file=" + into.resolve("truststore.pass"));
    assertEquals(0, database.code(), database.out() + database.err());
    serving.interrupt();
    serving.join();
    assertEquals(0, probed.code(), probed.out() + probed.err());
    assertEquals(4, Run.of("demo", "--into", folder.resolve("no"), "--serve", port).code());
    assertEquals(2, Run.of("demo", "--serve", "door").code());
    Run empty = Run.of("demo", "--into", folder, "--serve", port);
    assertEquals(3, empty.code());
    assertTrue(empty.err().contains("ingest.pass can't be read"), empty.err());
    try (ServerSocket taken = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      Run refused = Run.of("demo", "--into", into, "--serve", taken.getLocalPort());
      assertEquals(3, refused.code(), refused.out() + refused.err());
    }
  }
}
