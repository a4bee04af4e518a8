// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.fixture.Lanternfish;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A process that is killed while it issues credentials leaves nothing out of the list. */
@Tag("long") // runs with ./check --all
class KilledWhileIssuingTest {
  private static final int ROUNDS = 6;
  private static final int CREDENTIALS = 200;

  @TempDir Path temp;

  private Process issue(int round) throws Exception {
    Path list = temp.resolve("list-" + round);
    Files.writeString(
        list,
        IntStream.range(0, CREDENTIALS)
            .mapToObj(i -> "buoy-" + round + "-" + i)
            .collect(Collectors.joining("\n")));
    List<String> line = new ArrayList<>();
    line.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    line.addAll(List.of("-cp", System.getProperty("java.class.path")));
    line.add("io.symbolon.cli.Main");
    line.addAll(List.of("authority", "issue", "--by", temp.resolve("root").toString()));
    line.addAll(List.of("--unlock", "file=" + temp.resolve("root.pass")));
    line.addAll(List.of("--list", list.toString(), "--as", "pem", "--unsealed"));
    line.addAll(List.of("--into", temp.resolve("out-" + round) + File.separator));
    return new ProcessBuilder(line)
        .redirectErrorStream(true)
        .redirectOutput(temp.resolve("log-" + round).toFile())
        .start();
  }

  @Test
  void theListAndTheFolderAgreeEveryTime() throws Exception {
    Lanternfish.file(temp, "root.pass", "a password for the test");
    assertEquals(
        0,
        Run.of(
                "authority",
                "found",
                temp.resolve("root"),
                "--subject",
                "CN=Lanternfish Root",
                "--seal",
                "file=" + temp.resolve("root.pass"))
            .code());
    Random random = new Random(42);
    int killed = 0;
    for (int round = 0; round < ROUNDS; round++) {
      Process process = issue(round);
      Path certificates = temp.resolve("root/register");
      long before = length(certificates);
      // At a moment of its work: when the register has grown by so much, or a little later.
      long more = random.nextInt(CREDENTIALS) * 500L;
      while (process.isAlive() && length(certificates) < before + more) {
        Thread.onSpinWait();
      }
      Thread.sleep(random.nextInt(60));
      if (process.isAlive()) {
        killed++;
      }
      process.destroyForcibly();
      assertTrue(process.waitFor(120, TimeUnit.SECONDS));
      agree(round);
    }
    assertTrue(
        killed > 0, "every process had ended before: " + Files.readString(temp.resolve("log-0")));
  }

  private static long length(Path file) throws Exception {
    return Files.size(file);
  }

  private void agree(int round) throws Exception {
    Run list = Run.of("authority", "list", temp.resolve("root"), "--json");
    assertEquals(0, list.code(), list.out() + list.err());
    assertEquals(List.of(), list.findingIds());
    Set<String> listed = new HashSet<>();
    Set<String> prints = new HashSet<>();
    for (JsonNode one : list.json().at("/authority/issued")) {
      assertTrue(listed.add(one.get("serial").asText()), "a serial number twice");
      prints.add(one.get("sha256").asText());
    }
    Set<String> files =
        new HashSet<>(
            Run.of("survey", temp.resolve("root/certificates.pem"), "--json")
                .json()
                .findValuesAsText("serial"));
    assertEquals(listed, files);
    Path out = temp.resolve("out-" + round);
    if (Files.exists(out)) { // all that was handed out is on the list
      JsonNode handedOut = Run.of("survey", out, "--json").json();
      for (String print : handedOut.findValuesAsText("sha256")) {
        assertTrue(prints.contains(print), print);
      }
    }
  }
}
