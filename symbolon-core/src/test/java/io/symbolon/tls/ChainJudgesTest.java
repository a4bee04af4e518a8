package io.symbolon.tls;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.symbolon.Finding;
import io.symbolon.Level;
import io.symbolon.SymbolonException;
import io.symbolon.fixture.Lanternfish;
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
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The judge of chains beside two that are not ours: the platform's path check and Python's client.
 * Where ours accepts, both accept. Every defect alone, and pairs of them.
 */
class ChainJudgesTest {
  private static final String HOST = "ingest.lanternfish.example";
  private static final int PAIRS = Integer.getInteger("symbolon.chain.pairs", 400);

  @TempDir Path temp;

  /** What each said. */
  private record Said(boolean ours, boolean java, String python, List<String> ids) {}

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

    String judge(ForgedChain.Made made) throws IOException {
      Path folder = Files.createDirectory(temp.resolve("c" + count++));
      Lanternfish.file(
          folder, "chain.pem", Lanternfish.pem(made.shown().toArray(Certificate[]::new)));
      Lanternfish.file(
          folder, "trust.pem", Lanternfish.pem(made.trust().toArray(Certificate[]::new)));
      Lanternfish.file(folder, "key.pem", made.keyPem());
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

  private Said said(ForgedChain.Made made, Python python) throws IOException {
    List<Finding> findings = ours(made);
    return new Said(
        findings.stream().noneMatch(finding -> finding.level() == Level.PROBLEM),
        java(made),
        python.judge(made),
        findings.stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .map(Finding::id)
            .distinct()
            .toList());
  }

  @Test
  void whatOursAcceptsTheOthersAccept() throws Exception {
    needsPython();
    Map<String, ForgedChain.Defect> defects = ForgedChain.defects(HOST, NOW, YEAR);
    assertTrue(defects.size() >= 60, defects.size() + " kinds");
    List<String> wrong = new ArrayList<>();
    StringBuilder table = new StringBuilder();
    List<String> names = List.copyOf(defects.keySet());
    try (Python python = new Python()) {
      for (String name : names) {
        check(name, List.of(defects.get(name)), python, table, wrong);
      }
      int all = names.size() * (names.size() - 1) / 2;
      int step = Math.max(1, all / PAIRS);
      int number = 0;
      for (int i = 0; i < names.size(); i++) {
        for (int j = i + 1; j < names.size(); j++) {
          if (number++ % step == 0) {
            check(
                names.get(i) + " + " + names.get(j),
                List.of(defects.get(names.get(i)), defects.get(names.get(j))),
                python,
                table,
                wrong);
          }
        }
      }
    }
    Files.writeString(Path.of("target", "chain-judges.txt"), table.toString());
    assertEquals(List.of(), wrong, () -> String.join("\n", wrong));
  }

  private void check(
      String name,
      List<ForgedChain.Defect> defects,
      Python python,
      StringBuilder table,
      List<String> wrong)
      throws IOException {
    Said said = said(ForgedChain.make(defects, HOST, NOW, YEAR), python);
    boolean pythonAccepts = said.python().equals("accepted");
    table.append(
        String.format(
            "%-60s ours=%-5s java=%-5s python=%-5s %s %s%n",
            name, said.ours(), said.java(), pythonAccepts, said.ids(), said.python()));
    if (said.ours() && !(said.java() && pythonAccepts)) {
      wrong.add(name + ": java " + said.java() + ", python " + said.python());
    }
    if (name.startsWith("good") && defects.size() == 1 && !said.ours()) {
      wrong.add(name + ": refused by ours: " + said.ids());
    }
  }
}
