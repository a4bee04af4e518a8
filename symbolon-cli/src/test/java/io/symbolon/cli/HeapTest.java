// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.sun.management.HotSpotDiagnosticMXBean;
import io.symbolon.fixture.Lanternfish;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Nothing that a command has finished with keeps a password or a private key in memory. */
class HeapTest {
  @TempDir Path temp;

  /** Runs a command and writes what is still reachable in memory to a file. */
  static final class Dumped {
    private Dumped() {}

    public static void main(String[] arguments) throws Exception {
      Run run = Run.of((Object[]) Arrays.copyOfRange(arguments, 1, arguments.length));
      ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
          .dumpHeap(arguments[0], true);
      System.exit(run.code());
    }
  }

  @Test
  void neitherPasswordNorKeyIsReachableAfterAJoin() throws Exception {
    Path pile = Files.createDirectory(temp.resolve("pile"));
    Lanternfish.pile(pile);
    Path store = temp.resolve("ingest.p12");
    Path pass = temp.resolve("ingest.pass");
    Path dump = temp.resolve("heap.hprof");
    Process process =
        new ProcessBuilder(
                List.of(
                    Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                    "-Xmx256m",
                    "-cp",
                    System.getProperty("java.class.path"),
                    Dumped.class.getName(),
                    dump.toString(),
                    "join",
                    pile.toString(),
                    "--into",
                    store.toString(),
                    "--seal",
                    "new=" + pass))
            .redirectErrorStream(true)
            .redirectOutput(temp.resolve("log").toFile())
            .start();
    assertTrue(process.waitFor(3, TimeUnit.MINUTES));
    assertTrue(process.exitValue() <= 1, Files.readString(temp.resolve("log")));
    byte[] password = Files.readString(pass).strip().getBytes(StandardCharsets.US_ASCII);
    KeyStore opened =
        KeyStore.getInstance(
            store.toFile(), new String(password, StandardCharsets.US_ASCII).toCharArray());
    byte[] key =
        opened
            .getKey(
                opened.aliases().nextElement(),
                new String(password, StandardCharsets.US_ASCII).toCharArray())
            .getEncoded();
    byte[] heap = Files.readAllBytes(dump);
    assertTrue(contains(heap, "ingest.p12".getBytes(StandardCharsets.US_ASCII)), "a real dump");
    assertEquals(false, contains(heap, password), "the password as octets");
    assertEquals(false, contains(heap, wide(password)), "the password as characters");
    byte[] half = Arrays.copyOfRange(key, key.length / 2, key.length / 2 + 24);
    assertEquals(false, contains(heap, half), "the private key");
  }

  private static byte[] wide(byte[] text) {
    byte[] wide = new byte[2 * text.length];
    for (int i = 0; i < text.length; i++) {
      wide[2 * i + 1] = text[i];
    }
    return wide;
  }

  private static boolean contains(byte[] heap, byte[] wanted) {
    for (int i = 0; i + wanted.length <= heap.length; i++) {
      if (heap[i] == wanted[0]
          && Arrays.equals(heap, i, i + wanted.length, wanted, 0, wanted.length)) {
        return true;
      }
    }
    return false;
  }
}
