// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Settings put together at random, servers started with them: what {@code configure} reads beside
 * what clients meet; then a change, what they meet then, and everything put back.
 *
 * <p>{@code ./check --settings [NUMBER [FIRST [KIND]]]} makes as many as one likes.
 */
@Tag("long")
@Timeout(value = 4, unit = TimeUnit.HOURS, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class SettingsMachineTest {
  private static final int COUNT = Integer.getInteger("symbolon.settings", 12);
  private static final int FIRST = Integer.getInteger("symbolon.settings.first", 1);
  private static final String ONLY = System.getProperty("symbolon.settings.kind", "");

  @TempDir Path temp;

  static Stream<MadeServer> servers() {
    return Stream.of(
            new MadeNginx(),
            new MadeHttpd(),
            new MadeHaproxy(),
            new MadeMosquitto(),
            new MadeRedis(),
            new MadeLighttpd())
        .filter(server -> ONLY.isEmpty() || ONLY.equals(server.kind()));
  }

  @ParameterizedTest
  @MethodSource("servers")
  void whatIsReadIsWhatRunsAndWhatChangesIsWhatWasAskedFor(MadeServer server) throws Exception {
    boolean there = Files.isExecutable(Path.of(server.program()));
    assertTrue(
        there || !"true".equals(System.getenv("CI")), server.program() + "; .ci/run installs it");
    Assumptions.assumeTrue(there, server.program() + " is not installed");
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    MadeFiles files = new MadeFiles(temp.resolve("files"));
    Map<String, Integer> tally = new TreeMap<>();
    List<String> failed = new ArrayList<>();
    for (int seed = FIRST; seed < FIRST + COUNT; seed++) {
      MadeCase made = new MadeCase(server, seed, temp.resolve(server.kind() + seed), files);
      List<String> differs = made.run();
      made.tally().forEach(word -> tally.merge(word, 1, Integer::sum));
      if (!differs.isEmpty()) {
        failed.add(server.kind() + " " + seed + ":\n  " + String.join("\n  ", differs));
        System.out.println(failed.get(failed.size() - 1));
        made.keep(Path.of("target", "settings", server.kind() + "-" + seed));
      }
    }
    String line =
        "%s: %d of %d agree; %s".formatted(server.kind(), COUNT - failed.size(), COUNT, tally);
    System.out.println(line);
    Files.writeString(Path.of("target", "settings-" + server.kind() + ".txt"), line + "\n");
    assertTrue(failed.isEmpty(), () -> String.join("\n", failed));
  }
}
