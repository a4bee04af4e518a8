// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.PrintStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * Tells a story: headings, sentences, and commands that are shown as they are typed and then run.
 */
final class Teller {
  private final Path folder;
  private final PrintStream out;
  private final Demo.Style style;
  private final Demo.Runner runner;
  private final List<String> missed = new ArrayList<>();

  Teller(Path folder, PrintStream out, Demo.Style style, Demo.Runner runner) {
    this.folder = folder;
    this.out = out;
    this.style = style;
    this.runner = runner;
  }

  Path at(String name) {
    return folder.resolve(name);
  }

  Path folder() {
    return folder;
  }

  /** What did not go as it should. */
  List<String> missed() {
    return missed;
  }

  void heading(String text) {
    out.println();
    out.println(style.heading().apply("== " + text));
  }

  void say(String text) {
    out.println(text);
  }

  void file(Path file, String about) {
    out.println("  " + file + style.faint().apply("  " + about));
  }

  void faint(String text) {
    out.println(style.faint().apply(text));
  }

  void symbolon(int expected, Object... arguments) {
    List<String> all = new ArrayList<>();
    for (Object argument : arguments) {
      all.add(argument.toString());
    }
    String line = style.typed().apply(all);
    out.println();
    out.println(style.command().apply("$ symbolon " + line));
    int code = runner.run(all);
    if (code != expected) {
      missed.add("symbolon " + arguments[0] + " ended with " + code + " instead of " + expected);
    }
  }

  void client(ClientProcess.Finished result, int expected) {
    result.output().lines().forEach(line -> out.println("    " + line));
    if (result.exitCode() != expected) {
      missed.add("the client ended with " + result.exitCode() + " instead of " + expected);
    }
  }
}
