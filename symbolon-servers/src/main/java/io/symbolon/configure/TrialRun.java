// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.StateFolder;
import io.symbolon.server.TrialStart;
import io.symbolon.server.machine.CommandResult;
import io.symbolon.server.machine.ServerCommand;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts a copy of a server in a folder that nobody else may enter, and stops it: also when this
 * program is told to end meanwhile. A copy that one left that was killed is stopped by the next.
 */
final class TrialRun {
  private static final Logger LOG = LoggerFactory.getLogger(TrialRun.class);
  private static final String PREFIX = "symbolon-trial";
  private static final Duration LEFT = Duration.ofMinutes(10); // longer than any trial takes
  private static final int MOST = 64 << 10;
  private static final int TIMES = 600;
  private static final long PAUSE = 50; // milliseconds

  private TrialRun() {}

  /**
   * What came of it.
   *
   * @param folder where the copy's files were
   * @param failed why it did not start; nothing where it did
   */
  record Outcome(Path folder, Optional<CommandResult> failed) {}

  static Outcome of(TrialStart trial, Function<ServerCommand, CommandResult> run) {
    try {
      Path folder = StateFolder.newWorkFolder(PREFIX);
      leftBehind(folder).forEach(left -> end(left, trial, run));
      Thread atTheEnd = new Thread(() -> end(folder, trial, run), "end of a trial");
      Runtime.getRuntime().addShutdownHook(atTheEnd);
      try {
        for (Map.Entry<String, byte[]> file : trial.files(folder, freePort()).entrySet()) {
          Files.write(folder.resolve(file.getKey()), file.getValue());
        }
        CommandResult result = run.apply(trial.start(folder));
        boolean good = result.isGood() && await(trial.running(folder), true, TIMES);
        if (result.end() != CommandResult.End.NOT_STARTED && Files.exists(trial.running(folder))) {
          CommandResult stopped = run.apply(trial.stop(folder));
          boolean gone = await(trial.running(folder), false, TIMES);
          if (good && !(stopped.isGood() && gone)) {
            result = stopped;
            good = false;
          }
        }
        return new Outcome(
            folder, good ? Optional.empty() : Optional.of(withLog(result, trial.log(folder))));
      } finally {
        delete(folder);
        forget(atTheEnd);
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "A copy of the server could not be started to check its settings.",
          "The folder for its files can't be used: " + e.getMessage() + ".",
          "Make room there, and give the command again.",
          e);
    }
  }

  private static void forget(Thread atTheEnd) {
    try {
      Runtime.getRuntime().removeShutdownHook(atTheEnd);
    } catch (IllegalStateException e) {
      LOG.debug("the program is about to end", e);
    }
  }

  private static void end(
      Path folder, TrialStart trial, Function<ServerCommand, CommandResult> run) {
    if (isCopy(trial.running(folder), folder)) {
      CommandResult stopped = run.apply(trial.stop(folder));
      LOG.debug("stopping the copy in {} ended with {}", folder, stopped.exitCode());
      await(trial.running(folder), false, TIMES);
    }
    delete(folder);
  }

  /** A number of a process that is over may be another's by now, which nobody may stop. */
  private static boolean isCopy(Path running, Path folder) {
    try {
      String number = Files.isRegularFile(running) ? Files.readString(running).strip() : "";
      return number.matches("[0-9]{1,18}")
          && ProcessHandle.of(Long.parseLong(number))
              .flatMap(process -> process.info().commandLine())
              .filter(line -> line.contains(folder.toString()))
              .isPresent();
    } catch (IOException e) {
      return false;
    }
  }

  /** Folders of this account's trials that are long over. */
  private static List<Path> leftBehind(Path own) throws IOException {
    List<Path> left = new ArrayList<>();
    FileTime limit = FileTime.from(Instant.now().minus(LEFT));
    Path around = own.toAbsolutePath().getParent();
    if (around == null) {
      return left;
    }
    try (DirectoryStream<Path> folders = Files.newDirectoryStream(around, PREFIX + "*")) {
      for (Path folder : folders) {
        if (Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)
            && Files.getOwner(folder, LinkOption.NOFOLLOW_LINKS).equals(Files.getOwner(own))
            && Files.getLastModifiedTime(folder).compareTo(limit) < 0) {
          left.add(folder);
        }
      }
    } catch (NoSuchFileException | DirectoryIteratorException e) {
      LOG.debug("a folder of a trial went away just now", e);
    }
    return left;
  }

  /** Whether a file comes to be, or goes, in time. */
  private static boolean await(Path file, boolean there, int times) {
    for (int i = 0; i < times; i++) {
      if (Files.exists(file) == there) {
        return true;
      }
      try {
        Thread.sleep(PAUSE);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return false;
      }
    }
    return false;
  }

  private static CommandResult withLog(CommandResult result, Path log) throws IOException {
    if (!Files.isRegularFile(log)) {
      return result;
    }
    try (java.io.InputStream in = Files.newInputStream(log)) {
      String said = new String(in.readNBytes(MOST), StandardCharsets.UTF_8);
      return new CommandResult(result.end(), result.exitCode(), said + result.output());
    }
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    }
  }

  /** The copy may still be putting files of its own away; there is no secret in what is left. */
  private static void delete(Path folder) {
    for (int i = 0; i < TIMES && Files.exists(folder); i++) {
      try (Stream<Path> paths = Files.walk(folder)) {
        for (Path path : paths.sorted(Comparator.reverseOrder()).toList()) {
          Files.deleteIfExists(path);
        }
      } catch (IOException | UncheckedIOException e) {
        LOG.debug("the folder of a copy could not be removed yet", e);
        await(folder, false, 1);
      }
    }
  }
}
