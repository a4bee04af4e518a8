// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Commands that change the same stores at the same time lose nothing that one of them has done. */
@Tag("long") // runs with ./check --all
class ManyAtOnceTest {
  private static final int EACH = 10; // of two kinds of commands: 20 processes
  private static final String PASSWORD = "a password for the test";

  @TempDir Path temp;

  static Process start(Path log, String... arguments) throws Exception {
    List<String> line = new ArrayList<>();
    line.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    line.addAll(List.of("-XX:TieredStopAtLevel=1", "-Xmx128m"));
    line.addAll(List.of("-cp", System.getProperty("java.class.path")));
    line.add("io.symbolon.cli.Main");
    line.addAll(List.of(arguments));
    return new ProcessBuilder(line)
        .redirectErrorStream(true)
        .redirectOutput(log.toFile())
        .redirectInput(ProcessBuilder.Redirect.from(new java.io.File("/dev/null")))
        .start();
  }

  private KeyStore open(Path store) throws Exception {
    return KeyStore.getInstance(store.toFile(), PASSWORD.toCharArray());
  }

  private void beginStores(Path keys, Path trust) throws Exception {
    Path pass = Lanternfish.file(temp, "pass", PASSWORD + "\n");
    assertEquals(
        0,
        Run.of(
                "request",
                "--subject",
                "CN=first",
                "--for",
                "client",
                "--into",
                temp.resolve("first.csr"),
                "--key-into",
                keys,
                "--alias",
                "first",
                "--protection",
                "weak", // few rounds: the time goes into the race
                "--seal",
                "file=" + pass)
            .code());
    Path root = Lanternfish.file(temp, "root.pem", Lanternfish.pem(Lanternfish.root()));
    assertEquals(
        0,
        Run.of(
                "truststore",
                root,
                "--into",
                trust,
                "--protection",
                "weak",
                "--seal",
                "file=" + pass)
            .code());
  }

  private static Certificate root(int number) {
    return Authority.root(
            Lanternfish.name("Root " + number),
            KeyKind.EC_P256,
            Lanternfish.NOW,
            Lanternfish.YEAR,
            Lanternfish.RANDOM)
        .certificate();
  }

  @Test
  void twentyProcessesLoseNoKeyAndNoCertificate() throws Exception {
    Path keys = temp.resolve("keys.p12");
    Path trust = temp.resolve("trust.p12");
    beginStores(keys, trust);
    Map<Path, Process> processes = new TreeMap<>();
    for (int i = 0; i < EACH; i++) {
      Path authority = Lanternfish.file(temp, i + ".pem", Lanternfish.pem(root(i)));
      Path first = temp.resolve("log-request-" + i);
      processes.put(
          first,
          start(
              first,
              "request",
              "--subject",
              "CN=buoy-" + i,
              "--for",
              "client",
              "--into",
              temp.resolve(i + ".csr").toString(),
              "--key-into",
              keys.toString(),
              "--alias",
              "buoy-" + i,
              "--replace",
              "--unlock",
              "file=" + temp.resolve("pass")));
      Path second = temp.resolve("log-trust-" + i);
      processes.put(
          second,
          start(
              second,
              "truststore",
              authority.toString(),
              "--add",
              "--into",
              trust.toString(),
              "--unlock",
              "file=" + temp.resolve("pass")));
    }
    for (Map.Entry<Path, Process> one : processes.entrySet()) {
      assertTrue(one.getValue().waitFor(10, TimeUnit.MINUTES), one.getKey().toString());
      assertEquals(0, one.getValue().exitValue(), () -> one.getKey() + ": " + read(one.getKey()));
    }
    assertEquals(EACH + 1, open(keys).size());
    assertEquals(EACH + 1, open(trust).size());
    nothingIsLeftBeside();
  }

  private static String read(Path file) {
    try {
      return Files.readString(file, StandardCharsets.UTF_8);
    } catch (java.io.IOException e) {
      return e.toString();
    }
  }

  private void nothingIsLeftBeside() throws Exception {
    try (Stream<Path> files = Files.list(temp)) {
      List<String> hidden =
          files
              .map(file -> file.getFileName().toString())
              .filter(name -> name.startsWith(".symbolon"))
              .toList();
      assertEquals(List.of(), hidden);
    }
  }

  @Test
  void threadsOfOneProcessLoseNothingEither() throws Exception {
    Path keys = temp.resolve("keys.p12");
    Path trust = temp.resolve("trust.p12");
    beginStores(keys, trust);
    ExecutorService threads = Executors.newFixedThreadPool(8);
    try {
      List<Callable<Run>> work = new ArrayList<>();
      for (int i = 0; i < 8; i++) {
        Path authority = Lanternfish.file(temp, i + ".pem", Lanternfish.pem(root(i)));
        work.add(
            () ->
                Run.of(
                    "truststore",
                    authority,
                    "--add",
                    "--into",
                    trust,
                    "--unlock",
                    "file=" + temp.resolve("pass")));
      }
      for (Future<Run> one : threads.invokeAll(work)) {
        assertEquals(0, one.get().code(), one.get().err());
      }
    } finally {
      threads.shutdownNow();
    }
    assertEquals(9, open(trust).size());
    nothingIsLeftBeside();
  }
}
