// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.configure;

import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.cli.output.WayBack;
import io.symbolon.configure.FileDiff;
import io.symbolon.file.Privacy;
import io.symbolon.file.Undo;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Level;
import io.symbolon.server.Proposal;
import io.symbolon.server.machine.FileChange;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;

/** The files that a change makes or replaces, and what changes in settings files. */
final class ChangedFiles {
  private static final int LABEL = 11;

  private final Output output;
  private final Paint paint;

  ChangedFiles(Output output) {
    this.output = output;
    this.paint = output.paint();
  }

  void print(List<FileChange> changes, List<Proposal.Step> steps, boolean done) {
    List<FileChange> own = changes.stream().filter(one -> !one.settings()).toList();
    if (!own.isEmpty()) {
      output.line("");
      output.line(paint.heading("Files") + paint.faint(done ? "  made" : "  to be made"));
      for (FileChange file : own) {
        output.line(
            "  "
                + Output.shown(file.path())
                + paint.faint(
                    "  "
                        + file.holds()
                        + (file.privacy() == Privacy.OWNER_ONLY ? ", for " + readers(file) : "")
                        + (file.before().isPresent() ? "; the old one is kept for undo" : "")));
      }
    }
    for (Proposal.Step step : steps) {
      output.line("");
      output.line(paint.heading("Command") + "  " + step.what());
      output.pasted("  " + output.commands().shell().line(step.command().line()));
      step.command().input().forEach(line -> output.line("    " + VisibleText.of(line)));
    }
    List<FileChange> settings = changes.stream().filter(FileChange::settings).toList();
    if (!settings.isEmpty()) {
      output.line("");
      output.line(
          paint.heading("Settings")
              + paint.faint(
                  (done ? "  changed" : "  to be changed")
                      + "; ... stands for what may be a secret"));
      settings.forEach(this::diff);
    }
  }

  private static String readers(FileChange file) {
    return file.owner()
        .map(
            owner ->
                owner
                        .group()
                        .map(group -> owner.user() + " and the group " + group)
                        .orElse(owner.user())
                    + " alone")
        .orElse("its owner alone");
  }

  private void diff(FileChange file) {
    for (String line : FileDiff.lines(file)) {
      output.pasted(
          "  "
              + (line.startsWith("+++") || line.startsWith("---")
                  ? paint.faint(line)
                  : line.startsWith("+")
                      ? paint.good(line)
                      : line.startsWith("-") ? paint.level(Level.PROBLEM, line) : line));
    }
  }

  /** How to bring back what was replaced. */
  boolean kept(List<WrittenItem> written, List<FileChange> changes) {
    return kept(written, changes, List.of());
  }

  /** The same with the folders of accounts, in which the place was put on record. */
  boolean kept(List<WrittenItem> written, List<FileChange> changes, List<Path> accounts) {
    List<Path> noted = // by their real paths, as what was written
        written.stream()
            .map(WrittenItem::path)
            .filter(path -> accounts.stream().anyMatch(one -> isIn(path, one)))
            .toList();
    Stream<Path> replaced =
        written.stream().filter(one -> one.aside().isPresent()).map(WrittenItem::path);
    Stream<Path> made =
        changes.stream()
            .filter(one -> !written.isEmpty() && one.settings() && one.before().isEmpty())
            .map(FileChange::path);
    List<Path> folders =
        Stream.of(replaced, made, noted.stream())
            .flatMap(paths -> paths)
            .map(Path::getParent)
            .filter(Objects::nonNull)
            .distinct()
            .filter(folder -> !Undo.versions(folder).isEmpty())
            .toList();
    if (!folders.isEmpty()) {
      output.line(
          "  "
              + HoldingText.padded("Before", LABEL)
              + paint.faint("what was replaced is kept; this brings all of it back:"));
      output.pasted(
          "             "
              + paint.command(
                  output
                      .commands()
                      .line(
                          WayBack.of(
                              folders,
                              written.stream().flatMap(one -> one.aside().stream()).toList()))));
    }
    return !folders.isEmpty();
  }

  private static boolean isIn(Path file, Path folder) {
    try {
      return file.startsWith(folder.toRealPath());
    } catch (java.io.IOException e) {
      return false;
    }
  }
}
