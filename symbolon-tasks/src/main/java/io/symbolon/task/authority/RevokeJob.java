// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.Ledger;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What is to be revoked, and how long the list may be relied on.
 *
 * @param by the folder of the authority
 * @param named files, serial numbers or names of certificates; none for a new list alone
 * @param reason why
 * @param lasts how long the list may be relied on
 * @param unlock the sources of passwords to try on the authority's key
 */
public record RevokeJob(
    Path by,
    List<String> named,
    RevocationReason reason,
    Lifetime lasts,
    List<PasswordSource> unlock) {
  /**
   * {@return a job that revokes these}
   *
   * @param by the folder of the authority
   * @param named files, serial numbers or names of certificates
   */
  public static RevokeJob of(Path by, Collection<String> named) {
    return new RevokeJob(
        by,
        List.copyOf(named),
        RevocationReason.UNSPECIFIED,
        AuthorityFolder.LIST_LASTS,
        List.of());
  }

  /** {@return a job that writes the list of an authority anew, and revokes nothing} */
  public static RevokeJob freshList(Path by) {
    return of(by, List.of());
  }

  /** {@return the same for a reason} */
  public RevokeJob because(RevocationReason why) {
    return new RevokeJob(by, named, why, lasts, unlock);
  }

  /** {@return the same with a list that may be relied on for this time} */
  public RevokeJob lasting(Lifetime time) {
    return new RevokeJob(by, named, reason, time, unlock);
  }

  /** {@return the same with passwords to try on the key of the authority, and on files} */
  public RevokeJob unlocking(Collection<PasswordSource> sources) {
    return new RevokeJob(by, named, reason, lasts, List.copyOf(sources));
  }

  /**
   * Revokes, and writes the list.
   *
   * @param run what it is done in
   * @return what was revoked; nothing, and an unchanged list, where all were revoked before
   * @throws SymbolonException if it is not clear what is meant, or the key is locked
   */
  public RevokeReport run(TaskRun run) {
    AuthorityFolder folder = run.authority(by);
    Ledger before = folder.reconcile();
    Set<Certificate> meant = new LinkedHashSet<>();
    named.forEach(text -> meant.add(find(run, before, text)));
    List<Finding> findings = new ArrayList<>();
    for (Certificate certificate : meant) {
      if (before.revoked().containsKey(certificate.serial())) {
        findings.add(
            Finding.of(
                FindingKind.REVOKED_ALREADY,
                certificate.serialHex(),
                "The certificate of "
                    + certificate.subject().shortText()
                    + " is revoked already; when and why stay as they were.",
                ""));
      }
    }
    if (!meant.isEmpty() && findings.size() == meant.size()) {
      return new RevokeReport(folder, List.of(), reason, before, findings, false);
    }
    SigningAuthority authority = OpenedAuthority.of(run, folder, unlock);
    Ledger ledger = authority.revoke(meant, reason, lasts);
    findings.addAll(ledger.findings());
    findings.addAll(run.notices());
    return new RevokeReport(folder, List.copyOf(meant), reason, ledger, findings, true);
  }

  private Certificate find(TaskRun run, Ledger ledger, String text) {
    Path file = path(text);
    if (file != null && Files.isRegularFile(file)) {
      // Whatever the file is, a certificate of ours in it is meant; its password may be among
      // these.
      Survey survey = run.survey(List.of(file), run.unlock(unlock));
      List<Certificate> ours =
          survey.certificates().keySet().stream().filter(ledger.issued()::contains).toList();
      if (ours.isEmpty()) {
        throw noneOfOurs(survey, file);
      }
      return one(ours, text);
    }
    return one(ledger.find(text), text);
  }

  private static SymbolonException noneOfOurs(Survey survey, Path file) {
    Optional<SymbolonException> failure = survey.failures().stream().findFirst();
    if (failure.isPresent()) {
      return failure.get().restated("Nothing was revoked.");
    }
    int count = survey.certificates().size();
    return new SymbolonException(
        Reason.NOT_FOUND,
        "Nothing was revoked.",
        Wording.shown(file)
            + (count == 0
                ? " holds no certificate."
                : " holds "
                    + Wording.count(count, "certificate")
                    + ", and this authority has issued none of them."),
        "Check the file with symbolon survey, and the authority with symbolon authority list.");
  }

  private static Certificate one(List<Certificate> found, String text) {
    if (found.size() == 1) {
      return found.get(0);
    }
    throw new SymbolonException(
        found.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "Nothing was revoked.",
        found.isEmpty()
            ? "This authority has issued no certificate '" + Wording.shown(text) + "'."
            : found.size()
                + " certificates answer to '"
                + Wording.shown(text)
                + "': "
                + found.stream()
                    .limit(5)
                    .map(
                        one ->
                            one.serialHex().substring(0, Math.min(16, one.serialHex().length()))
                                + " until "
                                + Wording.day(one.notAfter()))
                    .collect(Collectors.joining(", "))
                + ".",
        "See symbolon authority list, and name it by its serial number.");
  }

  private static @Nullable Path path(String text) {
    try {
      return Path.of(text);
    } catch (InvalidPathException e) {
      return null; // no file, then
    }
  }
}
