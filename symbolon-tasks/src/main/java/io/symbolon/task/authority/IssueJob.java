// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.chain.Credential;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Signed;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.request.RequestContent;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.task.words.Wording;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Which credential is to be issued, by whom, and where it goes.
 *
 * @param by the folder of the authority; none where the certificate signs itself
 * @param content for whom and what for
 * @param lasts how long the certificate is valid
 * @param like the file with what is issued again
 * @param kind the kind of the key, where it is said
 * @param destination where the credential goes
 * @param alias its alias in a keystore, where it is said
 * @param withRoot whether the root is put into the chain
 * @param unlock the sources of passwords to try on the authority's key
 * @param result how the credential is written
 * @param published where the authority publishes its list
 */
public record IssueJob(
    Optional<Path> by,
    RequestContent content,
    Optional<Path> like,
    Lifetime lasts,
    Optional<KeyKind> kind,
    Destination destination,
    Optional<String> alias,
    boolean withRoot,
    List<PasswordSource> unlock,
    ResultOptions result,
    Published published) {
  /** How long it is valid where nothing else is said. */
  public static final Lifetime USUAL = Lifetime.days(397);

  /** The kind of key that is made where nothing else is said. */
  public static final KeyKind USUAL_KEY = KeyKind.EC_P256;

  /**
   * Issues it. It is recorded when its file is ready, and gets its name then.
   *
   * @param run what it is done in
   * @return the credential; or what kept it from being issued, with nothing changed
   * @throws SymbolonException if it can't be written
   */
  public IssueReport run(TaskRun run) {
    if (destination.folder() || !destination.target().holdsKeys()) {
      throw new WrongJob(
          destination.shown() + " is not a file for a private key and its chain.",
          "Name a keystore or PEM file, such as " + Input.INTO.mention("ingest.p12") + ".");
    }
    destination.checkPrivate(result.existing());
    Optional<Renewal> older = RequestContent.like(run, like, alias, unlock);
    RequestDraft draft = content.draft(older.map(Renewal::draft));
    KeyKind keys = kind.or(() -> older.flatMap(Renewal::kind)).orElse(USUAL_KEY);
    SigningOrder order = new SigningOrder(draft, lasts);
    Instant now = run.around().clock().instant();
    List<Finding> findings = new ArrayList<>();
    List<Finding> ofRegister = List.of();
    Optional<SigningAuthority> authority = Optional.empty();
    if (by.isPresent()) {
      AuthorityFolder folder = run.authority(by.get());
      SigningAuthority opened = OpenedAuthority.of(run, folder, unlock).publishing(published);
      authority = Optional.of(opened);
      findings.addAll(opened.authority().judge(order, now, destination.shown()));
      ofRegister = opened.findings();
    } else {
      findings.addAll(draft.check(destination.shown()));
    }
    Optional<Finding> problem =
        findings.stream().filter(one -> one.level() == Level.PROBLEM).findFirst();
    if (problem.isPresent()) {
      return IssueReport.refused(problem.get(), findings);
    }
    OutputProtection guard = OutputProtection.of(run, result, destination, true);
    String name =
        alias
            .or(() -> older.flatMap(Renewal::key).flatMap(match -> match.key().alias()))
            .orElse(Wording.fileName(draft));
    Optional<Signed<Credential>> signed = authority.map(one -> one.issueUnrecorded(order, keys));
    Credential credential =
        signed.map(Signed::value).orElseGet(() -> order.selfSigned(keys, now, new SecureRandom()));
    WrittenResult written = written(run, credential, name, guard, signed);
    findings.addAll(ofRegister);
    findings.addAll(written.findings());
    findings.addAll(run.notices());
    return new IssueReport(
        Optional.empty(),
        Optional.of(
            new IssueReport.Issued(
                credential, authority.map(SigningAuthority::folder), name, written)),
        findings,
        Finding.anyProblem(ofRegister));
  }

  private WrittenResult written(
      TaskRun run,
      Credential credential,
      String name,
      OutputProtection guard,
      Optional<Signed<Credential>> signed) {
    try {
      return WrittenResult.write(
          run,
          destination,
          conversion(destination, result, credential, name, withRoot),
          result.existing(),
          guard,
          List.of(),
          () -> signed.ifPresent(Signed::record));
    } catch (SymbolonException e) {
      throw signed.isPresent()
          ? NotHandedOut.credentials(signed.get(), List.of(credential.certificate()), e)
          : e;
    }
  }

  static Conversion conversion(
      Destination destination,
      ResultOptions result,
      Credential credential,
      String alias,
      boolean withRoot) {
    Credential written = withRoot ? credential : credential.withoutRoot();
    return Conversion.of(
        Bundle.of(List.of(new StoreEntry.KeyEntry(alias, written.key(), written.chain()))),
        destination.target(),
        result.keyForm(),
        destination.shown());
  }
}
