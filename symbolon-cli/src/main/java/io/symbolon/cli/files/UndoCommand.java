// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.UndoDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.file.Undo;
import io.symbolon.issue.Lifetime;
import io.symbolon.task.undo.UndoJob;
import io.symbolon.task.undo.UndoReport;
import java.nio.file.Path;
import java.util.List;

/** {@code symbolon undo FILE}. */
public final class UndoCommand {
  private UndoCommand() {}

  public static CommandSpec spec(CommandAction self) {
    return CommandSpec.of(self)
        .any(
            "PATH",
            "A file to bring back as it was before it was last replaced; or a folder (otherwise this"
                + " one), in which everything comes back that the last command replaced there; or"
                + " all folders of one command, which come back together.")
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

  public static int run(Invocation invocation, GivenOptions given) {
    UndoReport report = job(given).run(invocation.task());
    Output output = invocation.output();
    if (output.isJson()) {
      output.json(
          report.action() == UndoJob.Action.FORGET
              ? UndoDocument.forgotten(report.forgotten())
              : UndoDocument.of(report.versions()));
      return ExitCode.DONE;
    }
    switch (report.action()) {
      case FORGET -> forgotten(output, report);
      case LIST -> list(output, report);
      case BRING_BACK -> print(output, report.versions());
    }
    return ExitCode.DONE;
  }

  private static UndoJob job(GivenOptions given) {
    List<Path> paths =
        given.arguments().isEmpty()
            ? List.of(Path.of("."))
            : given.paths().stream()
                .map(Path::normalize)
                .map(path -> path.toString().isEmpty() ? Path.of(".") : path)
                .toList();
    boolean forget = given.has("forget");
    if (forget && (given.has("list") || given.has("at"))) {
      throw Usage.wrong(
          "--forget goes with --older-than and --keep alone.", "Leave --list and --at out.");
    }
    if (!forget && (given.has("older-than") || given.has("keep"))) {
      throw Usage.wrong(
          "--older-than and --keep say what --forget removes.", "Add --forget, or leave them out.");
    }
    if (forget) {
      UndoJob job = UndoJob.forget(paths);
      UndoJob aged = given.value("older-than").map(Lifetime::parse).map(job::olderThan).orElse(job);
      return given.value("keep").map(UndoCommand::number).map(aged::keeping).orElse(aged);
    }
    UndoJob job = given.has("list") ? UndoJob.list(paths) : UndoJob.bringBack(paths);
    return given.value("at").map(job::at).orElse(job);
  }

  private static int number(String text) {
    try {
      return Math.max(0, Integer.parseInt(text));
    } catch (NumberFormatException e) {
      throw Usage.wrong(
          "'" + Output.shown(text) + "' is not a number.", "Say, for example, --keep 3.");
    }
  }

  private static void forgotten(Output output, UndoReport report) {
    String shown = Output.shown(report.paths());
    if (report.forgotten() == 0) {
      output.line("No earlier version of " + shown + " is kept that this removes.");
    } else {
      output.line(
          output.paint().heading("Forgot ")
              + HoldingText.count(report.forgotten(), "earlier version")
              + " of "
              + shown);
      output.line(
          output.paint().faint("  they can't be brought back; copies in backups are still there"));
    }
  }

  private static void print(Output output, List<Undo.Version> versions) {
    for (Undo.Version version : versions) {
      output.line(
          version.absent()
              ? output.paint().heading("Took away ")
                  + Output.shown(version.target().normalize())
                  + ", which was not there until "
                  + version.replacedAt()
              : output.paint().heading("Brought back ")
                  + Output.shown(version.target().normalize())
                  + ", as it was until "
                  + version.replacedAt());
    }
    output.line(
        output.paint().faint("  what was there is kept in turn; the same command brings it back"));
  }

  private static void list(Output output, UndoReport report) {
    if (report.replacements().isEmpty()) {
      output.line(
          "No earlier version of anything at "
              + Output.shown(report.paths())
              + " is kept by this account."
              + report.earlier().map(folder -> " " + UndoJob.ofEarlier(folder)).orElse(""));
      return;
    }
    output.line(
        output.paint().heading("What can be undone")
            + output.paint().faint("  the latest first; --at MOMENT undoes an earlier one"));
    for (Undo.Replacement one : report.replacements()) {
      String lead = "  " + one.stamp() + "  ";
      for (Undo.Version version : one.versions()) {
        output.line(
            lead
                + Output.shown(version.target().normalize())
                + (version.absent() ? output.paint().faint("  was not there") : ""));
        lead = " ".repeat(lead.length());
      }
    }
  }
}
