// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Snapshot;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Changes one entry of a keystore and keeps every other as it is. A store that holds anything that
 * could not be written again is refused, so that nothing is ever lost.
 */
public final class StoreEdit {
  /** What a file says of itself that leaves doubt whether all of it would be kept. */
  private static final Set<FindingKind> DOUBTS =
      Set.of(
          FindingKind.UNKNOWN_BLOCK,
          FindingKind.NOT_READ_TO_ITS_END,
          FindingKind.INTEGRITY_NOT_CHECKED);

  private final FileSurvey file;
  private final Bundle bundle;
  private final Secret password;
  private final Snapshot snapshot;

  private StoreEdit(FileSurvey file, Bundle bundle, Secret password, Snapshot snapshot) {
    this.file = file;
    this.bundle = bundle;
    this.password = password;
    this.snapshot = snapshot;
  }

  /** {@return whether a file is a keystore, which can be changed so} */
  public static boolean isStore(FileSurvey file) {
    return file.format().isStore();
  }

  /**
   * Reads a keystore.
   *
   * @param store the keystore
   * @param surveyor how files are surveyed
   * @return the store edit
   * @throws SymbolonException if it is none, is not wholly open, or holds what could not be written
   *     again
   */
  public static StoreEdit open(Path store, Surveyor surveyor) {
    // Before it is read: what changes after that is noticed when the store is replaced.
    Optional<Snapshot> snapshot = Snapshot.of(store);
    Survey survey = surveyor.survey(List.of(store));
    FileSurvey file = survey.files().get(0);
    if (!survey.failures().isEmpty()) {
      throw survey
          .failures()
          .get(0)
          .restated(shown(store) + " can't be changed without losing what is in it.");
    }
    if (!file.format().isStore()) {
      throw kept(store, "It is not a keystore but " + file.format().title() + ".");
    }
    PackedContents contents = Arranger.arrange(survey);
    if (contents.secretKeys() > 0 || file.locked()) {
      throw kept(store, "It holds secret keys or locked entries, which are never opened.");
    }
    Optional<String> doubt =
        file.findings().stream()
            .filter(finding -> DOUBTS.contains(finding.kind()))
            .map(finding -> finding.statement())
            .findFirst();
    if (doubt.isPresent()) {
      throw kept(store, doubt.get());
    }
    Bundle bundle = new Packer(contents, ConvertOptions.everything(), survey.now()).pack();
    return new StoreEdit(
        file, bundle, file.opener().orElseGet(Secret::empty), snapshot.orElseThrow());
  }

  private static SymbolonException kept(Path store, String seen) {
    return new SymbolonException(
        Reason.UNSUPPORTED,
        shown(store) + " can't be changed without losing what is in it.",
        seen,
        Remedy.of("Write the result into a new file.", Action.again(Input.INTO)));
  }

  private static String shown(Path path) {
    return VisibleText.of(path.toString());
  }

  /** {@return the format of the store, which it keeps} */
  public Format target() {
    return file.format();
  }

  /** {@return the file as it was when it was read} */
  public Snapshot snapshot() {
    return snapshot;
  }

  /** {@return the password that opened the store, which it keeps} */
  public Secret password() {
    return password;
  }

  /** {@return the password of its keys, where they have one of their own, which they keep} */
  public Optional<Secret> keyPassword() {
    return ownKeyPassword(file, password);
  }

  /**
   * {@return the password of the keys in a keystore, where it is another than the store's}
   *
   * @param store the keystore
   * @param password the password that opened the store
   */
  public static Optional<Secret> ownKeyPassword(FileSurvey store, Secret password) {
    return store.holdings().stream()
        .filter(Holding.PrivateKey.class::isInstance)
        .flatMap(one -> ((Holding.PrivateKey) one).opener().stream())
        .filter(opener -> !opener.isSameAs(password))
        .findFirst();
  }

  /** {@return how it is protected: a store for old readers stays one} */
  public Pkcs12Strength strength() {
    boolean weak =
        file.protections().stream()
            .anyMatch(one -> one.strength() == ProtectionWorth.Strength.WEAK);
    return weak && target().can(Ability.CHOSEN_PROTECTION)
        ? Pkcs12Strength.WEAK
        : Pkcs12Strength.STRONG;
  }

