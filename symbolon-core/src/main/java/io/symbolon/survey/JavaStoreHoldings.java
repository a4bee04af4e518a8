package io.symbolon.survey;

import io.symbolon.Finding;
import io.symbolon.SymbolonException;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.seal.JavaKeyProtection;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStore;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Turns a JKS or JCEKS keystore into holdings. */
final class JavaStoreHoldings {
  private final List<Secret> unlock;
  private final Reading reading;

  JavaStoreHoldings(List<Secret> unlock, Reading reading) {
    this.unlock = unlock;
    this.reading = reading;
  }

  void read(byte[] bytes) {
    List<Secret> secrets = new ArrayList<>(unlock);
    secrets.add(Secret.empty());
    JavaStore store = JavaStoreReader.read(bytes, secrets);
    store.opener().ifPresent(reading::openedWith);
    Set<String> protections = new LinkedHashSet<>();
    protections.add("SHA-1 over the password and all");
    boolean keyLocked = false;
    for (JavaStore.Entry entry : store.entries()) {
      Optional<String> alias = Optional.of(entry.alias());
      Place place = reading.place("entry '" + io.symbolon.VisibleText.of(entry.alias()) + "'");
      if (entry.kind() == JavaStore.Kind.SECRET_KEY) {
        reading.add(new Holding.SecretKey(place, alias));
      }
      if (entry.key().isPresent()) {
        JavaKeyProtection sealed = entry.key().get();
        protections.add(sealed.description() + " for keys");
        Optional<PrivateKeyInfo> key = open(sealed, secrets);
        keyLocked |= key.isEmpty();
        reading.add(new Holding.PrivateKey(place, alias, key, true, "PKCS#8"));
      }
      boolean first = true; // the alias belongs to the key's certificate, not to those above it
      for (byte[] der : entry.certificates()) {
        certificate(place, first ? alias : Optional.empty(), der);
        first = false;
      }
    }
    reading.protectedBy(List.copyOf(protections));
    if (keyLocked) {
      reading.locked(unlock, "A private key", false);
    } else if (store.opener().isEmpty()) {
      unproven();
    }
    if (JavaStoreReader.isPartial(store)) {
      reading.add(
          Finding.warning(
              "not-read-to-its-end",
              reading.name(),
              "What follows the first secret key in this keystore was not read: it is a serialized"
                  + " Java object, which is never opened.",
              "Ask its owner for the keys and certificates in a keystore without secret keys."));
    }
  }

  private void unproven() {
    if (unlock.isEmpty()) {
      reading.add(
          Finding.warning(
              "integrity-not-checked",
              reading.name(),
              "Whether the keystore was changed was not checked: that takes its password.",
              "Give the password with --unlock."));
    } else {
      reading.add(
          Finding.warning(
              "integrity-not-checked",
              reading.name(),
              "The integrity check of the keystore passes with none of the passwords given: they are"
                  + " wrong, or it was changed.",
              "Ask its owner for the right password and give it with --unlock."));
    }
  }

  private Optional<PrivateKeyInfo> open(JavaKeyProtection sealed, List<Secret> secrets) {
    for (Secret secret : secrets) {
      Optional<byte[]> opened = sealed.open(secret);
      if (opened.isPresent()) {
        try {
          PrivateKeyInfo key = PrivateKeyInfo.readPkcs8(opened.get());
          reading.openedWith(secret);
          return Optional.of(key);
        } catch (SymbolonException e) {
          // A padding that looked right by chance: the next password may be the right one.
        } finally {
          Arrays.fill(opened.get(), (byte) 0);
        }
      }
    }
    return Optional.empty();
  }

  private void certificate(Place place, Optional<String> alias, byte[] der) {
    try {
      reading.add(new Holding.Cert(place, alias, Certificate.readWhole(der)));
    } catch (SymbolonException e) {
      reading.failed(e, "The certificate at " + place.position());
    }
  }
}
