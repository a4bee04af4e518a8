// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.server;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A renewal that is killed leaves the old files or the new ones, never a key of one and a
 * certificate of the other. {@code -Dsymbolon.kills=100} takes more time and more moments.
 */
@Tag("long") // runs with ./check --all
class KilledConfigureTest {
  private static final int KILLS = Integer.getInteger("symbolon.kills", 6);

  @TempDir Path temp;

  private static Process configure(Path home, Path files, String name) throws IOException {
    List<String> line = new ArrayList<>();
    line.add(System.getProperty("java.home") + "/bin/java");
    line.addAll(List.of("-cp", System.getProperty("java.class.path"), "io.symbolon.cli.Main"));
    line.addAll(List.of("configure", "spring-boot", "--home", home.toString()));
    line.addAll(List.of("--credential", files.resolve(name + ".key").toString()));
    line.addAll(List.of(files.resolve(name + ".pem").toString(), "--host", HOST, "--write"));
    return new ProcessBuilder(line)
        .redirectErrorStream(true)
        .redirectOutput(files.resolve("out").toFile())
        .start();
  }

  private static String state(Path home) throws IOException {
    return Files.readString(home.resolve("tls/" + HOST + ".pem"))
        + Files.readString(home.resolve("tls/" + HOST + ".key"));
  }

  @Test
  void aKilledRenewalIsWholeOrNotThere() throws Exception {
    Path files = Files.createDirectory(temp.resolve("files"));
    Path home = Files.createDirectory(temp.resolve("home"));
    file(home, "application.properties", "server.port=8443\n");
    for (String name : List.of("a", "b")) {
      Credential credential = server(HOST, KeyKind.EC_P256);
      assertTrue(credential.certificate().notAfter().isAfter(NOW));
      file(files, name + ".key", keyPem(credential));
      file(files, name + ".pem", pem(credential.chain().toArray(Certificate[]::new)));
    }
    Set<String> whole = new HashSet<>();
    long took = 0;
    for (String name : List.of("a", "b")) {
      long start = System.nanoTime();
      Process process = configure(home, files, name);
      assertEquals(0, process.waitFor(), Files.readString(files.resolve("out")));
      took = System.nanoTime() - start;
      whole.add(state(home));
    }
    assertEquals(2, whole.size());
    Random random = new Random(17);
    for (int i = 0; i < KILLS; i++) {
      Process process = configure(home, files, i % 2 == 0 ? "a" : "b");
      long moment = (long) (took * (0.4 + 0.6 * random.nextDouble()));
      process.waitFor(moment, TimeUnit.NANOSECONDS);
      process.destroyForcibly().waitFor();
      // The next command tidies up what was left.
      Run next = Run.of("undo", "--list", home.resolve("tls"));
      assertTrue(next.code() < 2, next.err());
      assertTrue(whole.contains(state(home)), "neither the old files nor the new ones");
    }
  }
}
