// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.der.Element;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.pem.PemBlock;
import io.symbolon.seal.HeaderProtection;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.store.Bag;
import io.symbolon.store.Pkcs12;
import io.symbolon.store.Pkcs12Reader;
import io.symbolon.store.Pkcs7;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.RevocationList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Turns one structure into holdings. */
final class StructureReader {

  private final List<Secret> unlock;
  private final FoundInFile reading;

  StructureReader(List<Secret> unlock, FoundInFile reading) {
    this.unlock = unlock;
    this.reading = reading;
  }

  /**
   * Reads one structure; what is wrong with it becomes a failure of the reading.
   *
   * @return whether the structure is one that is known
   */
  boolean read(Structure structure, byte[] der, String position) {
    return read(structure, der, position, Labels.NONE);
  }

  /** The same, with what is said of it where it stands. */
  boolean read(Structure structure, byte[] der, String position, Labels labels) {
    Place place = reading.place(position);
    try {
      switch (structure) {
        case CERTIFICATE ->
            reading.add(new Holding.Cert(place, labels, Certificate.readWhole(der)));
        case REQUEST ->
            reading.add(new Holding.Request(place, labels, CertificateRequest.read(der)));
        case REVOCATION_LIST ->
            reading.add(new Holding.Crl(place, labels, RevocationList.read(der)));
        case PKCS8 -> open(place, labels, PrivateKeyInfo.readPkcs8(der));
        case PKCS1 -> open(place, labels, PrivateKeyInfo.readPkcs1(der));
        case SEC1 -> open(place, labels, PrivateKeyInfo.readSec1(der));
        case DSA -> open(place, labels, PrivateKeyInfo.readDsa(der));
        case ENCRYPTED_PKCS8 -> sealed(place, labels, der);
        case PUBLIC_KEY ->
            reading.add(new Holding.PublicKey(place, labels, SubjectPublicKeyInfo.read(der)));
        case RSA_PUBLIC_KEY ->
            reading.add(
                new Holding.PublicKey(
                    place, labels, SubjectPublicKeyInfo.ofRsaPublicKey(Element.read(der))));
        case PKCS7 -> bundle(der, position);
        case PKCS12 -> store(der);
        case UNKNOWN -> {
          return false;
        }
      }
    } catch (SymbolonException e) {
      String where = position.isEmpty() ? "" : " at " + position;
      reading.failed(e, "The " + title(structure) + where);
    }
    return true;
  }

  private static String title(Structure structure) {
    return switch (structure) {
      case CERTIFICATE -> "certificate";
      case REQUEST -> "certificate signing request";
      case REVOCATION_LIST -> "revocation list";
      case PKCS8, ENCRYPTED_PKCS8, PKCS1, SEC1, DSA -> "private key";
      case PUBLIC_KEY, RSA_PUBLIC_KEY -> "public key";
      case PKCS7 -> "PKCS#7 bundle";
      case PKCS12 -> "PKCS#12";
      case UNKNOWN -> "content";
    };
  }

  private void open(Place place, Labels labels, PrivateKeyInfo key) {
    reading.add(
        new Holding.PrivateKey(
            place, labels, Optional.of(key), Optional.empty(), false, key.form().title()));
  }

  private void sealed(Place place, Labels labels, byte[] der) {
    EncryptedPrivateKeyInfo sealed = EncryptedPrivateKeyInfo.read(Element.read(der));
    reading.budget().take(sealed.protection().work());
    reading.protectedBy(ProtectionWorth.of(sealed.protection(), "keys"));
    sealed(place, labels, OpenedKey.first(OpenedKey.tried(unlock), sealed::open), "PKCS#8");
  }

  private void sealed(Place place, Labels labels, Optional<OpenedKey> opened, String form) {
    opened.ifPresent(open -> reading.openedWith(open.secret()));
    reading.add(
        new Holding.PrivateKey(
            place, labels, opened.map(OpenedKey::key), opened.map(OpenedKey::secret), true, form));
    if (opened.isEmpty()) {
      reading.locked(unlock, "The private key", true);
    }
  }

  /** Reads a private key that is encrypted the older way, by header lines. */
  void readSealed(PemBlock block, String dekInfo, String position) {
    try {
      HeaderProtection protection = HeaderProtection.read(dekInfo);
      reading.protectedBy(ProtectionWorth.of(protection));
      Optional<OpenedKey> opened =
          OpenedKey.first(
              OpenedKey.tried(unlock),
              secret ->
                  protection.open(block.content(), secret).flatMap(StructureReader::privateKey));
      String form = opened.map(open -> open.key().form().title()).orElse(block.label());
      sealed(reading.place(position), Labels.named(block.name()), opened, form);
    } catch (SymbolonException e) {
      reading.failed(e, "The private key");
    }
  }

