// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.DistinguishedName;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * For whom many credentials are to be issued, by whom, and where they go.
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
record IssueManyJob(
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
    List<SecretSource> unlock,
    ResultOptions result,
    Published published) {
  static IssueManyJob of(GivenOptions given) {
    Path folder =
        given
            .pathOf("into")
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "No output folder is given.",
                        "Name a folder with --into, such as --into buoys/."));
    Format format =
        given
            .value("as")
            .map(word -> Destination.of("x", Optional.of(word)).target())
            .orElse(Format.PKCS12);
    if (!format.holdsKeys() || !format.can(Ability.CHAINS)) {
      throw Usage.wrong(
          format.title() + " has no place for a private key and its chain.",
          "Say --as pkcs12, jks, jceks or pem.");
    }
    return new IssueManyJob(
        given.by(),
        given.pathOf("list").orElseThrow(),
        given.subject().orElseGet(() -> DistinguishedName.parse("")),
        given.use().orElse(Use.CLIENT),
        IssueJob.lasts(given),
        IssueJob.kind(given),
        folder,
        format,
        passwordFolder(given),
        given.has("with-root"),
        given.unlock(),
        ResultOptions.of(given),
        IssueJob.published(given));
  }

  /** Where every credential gets a password of its own. */
  private static Optional<Path> passwordFolder(GivenOptions given) {
    String seal = given.value("seal").orElse("");
    boolean each = seal.startsWith("new=") && (seal.endsWith("/") || seal.endsWith("\\"));
    if (seal.startsWith("new=") && !each) {
      throw Usage.wrong(
          "One new password for all would have to be given to all.",
          "Say --seal new=FOLDER/ for one each, or --seal file=PATH if one for all is meant.");
    }
    return each ? Optional.of(GivenOptions.path(seal.substring(4))) : Optional.empty();
  }
}
