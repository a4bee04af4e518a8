// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.explain.ChainExplainer;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.fixture.ForgedChain;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/**
 * Each defect of a chain alone, and the problems that are told of it: all of them, and no others.
 * {@link ChainJudgesTest} holds the same chains against judges that are not ours.
 */
class ForgedChainTest {
  private static String told(ForgedChain.Defect defect) {
    ForgedChain.Made made = ForgedChain.make(List.of(defect), HOST, NOW, YEAR);
    return new ChainExplainer(Side.SERVER, NOW, "x")
        .all(made.shown(), Optional.of(HostName.parse(HOST)), Optional.of(made.trust())).stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .map(Finding::id)
            .distinct()
            .sorted()
            .collect(Collectors.joining(", "));
  }

  private static Map<String, String> expected() throws IOException {
    try (var in = ForgedChainTest.class.getResourceAsStream("/chain-defects.txt")) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8)
          .lines()
          .filter(line -> !line.startsWith("#"))
          .map(line -> line.split("\\|", -1))
          .collect(
              Collectors.toMap(
                  parts -> parts[0].strip(), parts -> parts[1].strip(), (a, b) -> a, TreeMap::new));
    }
  }

  @Test
  void everyDefectIsToldAndNothingElse() throws IOException {
    Map<String, String> told = new TreeMap<>();
    ForgedChain.defects(HOST, NOW, YEAR).forEach((name, defect) -> told.put(name, told(defect)));
    assertEquals(lines(expected()), lines(told));
  }

  private static String lines(Map<String, String> all) {
    return all.entrySet().stream()
        .map(one -> one.getKey() + " | " + one.getValue())
        .collect(Collectors.joining("\n"));
  }
}
