// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.symbolon.explain.ChainExplainer;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.fixture.ForgedChain;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.NginxProgram;
import io.symbolon.handshake.TrustManagers;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.cert.CertificateException;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The judge of chains beside three that are not ours: the platform's path check, Python's client
 * and nginx. Where ours accepts, all accept. Every defect alone, and pairs of them.
 */
class ChainJudgesTest {
  private static final String HOST = "ingest.lanternfish.example";
  private static final int PAIRS = Integer.getInteger("symbolon.chain.pairs", 400);

  /** Problems for others, which do not explain why Java refuses. */
  private static final Set<String> PASSED_BY_JAVA =
      Set.of(
          "no-alternative-names",
          "issuer-not-for-use",
          "trust-without-root",
          "any-use-alone",
          "chain-order");

  @TempDir Path temp;

  /** A chain, and what those said who were asked first. */
  private record Said(
      String name,
      int defects,
      Path folder,
      boolean ours,
      boolean java,
      String python,
      List<String> ids) {
    boolean pythonLoads() {
      return !python.startsWith("refused not loaded");
    }
  }

  private static List<Finding> ours(ForgedChain.Made made) {
    return new ChainExplainer(Side.SERVER, NOW, "x")
        .all(made.shown(), Optional.of(HostName.parse(HOST)), Optional.of(made.trust()));
  }

  private static boolean java(ForgedChain.Made made) {
    try {
      X509Certificate[] chain =
          made.shown().stream().map(Certificate::toX509Certificate).toArray(X509Certificate[]::new);
      TrustManagers.of(made.trust(), Optional.empty()).checkServerTrusted(chain, "ECDHE_ECDSA");
      return true;
    } catch (CertificateException | SymbolonException | IllegalArgumentException e) {
      return false;
    }
  }

  private final class Python implements AutoCloseable {
    private final Process process;
    private final BufferedWriter to;
    private final BufferedReader from;
    private int count;

    Python() throws Exception {
      Path script = temp.resolve("judge.py");
      try (var in = ChainJudgesTest.class.getResourceAsStream("/chain_judge.py")) {
        Files.write(script, in.readAllBytes());
      }
      process =
          new ProcessBuilder(python(), script.toString(), HOST)
              .redirectError(temp.resolve("python.err").toFile())
              .start();
      to = process.outputWriter(StandardCharsets.UTF_8);
      from = process.inputReader(StandardCharsets.UTF_8);
    }

    /** A folder with the chain, its key and whom a client trusts. */
    Path folder(ForgedChain.Made made) throws IOException {
      Path folder = Files.createDirectory(temp.resolve("c" + count++));
      Lanternfish.file(
          folder, "chain.pem", Lanternfish.pem(made.shown().toArray(Certificate[]::new)));
      Lanternfish.file(
          folder, "trust.pem", Lanternfish.pem(made.trust().toArray(Certificate[]::new)));
      Lanternfish.file(folder, "key.pem", made.keyPem());
      return folder;
    }

    String judge(Path folder) throws IOException {
      to.write(folder + "\n");
      to.flush();
      return String.valueOf(from.readLine());
    }

    @Override
    public void close() {
      process.destroy();
    }
  }

  private static String python() {
    return Files.isExecutable(Path.of("/usr/bin/python3")) ? "/usr/bin/python3" : "python3";
  }

  private static void needsPython() {
    boolean there = Files.isExecutable(Path.of("/usr/bin/python3"));
    if (!there && "true".equals(System.getenv("CI"))) {
      throw new AssertionError("python3 is not installed");
    }
    assumeTrue(there, "python3 is not installed");
  }

  private Said said(String name, List<ForgedChain.Defect> defects, Python python)
      throws IOException {
    ForgedChain.Made made = ForgedChain.make(defects, HOST, NOW, YEAR);
    List<Finding> findings = ours(made);
    Path folder = python.folder(made);
    return new Said(
        name,
        defects.size(),
        folder,
        findings.stream().noneMatch(finding -> finding.level() == Level.PROBLEM),
        java(made),
        python.judge(folder),
        findings.stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .map(Finding::id)
            .distinct()
            .toList());
  }

  @Test
  void whatOursAcceptsTheOthersAccept() throws Exception {
    needsPython();
    NginxProgram.assume();
    Map<String, ForgedChain.Defect> defects = ForgedChain.defects(HOST, NOW, YEAR);
    assertTrue(defects.size() >= 60, defects.size() + " kinds");
    List<Said> all = new ArrayList<>();
    List<String> names = List.copyOf(defects.keySet());
    try (Python python = new Python()) {
      for (String name : names) {
        all.add(said(name, List.of(defects.get(name)), python));
      }
      int pairs = names.size() * (names.size() - 1) / 2;
      int step = Math.max(1, pairs / PAIRS);
      int number = 0;
      for (int i = 0; i < names.size(); i++) {
        for (int j = i + 1; j < names.size(); j++) {
          if (number++ % step == 0) {
            all.add(
                said(
                    names.get(i) + " + " + names.get(j),
                    List.of(defects.get(names.get(i)), defects.get(names.get(j))),
                    python));
          }
        }
      }
    }
    compare(all);
  }

  /** A server that can't load a chain can't show it; nginx is asked for those that one can. */
  private void compare(List<Said> all) throws Exception {
    List<Said> shown = all.stream().filter(Said::pythonLoads).toList();
    List<String> wrong = new ArrayList<>();
    StringBuilder table = new StringBuilder();
    try (NginxJudge nginx =
        new NginxJudge(
            Files.createDirectory(temp.resolve("n")),
            HOST,
            shown.stream().map(Said::folder).toList())) {
      for (Said said : all) {
        int number = shown.indexOf(said);
        compare(said, number < 0 ? said.python() : nginx.judge(number), table, wrong);
      }
    }
    Files.writeString(Path.of("target", "chain-judges.txt"), table.toString());
    assertEquals(List.of(), wrong, () -> String.join("\n", wrong));
  }

  private static void compare(Said said, String nginx, StringBuilder table, List<String> wrong) {
    boolean pythonAccepts = said.python().equals("accepted");
    boolean nginxAccepts = nginx.equals("accepted");
    table.append(
        String.format(
            "%-60s ours=%-5s java=%-5s python=%-5s nginx=%-5s %s | %s | %s%n",
            said.name(),
            said.ours(),
            said.java(),
            pythonAccepts,
            nginxAccepts,
            said.ids(),
            said.python(),
            nginx));
    if (said.ours() && !(said.java() && pythonAccepts && nginxAccepts)) {
      wrong.add(
          said.name() + ": java " + said.java() + ", python " + said.python() + ", nginx " + nginx);
    }
    if (!said.java() && PASSED_BY_JAVA.containsAll(said.ids())) {
      wrong.add(said.name() + ": Java refuses, and no cause is named but " + said.ids());
    }
    if (said.defects() == 1
        && said.name().contains("signature broken")
        && !said.ids().contains("signature-broken")) {
      wrong.add(said.name() + ": " + said.ids());
    }
    if (said.name().startsWith("good") && said.defects() == 1 && !said.ours()) {
      wrong.add(said.name() + ": refused by ours: " + said.ids());
    }
  }
}
