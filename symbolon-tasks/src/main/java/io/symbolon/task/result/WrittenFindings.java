// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.result;

import io.symbolon.convert.Conversion;
import io.symbolon.convert.LeftBehind;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.task.TaskRun;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What is to be said of how a result is protected. */
public final class WrittenFindings {
  private WrittenFindings() {}

  /**
   * What is to be said of the files that were replaced, which lie in the folder for undo now: that
   * one of them holds an open key, and what is not in the new ones.
   */
  private static List<Finding> replaced(
      TaskRun run, Conversion conversion, List<WrittenResult.WrittenFile> written, String where) {
    List<Finding> findings = new ArrayList<>();
    for (WrittenResult.WrittenFile file : written) {
      if (file.aside().isEmpty()) {
        continue;
      }
      Survey old = run.surveyorWithAll().survey(List.of(file.aside().get()));
      findings.addAll(LeftBehind.of(old, conversion.bundle(), file.path()));
      if (holdsOpenKey(old)) {
        findings.add(
            Finding.of(
                FindingKind.OPEN_KEY_KEPT,
                where,
                "The file that was replaced holds a private key that lies open. It is kept for undo"
                    + " in "
                    + VisibleText.of(String.valueOf(file.aside().get().getParent()))
                    + ".",
                Remedy.of(
                    "If you no longer need it, remove it for good.",
                    Action.of(Task.FORGET_EARLIER, file.path()))));
      }
    }
    return findings;
  }

  private static boolean holdsOpenKey(Survey old) {
    return old.files().stream()
        .flatMap(found -> found.holdings().stream())
        .anyMatch(holding -> holding instanceof Holding.PrivateKey key && !key.encrypted());
  }

  /** What the rights of a file with a private key let others do, or no longer do. */
  private static Optional<Finding> readers(WrittenResult.WrittenFile file) {
    if (!file.secret()) {
      return Optional.empty();
    }
    String where = VisibleText.of(file.path().toString());
    if (file.access().lost().isPresent()) {
      return Optional.of(
          Finding.of(
              FindingKind.RIGHTS_NARROWED,
              where,
              "The file that it replaced could be read by "
                  + file.access().lost().get()
                  + ". This one can't, since a private key is in it.",
              "If a server needs it, name the account and the group that it runs with: "
                  + Input.OWNER.mention("USER:GROUP")
                  + "."));
    }
    return switch (file.access().readers()) {
      case GROUP ->
          Optional.of(
              Finding.of(
                  FindingKind.READABLE_BY_GROUP,
                  where,
                  "The group " + file.access().group() + " may read it, and its owner.",
                  "Check that nobody is in that group but who needs the key."));
      case UNKNOWN ->
          Optional.of(
              Finding.of(
                  FindingKind.RIGHTS_NOT_CHECKED,
                  where,
                  "Who may read it was not checked: this file system does not tell.",
                  "Check its access list by hand."));
      case OWNER, EVERYBODY -> Optional.empty();
    };
  }

  public static List<Finding> of(
      TaskRun run,
      Destination destination,
      Conversion conversion,
      List<WrittenResult.WrittenFile> written,
      Pkcs12Strength strength,
      Optional<SealPassword> seal,
      Optional<SealPassword> sealKey) {
    List<Finding> findings = new ArrayList<>();
    String where = destination.shown();
    findings.addAll(replaced(run, conversion, written, where));
    Format target = destination.target();
    if (conversion.holdsKeys()) {
      if (seal.isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.OPEN_KEY,
                where,
                "The private key lies open in it: whoever can read the file has the key.",
                "Keep its rights as they are, and give it to nobody by mail."));
      }
      written.forEach(file -> readers(file).ifPresent(findings::add));
      seal.ifPresent(s -> findings.addAll(s.remarks(where)));
      sealKey.ifPresent(s -> findings.addAll(s.remarks(where)));
      if (target.can(Ability.OUTDATED)) {
        findings.add(
            Finding.of(
                FindingKind.WEAK_PROTECTION,
                where,
                target.title()
                    + " protects private keys in an outdated way: with the file at hand their"
                    + " password can be guessed fast.",
                "Write PKCS#12, unless a program takes nothing else; Java itself reads it."));
      }
      seal.filter(s -> !s.secret().isAscii())
          .ifPresent(
              s ->
                  findings.add(
                      Finding.of(
                          FindingKind.PASSWORD_NOT_ASCII,
                          where,
                          "The password holds characters outside of ASCII, which programs spell in"
                              + " different ways: some will not open it.",
                          "Choose a password of ASCII letters, digits and signs.")));
    }
    if (target.can(Ability.CHOSEN_PROTECTION) && strength == Pkcs12Strength.WEAK) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_PROTECTION,
              where,
              "It is protected by SHA-1 and 3DES, for readers that know nothing else: with the file"
                  + " at hand its password can be guessed fast.",
              "Leave "
                  + Input.PROTECTION.mention()
                  + " out, unless a program can't open the result."));
    }
    if (target.can(Ability.CHOSEN_PROTECTION) && strength == Pkcs12Strength.PBMAC1) {
      findings.add(
          Finding.of(
              FindingKind.FEW_READERS,
              where,
              "Few programs know PBMAC1 yet: Java up to 25 opens no such file.",
              "Leave " + Input.PROTECTION.mention() + " out, unless a rule asks for PBMAC1."));
    }
    boolean ownKept =
        sealKey.isEmpty()
            && conversion.bundle().credentials().stream().anyMatch(key -> key.own().isPresent());
    boolean differs =
        seal.isPresent()
            && sealKey.filter(key -> !key.secret().isSameAs(seal.get().secret())).isPresent();
    if (target.can(Ability.READ_WITH_ONE_PASSWORD) && (differs || ownKept)) {
      findings.add(
          Finding.of(
              FindingKind.KEY_PASSWORD_DIFFERS,
              where,
              "A key has another password than the store: most programs open a PKCS#12 with one"
                  + " password only.",
              ownKept
                  ? "Say "
                      + Input.SEALED_WITH.mention("file=PATH")
                      + " and "
                      + Input.KEY_PASSWORD.mention("file=PATH")
                      + " with the same file to have one"
                      + " password."
                  : "Leave "
                      + Input.KEY_PASSWORD.mention()
                      + " out, unless the program that reads it asks for two."));
    }
    return findings;
  }
}
