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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Compares a file that was replaced with what stands in its place. A key that came in the place of
 * another under the same name is a renewal; what has no successor is told, because a server or a
 * client may still need it.
 */
public final class LeftBehind {
  private static final int NAMED = 5;

  /**
   * What has no successor, as words.
   *
   * @param keys the private keys
   */
  public record Lost(List<String> keys, List<String> certificates) {
    private Lost() {
      this(new ArrayList<>(), new ArrayList<>());
    }

    /** {@return some of it as one list, and how much more there is} */
    public String listed() {
      return LeftBehind.listed(all());
    }

    /** {@return how it is spoken of} */
    public String pronoun() {
      return all().size() == 1 ? "it" : "them";
    }

    private List<String> all() {
      return Stream.concat(keys.stream(), certificates.stream()).toList();
    }
  }

  private final PackedContents old;
  private final Bundle fresh;

  private LeftBehind(PackedContents old, Bundle fresh) {
    this.old = old;
    this.fresh = fresh;
  }

  /**
   * {@return what is to be said of a file that was replaced}
   *
   * @param old the file that was replaced
   * @param fresh what stands in its place
   * @param file the name of both
   */
  public static List<Finding> of(Survey old, Bundle fresh, Path file) {
    List<Finding> findings = new ArrayList<>();
    Remedy remedy =
        Remedy.of(
            "If something still needs it, bring the old file back.",
            Action.of(Task.BRING_BACK, file));
    String where = VisibleText.of(file.toString());
    PackedContents contents = Arranger.arrange(old);
    LeftBehind compared = new LeftBehind(contents, fresh);
    List<String> lost = new ArrayList<>();
    for (FoundKey key : contents.keys()) {
      if (!compared.hasSuccessor(key, contents.keys().size() == 1)) {
        lost.add(words(key));
      }
    }
    for (Holding.Cert cert : compared.certificates()) {
      lost.add(words(cert));
    }
    if (contents.secretKeys() > 0) {
      lost.add(secretKeys(contents.secretKeys()));
    }
    if (!lost.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.NOT_TAKEN_OVER,
              where,
              "The file that was replaced also held "
                  + listed(lost)
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

  /**
   * Compares files that are to be replaced with those that will stand in their places, all of them
   * together: a key may move from one to another. A file's only key is renewed by whatever key
   * comes in its place.
   *
   * @param old the files as they are
   * @param fresh the files as they will be
   * @return for each of the old files what has no successor; those without any are left out
   */
  public static Map<Path, Lost> between(Survey old, Survey fresh) {
    PackedContents contents = Arranger.arrange(old);
    PackedContents next = Arranger.arrange(fresh);
    LeftBehind compared = new LeftBehind(contents, bundle(next, fresh));
    Map<Path, Lost> lost = new LinkedHashMap<>();
    for (FoundKey key : contents.keys()) {
      Path file = key.place().file();
      boolean renewed = keysIn(contents, file) == 1 && keysIn(next, file) > 0;
      if (!renewed && !compared.hasSuccessor(key, false)) {
        lost.computeIfAbsent(file, one -> new Lost()).keys().add(words(key));
      }
    }
    for (FileSurvey file : old.files()) {
      long secret = file.holdings().stream().filter(Holding.SecretKey.class::isInstance).count();
      if (secret > 0 && next.secretKeys() == 0) {
        lost.computeIfAbsent(file.path(), one -> new Lost()).keys().add(secretKeys(secret));
      }
    }
    for (Holding.Cert cert : compared.certificates()) {
      lost.computeIfAbsent(cert.place().file(), one -> new Lost()).certificates().add(words(cert));
    }
    return lost;
  }

  private static long keysIn(PackedContents contents, Path file) {
    return contents.keys().stream().filter(key -> key.place().file().equals(file)).count();
  }

  private static Bundle bundle(PackedContents contents, Survey survey) {
    List<StoreEntry> entries = new ArrayList<>();
    for (FoundKey key : contents.keys()) {
      entries.add(new StoreEntry.KeyEntry(key.labels().alias().orElse(""), key.key(), key.chain()));
    }
    survey
        .certificates()
        .forEach(
            (certificate, places) ->
                entries.add(
                    places.stream().anyMatch(one -> one.labels().trusted())
                        ? new StoreEntry.Trusted("", certificate)
                        : new StoreEntry.Plain(Optional.empty(), certificate, Optional.empty())));
    return Bundle.of(entries);
  }

  /** Some of the words as one list, and how many more there are. */
  private static String listed(List<String> lost) {
    return String.join(", ", lost.subList(0, Math.min(NAMED, lost.size())))
        + (lost.size() > NAMED ? " and " + (lost.size() - NAMED) + " more" : "");
  }

  private List<Holding.Cert> certificates() {
    return old.certificates().stream().filter(one -> !hasSuccessor(one)).toList();
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
  private boolean hasSuccessor(Holding.Cert cert) {
    Collection<Certificate> candidates = cert.labels().trusted() ? trusted() : fresh.certificates();
    return candidates.stream().anyMatch(one -> one.subject().equals(cert.certificate().subject()));
  }

  private List<Certificate> trusted() {
    return fresh.entries().stream()
        .filter(StoreEntry.Trusted.class::isInstance)
        .map(entry -> ((StoreEntry.Trusted) entry).certificate())
        .toList();
  }

  private static String secretKeys(long count) {
    return count == 1 ? "a secret key" : count + " secret keys";
  }

  private static String words(FoundKey key) {
    return "the private key " + named(key.labels().alias(), key.chain());
  }

  private static String words(Holding.Cert cert) {
    return "the certificate " + named(cert.alias(), List.of(cert.certificate()));
  }

  private static String named(Optional<String> alias, List<Certificate> chain) {
    String subject =
        chain.stream().findFirst().map(one -> "of " + one.subject().shortText()).orElse("");
    return alias.map(name -> "'" + VisibleText.of(name) + "' ").orElse("")
        + (subject.isEmpty() && alias.isEmpty() ? "without a name" : subject);
  }
}
