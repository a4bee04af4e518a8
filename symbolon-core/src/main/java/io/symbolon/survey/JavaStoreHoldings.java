// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.JavaKeyProtection;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStore;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Turns a JKS or JCEKS keystore into holdings. */
final class JavaStoreHoldings {
  private final List<Secret> unlock;
  private final FoundInFile reading;

  JavaStoreHoldings(List<Secret> unlock, FoundInFile reading) {
    this.unlock = unlock;
    this.reading = reading;
  }

  void read(byte[] bytes) {
    List<Secret> secrets = OpenedKey.tried(unlock);
    JavaStore store = JavaStoreReader.read(bytes, secrets);
    store.opener().ifPresent(reading::openedWith);
    reading.protectedBy(ProtectionWorth.ofJavaStore());
    for (JavaStore.Entry entry : store.entries()) {
      entry.key().ifPresent(key -> reading.budget().take(key.rounds()));
    }
    // Each key has a derivation of its own: they are opened on all processors.
    List<Optional<OpenedKey>> keys =
        store.entries().parallelStream()
            .map(entry -> entry.key().flatMap(key -> open(key, secrets)))
            .toList();
    boolean keyLocked = false;
    for (int i = 0; i < store.entries().size(); i++) {
      JavaStore.Entry entry = store.entries().get(i);
      entry(entry, i + 1, keys.get(i));
      keyLocked |= entry.key().isPresent() && keys.get(i).isEmpty();
    }
    if (keyLocked) {
      reading.locked(unlock, "A private key", false);
    } else if (store.opener().isEmpty()) {
      unproven();
    }
    if (JavaStoreReader.isPartial(store)) {
      reading.add(
          Finding.of(
              FindingKind.NOT_READ_TO_ITS_END,
              reading.name(),
              "What follows the first secret key in this keystore was not read: it is a serialized"
                  + " Java object, which is never opened.",
              "Ask its owner for the keys and certificates in a keystore without secret keys."));
    }
  }

  private void entry(JavaStore.Entry entry, int number, Optional<OpenedKey> opened) {
    boolean chained = entry.kind() == JavaStore.EntryKind.PRIVATE_KEY;
    Labels labels =
        new Labels(
            Optional.of(entry.alias()),
            Optional.empty(),
            Optional.of(entry.created()),
            entry.kind() == JavaStore.EntryKind.TRUSTED,
            chained ? Optional.of(number) : Optional.empty());
    Place place = reading.place("entry '" + VisibleText.of(entry.alias()) + "'");
    if (entry.kind() == JavaStore.EntryKind.SECRET_KEY) {
      reading.add(new Holding.SecretKey(place, labels));
    }
    if (entry.key().isPresent()) {
      reading.protectedBy(ProtectionWorth.of(entry.key().get()));
      opened.ifPresent(open -> reading.openedWith(open.secret()));
      reading.add(
          new Holding.PrivateKey(
              place,
              labels,
              opened.map(OpenedKey::key),
              opened.map(OpenedKey::secret),
              true,
              "PKCS#8"));
    }
    boolean first = true; // the alias belongs to the key's certificate, not to those above it
    for (byte[] der : entry.certificates()) {
      certificate(
          place,
          first
              ? labels
              : new Labels(
                  Optional.empty(), Optional.empty(), Optional.empty(), false, labels.entry()),
          der);
      first = false;
    }
  }

  private void unproven() {
    if (unlock.isEmpty()) {
      reading.add(
          Finding.of(
              FindingKind.INTEGRITY_NOT_CHECKED,
              reading.name(),
              "Whether the keystore was changed was not checked: that takes its password.",
              Remedy.of("Give the password.", Action.again(Input.PASSWORD))));
    } else {
      reading.add(
          Finding.of(
              FindingKind.INTEGRITY_NOT_CHECKED,
              reading.name(),
              "The integrity check of the keystore passes with none of the passwords given: they are"
                  + " wrong, or it was changed.",
              Remedy.of(
                  "Ask its owner for the right password, and give it.",
                  Action.again(Input.PASSWORD))));
    }
  }

  private static Optional<OpenedKey> open(JavaKeyProtection sealed, List<Secret> secrets) {
    return OpenedKey.first(secrets, secret -> sealed.open(secret).flatMap(JavaStoreHoldings::key));
  }

  /**
   * Nothing where a padding looked right by chance: then the next password may be the right one.
   */
  private static Optional<PrivateKeyInfo> key(byte[] opened) {
    try {
      return Optional.of(PrivateKeyInfo.readPkcs8(opened));
    } catch (SymbolonException e) {
      return Optional.empty();
    } finally {
      Arrays.fill(opened, (byte) 0);
    }
  }

  private void certificate(Place place, Labels labels, byte[] der) {
    try {
      reading.add(new Holding.Cert(place, labels, Certificate.readWhole(der)));
    } catch (SymbolonException e) {
      reading.failed(e, "The certificate at " + place.position());
    }
  }
}