  /** {@return the aliases that are taken} */
  public List<String> aliases() {
    return bundle.entries().stream().flatMap(entry -> entry.name().stream()).toList();
  }

  /** {@return whether a key has this alias} */
  public boolean holdsKey(String alias) {
    return bundle.credentials().stream().anyMatch(key -> key.alias().equalsIgnoreCase(alias));
  }

  /** The entry of a key: where it is there several times, the one that waits. */
  private StoreEntry.KeyEntry entryOf(PrivateKeyInfo key) {
    String fingerprint = key.revealFingerprint();
    List<StoreEntry.KeyEntry> same =
        bundle.credentials().stream()
            .filter(entry -> entry.key().revealFingerprint().equals(fingerprint))
            .toList();
    List<StoreEntry.KeyEntry> waiting =
        same.stream()
            .filter(entry -> entry.chain().isEmpty() || entry.chain().get(0).isSelfSigned())
            .toList();
    List<StoreEntry.KeyEntry> meant = waiting.size() == 1 ? waiting : same;
    if (meant.size() != 1) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "It is not clear which entry of " + shown(file.path()) + " is meant.",
          "The private key is there " + same.size() + " times.",
          Remedy.of("Write the result into a new file.", Action.again(Input.INTO)));
    }
    return meant.get(0);
  }

  /**
   * {@return the store in which the entry of a key has another chain, and all else is as it was}
   *
   * @param chain the certificates, end-entity first
   */
  public Conversion completed(PrivateKeyInfo key, List<Certificate> chain) {
    StoreEntry.KeyEntry old = entryOf(key);
    List<StoreEntry> entries = new ArrayList<>();
    for (StoreEntry entry : bundle.entries()) {
      entries.add(
          entry.equals(old)
              ? new StoreEntry.KeyEntry(
                  old.alias(), old.key(), chain, old.own(), old.localKeyId(), old.created())
              : entry);
    }
    return conversion(entries);
  }

  /**
   * {@return the store in which an entry has another key with another chain, and all else is as it
   * was; where no entry has that alias, with one more entry}
   *
   * @param fresh the entry as it shall be
   */
  public Conversion renewed(StoreEntry.KeyEntry fresh) {
    List<StoreEntry> entries = new ArrayList<>();
    boolean there = false;
    for (StoreEntry entry : bundle.entries()) {
      boolean meant =
          entry instanceof StoreEntry.KeyEntry old && old.alias().equalsIgnoreCase(fresh.alias());
      entries.add(
          meant
              ? new StoreEntry.KeyEntry(
                  ((StoreEntry.KeyEntry) entry).alias(), fresh.key(), fresh.chain())
              : entry);
      there |= meant;
    }
    return there ? conversion(entries) : with(fresh);
  }

  /**
   * {@return the store with one more entry}
   *
   * @param added what is added
   * @throws SymbolonException if the alias is taken
   */
  public Conversion with(StoreEntry.KeyEntry added) {
    if (aliases().stream().anyMatch(added.alias()::equalsIgnoreCase)) {
      throw new SymbolonException(
          Reason.EXISTS,
          "The key was not put into " + shown(file.path()) + ".",
          "There is an entry '" + VisibleText.of(added.alias()) + "' already.",
          Remedy.of("Choose another name.", Action.again(Input.ALIAS)));
    }
    List<StoreEntry> entries = new ArrayList<>(bundle.entries());
    entries.add(added);
    return conversion(entries);
  }

  /** {@return the certificates that are trusted in it} */
  public Set<Certificate> trusted() {
    return bundle.certificates();
  }

  /**
   * {@return the store with more trusted certificates}
   *
   * @param added what is added, by aliases that are free
   */
  public Conversion withTrusted(Map<String, Certificate> added) {
    List<StoreEntry> entries = new ArrayList<>(bundle.entries());
    added.forEach((alias, one) -> entries.add(new StoreEntry.Trusted(alias, one)));
    return conversion(entries);
  }

  private Conversion conversion(List<StoreEntry> entries) {
    Bundle changed = new Bundle(entries, List.of(), List.of(), bundle.names());
    return Conversion.of(changed, target(), KeyForm.PKCS8, shown(file.path()));
  }
}
