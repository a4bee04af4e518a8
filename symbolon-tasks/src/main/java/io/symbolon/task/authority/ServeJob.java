// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AuthorityServer;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/**
 * Answers orders for certificates (RFC 8555), from a program that goes on.
 *
 * @param by the folder of the authority
 * @param plan how it answers
 * @param records the address of the database with its records; one in its folder where none is said
 * @param unlock the sources of passwords to try on its key
 */
public record ServeJob(
    Path by, AnswerPlan plan, Optional<String> records, List<PasswordSource> unlock) {
  /**
   * Begins to answer.
   *
   * @param run what it is done in, which must stay open as long as it answers
   * @return what answers, which the caller closes
   * @throws io.symbolon.failure.SymbolonException if the key or the records can't be opened, or the
   *     port is taken
   */
  public ServedAuthority start(TaskRun run) {
    AuthorityFolder folder = run.authority(by);
    SigningAuthority signing = folder.unlock(run.keyPasswords(folder, unlock), new SecureRandom());
    ServedRecords opened = ServedRecords.open(signing, records, run.around().clock());
    try {
      AuthorityServer server =
          AuthorityServer.start(
              opened.signing(), opened.records(), plan, new SecureRandom(), run.around().clock());
      return new ServedAuthority(folder, server, opened);
    } catch (RuntimeException e) {
      opened.close();
      throw e;
    }
  }
}
