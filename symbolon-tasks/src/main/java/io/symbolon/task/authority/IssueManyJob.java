// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.issue.ClientList;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.survey.Progress;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Issues many credentials, each into a file of its own.
 *
 * @param by the folder of the authority
 * @param list the file with the names
 * @param common what all subjects have in common
 * @param use what the certificates are for
 * @param lasts how long they are valid
 * @param kind the kind of the keys
 * @param folder where the credentials go
 * @param format the format of each
 * @param passwords the folder for a new password for each; none where all have the same
 * @param withRoot whether the root is put into the chains
 * @param unlock the sources of passwords to try on the authority's key
 * @param result how the credentials are written
 * @param published where the authority publishes its list
 */
public record IssueManyJob(
    Path by,
    Path list,
    DistinguishedName common,
    Use use,
    Lifetime lasts,
    KeyKind kind,
    Path folder,
    Format format,
    Optional<Path> passwords,
    boolean withRoot,
    List<PasswordSource> unlock,
    ResultOptions result,
    Published published) {
  /**
   * Checks that each file can hold a credential.
   *
   * @throws WrongJob if the format has no place for a private key and its chain
   */
  public IssueManyJob {
    if (!format.holdsKeys() || !format.can(Ability.CHAINS)) {
      throw new WrongJob(
          format.title() + " has no place for a private key and its chain.",
          "Say " + Input.FORMAT.mention("pkcs12") + ", jks, jceks or pem.");
    }
  }

  /**
   * Issues them: in batches, each of which becomes ready, is recorded, and gets its names then.
   *
   * @param run what it is done in
   * @param progress is told how many are written
   * @return what was issued
   * @throws io.symbolon.failure.SymbolonException if it can't be done; what was written before that
   *     stays
   */
  public IssueManyReport run(TaskRun run, Progress progress) {
    return new IssueMany(this, progress).run(run);
  }

  /** The file of a client. */
  Path file(ClientList.Client client) {
    return folder.resolve(client.file() + format.endings().get(0));
  }
}