  /** A key in any of its forms; a wrong password may leave something else, or nothing at all. */
  private static Optional<PrivateKeyInfo> privateKey(byte[] der) {
    try {
      return switch (Structure.of(Element.read(der))) {
        case PKCS1 -> Optional.of(PrivateKeyInfo.readPkcs1(der));
        case SEC1 -> Optional.of(PrivateKeyInfo.readSec1(der));
        case DSA -> Optional.of(PrivateKeyInfo.readDsa(der));
        case PKCS8 -> Optional.of(PrivateKeyInfo.readPkcs8(der));
        default -> Optional.empty();
      };
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private void bundle(byte[] der, String position) {
    Pkcs7 bundle = Pkcs7.read(der);
    int number = 0;
    for (Certificate certificate : bundle.certificates()) {
      reading.add(new Holding.Cert(numbered(position, ++number), Labels.NONE, certificate));
    }
    for (RevocationList list : bundle.revocationLists()) {
      reading.add(new Holding.Crl(numbered(position, ++number), Labels.NONE, list));
    }
  }

  private Place numbered(String position, int number) {
    return reading.place((position.isEmpty() ? "" : position + ", ") + "number " + number);
  }

  private void store(byte[] bytes) {
    Pkcs12 store = Pkcs12Reader.read(bytes, unlock, reading.budget());
    store.opener().ifPresent(reading::openedWith);
    store.protections().forEach(reading::protectedBy);
    int number = 0;
    int unknown = 0;
    for (Bag bag : store.bags()) {
      number++;
      Labels labels = Labels.ofBag(bag.labels(), bag instanceof Bag.Cert cert && cert.trusted());
      Place place =
          reading.place(
              labels
                  .alias()
                  .map(name -> "entry '" + io.symbolon.text.VisibleText.of(name) + "'")
                  .orElse("entry " + number));
      if (bag instanceof Bag.Key key) {
        key.opener().ifPresent(reading::openedWith);
        reading.add(
            new Holding.PrivateKey(
                place, labels, key.key(), key.opener(), key.protection().isPresent(), "PKCS#8"));
      } else if (bag instanceof Bag.Cert cert) {
        reading.add(new Holding.Cert(place, labels, cert.certificate()));
      } else if (bag instanceof Bag.Crl crl) {
        reading.add(new Holding.Crl(place, labels, crl.list()));
      } else if (bag instanceof Bag.SecretValue) {
        reading.add(new Holding.SecretKey(place, labels));
      } else if (bag instanceof Bag.Unknown entry) {
        unknown++;
        if (unknown <= Limits.UNKNOWN_ENTRIES_TOLD) {
          unreadable(place.toString(), entry.why());
        }
      }
    }
    if (unknown > Limits.UNKNOWN_ENTRIES_TOLD) {
      unreadable(
          (unknown - Limits.UNKNOWN_ENTRIES_TOLD) + " more entries of " + reading.name(),
          "They are as broken.");
    }
    if (store.intactButAltered()) {
      reading.failed(
          FindingKind.DAMAGED,
          new SymbolonException(
              Reason.NOT_UNDERSTOOD,
              "The PKCS#12 " + reading.name() + " is damaged.",
              "A password opens its content, but the integrity check over it fails: it was changed.",
              "Ask for the file again, and do not use what it holds."));
    } else if (store.isLocked()) {
      reading.locked(unlock, "The PKCS#12", true);
    } else if (store.integrity() == Pkcs12.Integrity.ABSENT) {
      reading.add(
          Finding.of(
              FindingKind.NO_INTEGRITY_CHECK,
              reading.name(),
              "The PKCS#12 carries no integrity check: nobody can tell whether it was changed.",
              ""));
    }
  }

  private void unreadable(String what, String why) {
    reading.failed(
        FindingKind.DAMAGED,
        new SymbolonException(
            Reason.NOT_UNDERSTOOD,
            what + " can't be read.",
            why,
            "Ask its sender to write the store again."));
  }

  static boolean isWhole(byte[] bytes, Element element) {
    return element.endOffset() == bytes.length
        || isBlank(Arrays.copyOfRange(bytes, element.endOffset(), bytes.length));
  }

  /** Whether nothing but white space, zeros or an end-of-file mark is left. */
  static boolean isBlank(byte[] bytes) {
    for (byte b : bytes) {
      if (b != 0 && b != ' ' && b != '\t' && b != '\n' && b != '\r' && b != 0x1A) {
        return false;
      }
    }
    return true;
  }
}
