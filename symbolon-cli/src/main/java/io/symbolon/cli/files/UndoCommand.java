// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.document.UndoDocument;
import io.symbolon.cli.frame.CommandAction;
import io.symbolon.cli.frame.CommandSpec;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.session.ExitCode;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Undo;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/** {@code symbolon undo FILE}. */
public final class UndoCommand {
  private static final String EARLIER = ".symbolon-undo"; // where older versions kept files

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
    UndoJob job = UndoJob.of(given);
    Output output = invocation.output();
    switch (job.action()) {
      case FORGET -> forget(output, job, invocation.session().clock().instant());
      case LIST -> list(output, job.paths(), Undo.replacements(job.paths()));
      case BRING_BACK -> bringBack(output, job);
    }
    return ExitCode.DONE;
  }

  private static void bringBack(Output output, UndoJob job) {
    List<Undo.Replacement> replacements = Undo.replacements(job.paths());
    List<Undo.Replacement> meant =
        job.at().isPresent()
            ? replacements.stream().filter(one -> one.stamp().startsWith(job.at().get())).toList()
            : replacements.stream().limit(1).toList();
    if (meant.size() != 1) {
      throw new SymbolonException(
          meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
          "There is nothing to undo for " + Output.shown(job.paths()) + ".",
          meant.isEmpty()
              ? job.at()
                  .map(moment -> "Nothing was replaced at " + Output.shown(moment) + ".")
                  .orElse("No earlier version of it is kept by this account." + beside(job.paths()))
              : meant.size()
                  + " replacements begin with "
                  + Output.shown(job.at().orElse(""))
                  + ".",
          "See what there is with symbolon undo --list FOLDER. Each account keeps what it has"
              + " replaced itself: run the command as the account that replaced the file.");
    }
    for (Path path : job.paths()) {
      boolean has =
          Undo.replacements(path).stream().anyMatch(one -> one.number() == meant.get(0).number());
      if (!has) {
        throw new SymbolonException(
            Reason.AMBIGUOUS,
            "Nothing was brought back.",
            Output.shown(path) + " has nothing of the command of " + meant.get(0).stamp() + ".",
            "Leave it out, or name the moment with --at.");
      }
    }
    Undo.bringBack(meant.get(0));
    List<Undo.Version> versions = meant.get(0).versions();
    if (output.isJson()) {
      output.json(UndoDocument.of(versions));
    } else {
      print(output, versions);
    }
  }

  private static void forget(Output output, UndoJob job, Instant now) {
    Duration age =
        job.olderThan().map(lasts -> Duration.between(now, lasts.from(now))).orElse(Duration.ZERO);
    int forgotten = 0;
    for (Path path : job.paths()) {
      forgotten += Undo.forget(path, age, job.keep());
    }
    String shown = Output.shown(job.paths());
    if (output.isJson()) {
      output.json(UndoDocument.forgotten(forgotten));
    } else if (forgotten == 0) {
      output.line("No earlier version of " + shown + " is kept that this removes.");
    } else {
      output.line(
          output.paint().heading("Forgot ")
              + HoldingText.count(forgotten, "earlier version")
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

  private static void list(Output output, List<Path> paths, List<Undo.Replacement> replacements) {
    if (output.isJson()) {
      output.json(
          UndoDocument.of(replacements.stream().flatMap(one -> one.versions().stream()).toList()));
      return;
    }
    if (replacements.isEmpty()) {
      output.line(
          "No earlier version of anything at "
              + Output.shown(paths)
              + " is kept by this account."
              + beside(paths));
      return;
    }
    output.line(
        output.paint().heading("What can be undone")
            + output.paint().faint("  the latest first; --at MOMENT undoes an earlier one"));
    for (Undo.Replacement one : replacements) {
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

  /** A folder of that name is no proof that this account has kept anything in it. */
  private static String beside(List<Path> paths) {
    for (Path path : paths) {
      Path folder = Files.isDirectory(path) ? path : path.toAbsolutePath().getParent();
      if (folder != null && Files.isDirectory(folder.resolve(EARLIER))) {
        return " "
            + Output.shown(folder.resolve(EARLIER))
            + " is not on record as this account's. If an older version of Symbolon made it, copy the file from there by hand.";
      }
    }
    return "";
  }
}
