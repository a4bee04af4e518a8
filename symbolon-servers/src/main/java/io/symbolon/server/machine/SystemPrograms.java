// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.seal.Secret;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs programs of this machine: with a short input or none, in a bounded time, and keeping a
 * bounded part of what they print. A program whose children keep the output open is not waited for.
 */
final class SystemPrograms implements Programs {
  private static final Logger LOG = LoggerFactory.getLogger(SystemPrograms.class);
  private static final long A_MOMENT = 500; // milliseconds

  @Override
  public CommandResult run(ServerCommand command) {
    Optional<byte[]> input =
        command.input().isEmpty()
            ? Optional.empty()
            : Optional.of(
                (String.join("\n", command.input()) + "\n").getBytes(StandardCharsets.UTF_8));
    return run(command, input);
  }

  @Override
  public CommandResult run(ServerCommand command, Secret secret) {
    byte[] octets = secret.revealUtf8();
    byte[] line = Arrays.copyOf(octets, octets.length + 1);
    line[octets.length] = '\n';
    try {
      return run(command, Optional.of(line));
    } finally {
      Arrays.fill(octets, (byte) 0);
      Arrays.fill(line, (byte) 0);
    }
  }

  private static CommandResult run(ServerCommand command, Optional<byte[]> input) {
    Process process;
    try {
      ProcessBuilder builder = command.start().builder().redirectErrorStream(true);
      if (input.isEmpty()) {
        builder.redirectInput(ProcessBuilder.Redirect.from(nowhere()));
      }
      process = builder.start();
    } catch (SymbolonException e) {
      return new CommandResult(
          CommandResult.End.REFUSED,
          -1,
          e.statement() + " " + e.seen() + " " + e.remedy().advice());
    } catch (IOException e) {
      return new CommandResult(CommandResult.End.NOT_STARTED, -1, String.valueOf(e.getMessage()));
    }
    input.ifPresent(one -> tell(process, one));
    Collected collected = new Collected(process.getInputStream());
    Thread reader = new Thread(collected, "output of " + command.words().get(0));
    reader.setDaemon(true);
    reader.start();
    try {
      boolean ended = process.waitFor(command.limit().toMillis(), TimeUnit.MILLISECONDS);
      if (!ended) {
        process.descendants().forEach(ProcessHandle::destroyForcibly);
        process.destroyForcibly();
      }
      reader.join(A_MOMENT);
      return ended
          ? new CommandResult(
              CommandResult.End.ENDED,
              process.exitValue(),
              (process.exitValue() == 0 ? "" : lowered(command)) + collected.text())
          : new CommandResult(CommandResult.End.TOO_LONG, -1, collected.text());
    } catch (InterruptedException e) {
      process.destroyForcibly();
      Thread.currentThread().interrupt();
      return new CommandResult(CommandResult.End.TOO_LONG, -1, collected.text());
    }
  }

  /** Of a program that failed: that it had another account's rights alone. */
  private static String lowered(ServerCommand command) {
    try {
      return command.start().lowered().map(sentence -> sentence + " ").orElse("");
    } catch (IOException | SymbolonException e) {
      LOG.debug("as whom it ran is not known any more", e);
      return "";
    }
  }

  private static void tell(Process process, byte[] input) {
    try (OutputStream out = process.getOutputStream()) {
      out.write(input);
    } catch (IOException e) {
      LOG.debug("the program did not read what it was told", e);
    }
  }

  private static java.io.File nowhere() {
    return new java.io.File(
        System.getProperty("os.name", "").startsWith("Windows") ? "NUL" : "/dev/null");
  }

  /** The first half and the last half of what may be kept. */
  private static final class Collected implements Runnable {
    private static final int HALF = Limits.COMMAND_OUTPUT / 2;

    private final InputStream in;
    private final byte[] first = new byte[HALF];
    private final byte[] last = new byte[HALF];
    private long all;

    Collected(InputStream in) {
      this.in = in;
    }

    @Override
    public void run() {
      byte[] buffer = new byte[8192];
      try {
        for (int count = in.read(buffer); count >= 0; count = in.read(buffer)) {
          take(buffer, count);
        }
      } catch (IOException e) {
        // the process is gone: what was read is what there is
      }
    }

    private synchronized void take(byte[] buffer, int count) {
      for (int i = 0; i < count; i++, all++) {
        if (all < HALF) {
          first[(int) all] = buffer[i];
        } else {
          last[(int) ((all - HALF) % HALF)] = buffer[i];
        }
      }
    }

    synchronized String text() {
      String start = new String(first, 0, (int) Math.min(all, HALF), StandardCharsets.UTF_8);
      if (all <= HALF) {
        return start;
      }
      long rest = all - HALF;
      if (rest <= HALF) {
        return start + new String(last, 0, (int) rest, StandardCharsets.UTF_8);
      }
      int cut = (int) (rest % HALF);
      byte[] ordered = new byte[HALF];
      System.arraycopy(last, cut, ordered, 0, HALF - cut);
      System.arraycopy(last, 0, ordered, HALF - cut, cut);
      return start
          + "\n["
          + (rest - HALF)
          + " octets left out]\n"
          + new String(ordered, StandardCharsets.UTF_8);
    }
  }
}
