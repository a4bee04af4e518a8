// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.convert.LeftBehind;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Keys and authorities that stand in files which are to be replaced, and in none of the new ones: a
 * server or a client may still need them.
 */
final class ReplacedFiles {
  private ReplacedFiles() {}

  /**
   * What is to be said of it.
   *
   * @param changes the files as they are and as they will be
   * @param machine the machine as it is
   * @param surveyor opens them
   * @param known passwords that the settings give for them now
   * @param trust how authorities are named
   */
  static List<Finding> findings(
      List<FileChange> changes,
      Machine machine,
      Surveyor surveyor,
      List<Secret> known,
      String trust) {
    List<FileChange> files = changes.stream().filter(one -> !one.settings()).toList();
    if (files.stream().noneMatch(one -> one.before().isPresent() && !one.isNothing())) {
      return List.of();
    }
    FileView next = machine.with(changes).files();
    List<Secret> beside = new ArrayList<>();
    for (FileChange file : files) {
      Path passwords = PasswordLines.beside(file.path());
      beside.addAll(PasswordLines.of(machine.files(), passwords));
      beside.addAll(PasswordLines.of(next, passwords));
    }
    try {
      Surveyor opens = surveyor;
      List<Secret> all = new ArrayList<>(known);
      all.addAll(beside);
      changes.forEach(one -> all.addAll(one.hidden()));
      for (Secret one : all) {
        opens = opens.withMoreUnlock(one);
      }
      return compared(
          files.stream().filter(one -> !isPasswordFile(one, files)).toList(), opens, trust);
    } finally {
      beside.forEach(Secret::close);
    }
  }

  private static boolean isPasswordFile(FileChange one, List<FileChange> files) {
    return files.stream()
        .anyMatch(
            file ->
                !file.path().equals(one.path())
                    && PasswordLines.beside(file.path()).equals(one.path()));
  }

  private static List<Finding> compared(List<FileChange> files, Surveyor opens, String trust) {
    List<FileSurvey> old = new ArrayList<>();
    List<FileSurvey> fresh = new ArrayList<>();
    List<Finding> findings = new ArrayList<>();
    for (FileChange file : files) {
      fresh.add(opens.read(file.path(), file.after()));
      Optional<FileSurvey> before = file.before().map(octets -> opens.read(file.path(), octets));
      before.ifPresent(old::add);
      if (!file.isNothing() && before.filter(FileSurvey::locked).isPresent()) {
        findings.add(
            Finding.of(
                FindingKind.REPLACED_NOT_COMPARED,
                VisibleText.of(file.path().toString()),
                "The file that is to be replaced opens with none of the passwords that are known."
                    + " Whether it holds more than the new one was not checked.",
                "If you know its password, give it with " + Input.PASSWORD.mention() + "."));
      }
    }
    Survey now = opens.together(old);
    LeftBehind.between(now, opens.together(fresh))
        .forEach((path, lost) -> findings.add(lost(path, lost, trust)));
    return findings;
  }

  private static Finding lost(Path path, LeftBehind.Lost lost, String trust) {
    return Finding.of(
        FindingKind.NOT_TAKEN_OVER,
        Level.WARNING,
        VisibleText.of(path.toString()),
        "The file that is to be replaced also holds "
            + lost.listed()
            + ". The new one will not hold "
            + lost.pronoun()
            + ".",
        lost.keys().isEmpty()
            ? "If " + lost.pronoun() + " must still be trusted, name the file as well: " + trust
            : "If something still needs "
                + lost.pronoun()
                + ", let the new files go to another folder: "
                + Input.PLACE.mention("FOLDER"));
  }
}
