// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.finding.Finding;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.SubjectCheck;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.SealPassword;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Founds a new authority in a folder of its own.
 *
 * @param folder its new folder
 * @param plan what it is
 * @param under the folder of the authority that signs it; none for a root
 * @param unlock the sources of passwords to try on the key of that one
 * @param result how its key is sealed
 */
public record FoundJob(
    Path folder,
    AuthorityPlan plan,
    Optional<Path> under,
    List<PasswordSource> unlock,
    ResultOptions result) {
  /**
   * Founds it.
   *
   * @param run what it is done in
   * @return the authority, and where its password is
   * @throws io.symbolon.failure.SymbolonException if it can't be done; nothing has changed then
   */
  public FoundReport run(TaskRun run) {
    check(plan.subject());
    Optional<SigningAuthority> above =
        under.map(run::authority).map(one -> OpenedAuthority.of(run, one, unlock));
    SealPassword seal = SealPassword.of(run, result.seal(), Input.SEALED_WITH, result);
    SigningAuthority made =
        SigningAuthority.found(
            folder,
            plan,
            above,
            seal.secret(),
            seal.item().stream().toList(),
            new SecureRandom(),
            run.around().clock());
    List<Finding> findings = new ArrayList<>(seal.remarks(Wording.shown(folder)));
    findings.addAll(run.notices());
    return new FoundReport(made.folder(), seal, findings);
  }

  /** Refuses a name that no certificate can have. */
  private static void check(DistinguishedName subject) {
    List<Finding> wrong = SubjectCheck.check(subject, "");
    if (subject.isEmpty() || !wrong.isEmpty()) {
      throw new WrongJob(
          subject.isEmpty()
              ? "The name of the authority is empty."
              : wrong.stream()
                  .map(one -> one.statement(Naming.MARKS))
                  .collect(Collectors.joining(" ")),
          subject.isEmpty()
              ? "Give it with " + Input.SUBJECT.mention() + "."
              : wrong.stream()
                  .map(one -> one.remedy().advice(Naming.MARKS))
                  .collect(Collectors.joining(" ")));
    }
  }
}
