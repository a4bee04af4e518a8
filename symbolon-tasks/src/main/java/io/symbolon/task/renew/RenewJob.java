// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.finding.Finding;
import io.symbolon.issue.Lifetime;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.order.AccountSource;
import io.symbolon.task.result.ResultOptions;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Renews what is due: of an account, and of files whose certificates a person's authority signs.
 *
 * @param account the account whose certificates are, where one is named
 * @param files the files whose certificates a person's authority signs
 * @param within what ends within this time is due
 * @param result how new keys are protected that wait for their certificates
 * @param unlock the sources of passwords to try
 */
public record RenewJob(
    Optional<AccountSource> account,
    List<Path> files,
    Optional<Lifetime> within,
    ResultOptions result,
    List<PasswordSource> unlock) {
  /** {@return a job that renews what an account has ordered} */
  public static RenewJob of(AccountSource account) {
    return new RenewJob(
        Optional.of(account), List.of(), Optional.empty(), ResultOptions.USUAL, List.of());
  }

  /**
   * {@return a job that prepares what a person's authority signs}
   *
   * @param files keystores, or files of keys and their certificates
   * @param unlock the sources of passwords to try
   */
  public static RenewJob of(Collection<Path> files, Collection<PasswordSource> unlock) {
    return new RenewJob(
        Optional.empty(),
        List.copyOf(files),
        Optional.empty(),
        ResultOptions.USUAL,
        List.copyOf(unlock));
  }

  /** {@return the same for what ends within this time} */
  public RenewJob within(Lifetime time) {
    return new RenewJob(account, files, Optional.of(time), result, unlock);
  }

  /**
   * Checks that there is something to renew.
   *
   * @throws WrongJob if there is not
   */
  public RenewJob {
    if (account.isEmpty() && files.isEmpty()) {
      throw new WrongJob(
          "Nothing is given to renew.",
          "Use "
              + Input.ACCOUNT.mention("FOLDER")
              + " for what was ordered, and name the files whose certificates a person's authority"
              + " signs.");
    }
    if (files.isEmpty() && (result.seal().isPresent() || result.unsealed())) {
      throw new WrongJob(
          "A password for new keys is given, but no file is named.",
          "Leave it out: what was ordered is written as it was ordered.");
    }
  }

  /**
   * Renews what is due. One that fails does not stop the others.
   *
   * @param run what it is done in
   * @return what became of each
   */
  public RenewReport run(TaskRun run) {
    List<Finding> findings = new ArrayList<>();
    List<Renewed> all = new ArrayList<>();
    account.ifPresent(source -> all.addAll(new Ordered(run, this, source, findings).run()));
    if (!files.isEmpty()) {
      all.addAll(new HandSigned(run, this, findings).run());
    }
    findings.addAll(run.notices());
    return new RenewReport(all, findings);
  }
}
