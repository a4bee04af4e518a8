// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/**
 * Checks the records of an authority, each of them, and moves them where that is said.
 *
 * @param folder the folder of the authority
 * @param into where they are moved: {@value RecordsPlaces#FILES}, {@code folder} (a database in the
 *     folder), or the address of a database
 * @param unlock the sources of passwords to try on its key, which moving needs
 */
public record RecordsJob(Path folder, Optional<String> into, List<PasswordSource> unlock) {
  /**
   * Moves and checks.
   *
   * @param run what it is done in
   * @return where they are, and whether every one is whole
   */
  public RecordsReport run(TaskRun run) {
    AuthorityFolder now = run.authority(folder);
    boolean moves =
        into.isPresent() && !into.get().equals(now.recordsPlace().orElse(RecordsPlaces.FILES));
    if (moves) {
      SigningAuthority authority = now.unlock(run.keyPasswords(now, unlock), new SecureRandom());
      now = run.closing(RecordsPlaces.move(authority, into.orElseThrow()).folder());
    }
    return new RecordsReport(now, now.checkRecords(), moves);
  }
}
