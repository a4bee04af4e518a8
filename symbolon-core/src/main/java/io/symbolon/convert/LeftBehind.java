// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Compares a file that was replaced with what stands in its place. A key that came in the place of
 * another under the same name is a renewal; what has no successor is told, because a server or a
 * client may still need it.
 */
public final class LeftBehind {
  private static final int NAMED = 5;

  private final Survey old;
  private final Bundle fresh;
  private final String where;
  private final Remedy remedy;

  private LeftBehind(Survey old, Bundle fresh, Path file) {
    this.old = old;
    this.fresh = fresh;
    this.where = VisibleText.of(file.toString());
    this.remedy =
        Remedy.of(
            "If something still needs it, bring the old file back.",
            Action.of(Task.BRING_BACK, file));
  }

  /**
   * {@return what is to be said of it}
   *
   * @param old the file that was replaced
   * @param fresh what stands in its place
   * @param file the name of both
   */
  public static List<Finding> of(Survey old, Bundle fresh, Path file) {
    return new LeftBehind(old, fresh, file).findings();
  }

  private List<Finding> findings() {
    List<Finding> findings = new ArrayList<>();
    Contents contents = Arranger.arrange(old);
    List<String> lost = new ArrayList<>();
    for (FoundKey key : contents.keys()) {
      if (!hasSuccessor(key, contents.keys().size() == 1)) {
        lost.add("the private key " + named(key.labels().alias(), key.chain()));
      }
    }
    for (Holding.Cert cert : contents.certificates()) {
      if (!hasSuccessor(cert)) {
        lost.add("the certificate " + named(cert.alias(), List.of(cert.certificate())));
      }
    }
    if (contents.secretKeys() > 0) {
      lost.add(
          contents.secretKeys() == 1 ? "a secret key" : contents.secretKeys() + " secret keys");
    }
    if (!lost.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.NOT_TAKEN_OVER,
              where,
              "The file that was replaced also held "
                  + String.join(", ", lost.subList(0, Math.min(NAMED, lost.size())))
                  + (lost.size() > NAMED ? " and " + (lost.size() - NAMED) + " more" : "")
                  + ". The new one does not hold "
                  + (lost.size() == 1 ? "it." : "them."),
              remedy));
    }
    if (old.files().stream().anyMatch(FileSurvey::locked)) {
      findings.add(
          Finding.of(
              FindingKind.REPLACED_NOT_COMPARED,
              where,
              "The file that was replaced opens with none of the passwords that were given. Whether"
                  + " it held more than the new one was not checked.",
              remedy));
    }
    return findings;
  }

  private boolean hasSuccessor(FoundKey key, boolean alone) {
    String fingerprint = key.key().revealFingerprint();
    Optional<Certificate> own = key.chain().stream().findFirst();
    return fresh.credentials().stream()
        .anyMatch(
            entry ->
                key.labels().alias().filter(entry.alias()::equalsIgnoreCase).isPresent()
                    || entry.key().revealFingerprint().equals(fingerprint)
                    || (own.isEmpty() ? alone : isForSame(own.get(), entry)));
  }

  private static boolean isForSame(Certificate own, StoreEntry.KeyEntry entry) {
    return entry.chain().stream().limit(1).anyMatch(one -> one.subject().equals(own.subject()));
  }

  /** What was trusted has to be trusted again: to be in a chain is less. */
  private boolean hasSuccessor(Holding.Cert old) {
    Collection<Certificate> candidates = old.labels().trusted() ? trusted() : fresh.certificates();
    return candidates.stream().anyMatch(one -> one.subject().equals(old.certificate().subject()));
  }

  private List<Certificate> trusted() {
    return fresh.entries().stream()
        .filter(StoreEntry.Trusted.class::isInstance)
        .map(entry -> ((StoreEntry.Trusted) entry).certificate())
        .toList();
  }

  private static String named(Optional<String> alias, List<Certificate> chain) {
    String subject =
        chain.stream().findFirst().map(one -> "of " + one.subject().shortText()).orElse("");
    return alias.map(name -> "'" + VisibleText.of(name) + "' ").orElse("")
        + (subject.isEmpty() && alias.isEmpty() ? "without a name" : subject);
  }
}
