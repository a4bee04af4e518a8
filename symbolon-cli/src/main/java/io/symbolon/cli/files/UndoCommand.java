// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.UndoDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Undo;
import io.symbolon.issue.Lifetime;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** {@code symbolon undo FILE}. */
public final class UndoCommand {
  private UndoCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .perhapsOne(
            "PATH",
            "A file to bring back as it was before it was last replaced; or a folder (otherwise this"
                + " one), in which everything comes back that the last command replaced there.")
        .value(
            "at",
            "MOMENT",
            "Undo an earlier replacement: the moment as --list shows it, or the beginning of it.")
        .flag("list", "Only list what could be brought back.")
        .flag(
            "forget",
            "Remove what is kept for good instead of bringing it back: of a file, or of all files of"
                + " a folder.")
        .value(
            "older-than", "TIME", "With --forget: only what was replaced longer ago, such as 90d.")
        .value("keep", "NUMBER", "With --forget: so many versions of each file stay.")
        .common();
  }

  public static int run(Invocation invocation) {
    Path path =
        Invocation.path(invocation.arguments().isEmpty() ? "." : invocation.argument()).normalize();
    Path shown = path.toString().isEmpty() ? Path.of(".") : path;
    boolean folder = Files.isDirectory(shown);
    List<Undo.Replacement> replacements = Undo.replacements(folder ? shown : path);
    Output output = invocation.output();
    if (invocation.has("forget")) {
      return forget(invocation, shown);
    }
    if (invocation.has("older-than") || invocation.has("keep")) {
      throw Invocation.usage(
          "--older-than and --keep say what --forget removes.", "Add --forget, or leave them out.");
    }
    if (invocation.has("list")) {
      list(output, shown, replacements);
      return ExitCode.DONE;
    }
    Optional<String> at = invocation.value("at");
    List<Undo.Replacement> meant =
        at.isPresent()
            ? replacements.stream().filter(one -> one.stamp().startsWith(at.get())).toList()
            : replacements.stream().limit(1).toList();
    if (meant.size() != 1) {
      throw new SymbolonException(
          meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
          "There is nothing to undo for " + Output.shown(shown) + ".",
          meant.isEmpty()
              ? at.map(moment -> "Nothing was replaced at " + Output.shown(moment) + ".")
                  .orElse("No earlier version is kept beside it.")
              : meant.size() + " replacements begin with " + Output.shown(at.orElse("")) + ".",
          "See what there is with symbolon undo --list FOLDER.");
    }
    Undo.bringBack(meant.get(0));
    List<Undo.Version> versions = meant.get(0).versions();
    if (output.isJson()) {
      output.json(UndoDocument.of(versions));
    } else {
      print(output, versions);
    }
    return ExitCode.DONE;
  }

  private static int forget(Invocation invocation, Path path) {
    if (invocation.has("list") || invocation.has("at")) {
      throw Invocation.usage(
          "--forget goes with --older-than and --keep alone.", "Leave --list and --at out.");
    }
    Instant now = invocation.session().clock().instant();
    Duration age =
        invocation
            .value("older-than")
            .map(text -> Duration.between(now, Lifetime.parse(text).from(now)))
            .orElse(Duration.ZERO);
    int keep = invocation.value("keep").map(UndoCommand::number).orElse(0);
    int forgotten = Undo.forget(path, age, keep);
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(UndoDocument.forgotten(forgotten));
    } else {
      if (forgotten == 0) {
        output.line("No earlier version of " + Output.shown(path) + " is kept that this removes.");
        return ExitCode.DONE;
      }
      output.line(
          output.paint().heading("Forgot ")
              + HoldingText.count(forgotten, "earlier version")
              + " of "
              + Output.shown(path));
      output.line(
          output.paint().faint("  they can't be brought back; copies in backups are still there"));
    }
    return ExitCode.DONE;
  }

  private static int number(String text) {
    try {
      return Math.max(0, Integer.parseInt(text));
    } catch (NumberFormatException e) {
      throw Invocation.usage(
          "'" + Output.shown(text) + "' is no number.", "Say, for example, --keep 3.");
    }
  }

  private static void print(Output output, List<Undo.Version> versions) {
    for (Undo.Version version : versions) {
      output.line(
          output.paint().heading("Brought back ")
              + Output.shown(version.target().normalize())
              + ", as it was until "
              + version.replacedAt());
    }
    output.line(
        output.paint().faint("  what was there is kept in turn; the same command brings it back"));
  }

  private static void list(Output output, Path path, List<Undo.Replacement> replacements) {
    if (output.isJson()) {
      output.json(
          UndoDocument.of(replacements.stream().flatMap(one -> one.versions().stream()).toList()));
      return;
    }
    if (replacements.isEmpty()) {
      output.line("No earlier version of anything is kept at " + Output.shown(path) + ".");
      return;
    }
    output.line(
        output.paint().heading("What can be undone")
            + output.paint().faint("  the latest first; --at MOMENT undoes an earlier one"));
    for (Undo.Replacement one : replacements) {
      String lead = "  " + one.stamp() + "  ";
      for (Undo.Version version : one.versions()) {
        output.line(lead + Output.shown(version.target().normalize()));
        lead = " ".repeat(lead.length());
      }
    }
  }
}
