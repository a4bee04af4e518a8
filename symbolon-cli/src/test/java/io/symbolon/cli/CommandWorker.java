// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Arrays;
import java.util.concurrent.TimeUnit;

/**
 * A process in a folder that runs one command after the other, and a program {@code symbolon} for a
 * shell that hands its arguments over to it: what a shell makes of a line is tried without a new
 * Java for each.
 */
final class CommandWorker implements AutoCloseable {
  private final Process process;

  /** Starts one in a folder; the program is in a folder below it. */
  CommandWorker(Path folder, Path programs) throws Exception {
    Path talk = Files.createDirectory(programs.resolve("talk"));
    for (String pipe : new String[] {"ask", "answer"}) {
      int code =
          new ProcessBuilder("mkfifo", talk.resolve(pipe).toString()).inheritIO().start().waitFor();
      if (code != 0) {
        throw new IOException("mkfifo ended with " + code);
      }
    }
    Path program =
        Files.writeString(
            programs.resolve("symbolon"),
            """
            #!/bin/bash
            talk='%s'
            : > "$talk/arguments"
            (($# == 0)) || printf '%%s\\0' "$@" > "$talk/arguments"
            echo run > "$talk/ask"
            read -r code < "$talk/answer"
            cat "$talk/out"
            cat "$talk/err" >&2
            exit "$code"
            """
                .formatted(talk));
    Files.setPosixFilePermissions(program, PosixFilePermissions.fromString("rwxr-xr-x"));
    process =
        new ProcessBuilder(
                System.getProperty("java.home") + "/bin/java",
                "-Xmx256m",
                "-XX:+UseSerialGC",
                "-cp",
                System.getProperty("java.class.path"),
                CommandWorker.class.getName(),
                talk.toString())
            .directory(folder.toFile())
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
  }

  /** Runs each command that is asked for, until the process is killed. */
  public static void main(String[] arguments) throws IOException {
    Path talk = Path.of(arguments[0]);
    while (true) {
      String unused = Files.readString(talk.resolve("ask")); // waits for somebody who writes
      String whole = Files.readString(talk.resolve("arguments"));
      Object[] typed = whole.isEmpty() ? new Object[0] : split(whole);
      String code = "70";
      try {
        Run run = Run.of(typed);
        Files.writeString(talk.resolve("out"), run.out(), StandardCharsets.UTF_8);
        Files.writeString(talk.resolve("err"), run.err(), StandardCharsets.UTF_8);
        code = String.valueOf(run.code());
      } catch (AssertionError | RuntimeException e) {
        Files.writeString(talk.resolve("out"), "");
        Files.writeString(talk.resolve("err"), e.toString());
      }
      Files.writeString(talk.resolve("answer"), code + "\n");
    }
  }

  private static Object[] split(String whole) {
    return Arrays.stream(whole.substring(0, whole.length() - 1).split("\0", -1)).toArray();
  }

  @Override
  public void close() {
    process.destroyForcibly().onExit().orTimeout(1, TimeUnit.MINUTES).join();
  }
}
