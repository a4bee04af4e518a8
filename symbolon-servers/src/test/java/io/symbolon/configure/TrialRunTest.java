// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.file.StateFolder;
import io.symbolon.server.TrialStart;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.ServerCommand;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Copies of servers that are started as a check: what a killed check has left is put away. */
class TrialRunTest {
  private final List<String> told = new ArrayList<>();
  private final TrialStart trial =
      new TrialStart() {
        @Override
        public Map<String, byte[]> files(Path folder, int port) {
          return Map.of("main.conf", new byte[0]);
        }

        @Override
        public ServerCommand start(Path folder) {
          return ServerCommand.of("start", folder.toString());
        }

        @Override
        public ServerCommand stop(Path folder) {
          return ServerCommand.of("stop", folder.toString());
        }

        @Override
        public Path log(Path folder) {
          return folder.resolve("log");
        }

        @Override
        public Path running(Path folder) {
          return folder.resolve("pid");
        }
      };

  private CommandResult run(ServerCommand command) {
    told.add(String.join(" ", command.words()));
    Path running = Path.of(command.words().get(1), "pid");
    try {
      if (command.words().get(0).equals("start")) {
        Files.writeString(running, "1");
      } else {
        Files.deleteIfExists(running);
      }
    } catch (IOException e) {
      return new CommandResult(CommandResult.End.ENDED, 1, e.toString());
    }
    return new CommandResult(CommandResult.End.ENDED, 0, "");
  }

  private static Path left(String pid) throws IOException {
    Path folder = StateFolder.newWorkFolder("symbolon-trial");
    Files.writeString(folder.resolve("pid"), pid + "\n");
    Files.setLastModifiedTime(folder, FileTime.from(Instant.now().minus(Duration.ofMinutes(20))));
    return folder;
  }

  @Test
  void aCopyThatWasLeftIsStoppedAndNobodyElse() throws IOException {
    Path others = left(String.valueOf(ProcessHandle.current().pid())); // a number that came again
    Path own = left("");
    Process named =
        new ProcessBuilder("sh", "-c", "sleep 300; : " + own.resolve("main.conf")).start();
    try {
      Files.writeString(own.resolve("pid"), String.valueOf(named.pid()));
      Files.setLastModifiedTime(own, FileTime.from(Instant.now().minus(Duration.ofMinutes(20))));
      TrialRun.Outcome outcome = TrialRun.of(trial, this::run);
      assertTrue(outcome.failed().isEmpty());
      assertEquals(
          List.of("stop " + own, "start " + outcome.folder(), "stop " + outcome.folder()), told);
      for (Path folder : List.of(others, own, outcome.folder())) {
        assertFalse(Files.exists(folder), folder.toString());
      }
    } finally {
      named.descendants().forEach(ProcessHandle::destroy);
      named.destroy();
    }
  }
}
