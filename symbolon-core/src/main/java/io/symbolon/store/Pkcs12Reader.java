// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.der.Ber;
import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.seal.DerivationBudget;
import io.symbolon.seal.PasswordMac;
import io.symbolon.seal.Protection;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Reads PKCS#12 (RFC 7292), in DER and in BER.
 *
 * <p>The passwords given are tried in order, and the empty one last, since a store without a real
 * password needs no question. The integrity check finds the right one; where there is no check, the
 * parts themselves do. A key may have a password of its own, so each key tries all of them. A
 * password that opens nothing is no failure here: the result says what stayed closed, and what
 * could be read without it is there.
 */
public final class Pkcs12Reader {
  private final List<Secret> secrets;
  private final Secret unnamed; // the empty password, tried although nobody gave it
  private final List<Bag> bags = new ArrayList<>();
  private final List<Pending> pending = new ArrayList<>();
  private final DerivationBudget budget;
  private final Set<ProtectionWorth> protections = new LinkedHashSet<>();
  private Optional<Secret> opener = Optional.empty();
  private int lockedParts;

  /** A key that is sealed, and its place among the bags. */
  private record Pending(int at, EncryptedPrivateKeyInfo sealed, BagLabels labels) {}

  private record OpenedSafe(PrivateKeyInfo key, Secret secret) {}

  private Pkcs12Reader(List<Secret> secrets, Secret unnamed, DerivationBudget budget) {
    this.secrets = secrets;
    this.unnamed = unnamed;
    this.budget = budget;
  }

  /**
   * Reads a store.
   *
   * @param bytes the whole file
   * @param unlock the passwords to try
   * @throws SymbolonException if this is no PKCS#12, is damaged where no password is needed, or
   *     asks for more derivation rounds than {@link Limits#ITERATIONS}
   */
  public static Pkcs12 read(byte[] bytes, List<Secret> unlock) {
    return read(bytes, unlock, new DerivationBudget());
  }

  /**
   * Reads a store that is a part of a file.
   *
   * @param budget how many rounds the file may still ask for
   */
  public static Pkcs12 read(byte[] bytes, List<Secret> unlock, DerivationBudget budget) {
    List<Secret> all = new ArrayList<>();
    unlock.forEach(secret -> all.addAll(secret.spellings()));
    Secret unnamed = Secret.empty();
    all.add(unnamed);
    return new Pkcs12Reader(all, unnamed, budget).read(bytes);
  }

  private Pkcs12 read(byte[] bytes) {
    Cursor pfx = definite(bytes).cursor(Tags.SEQUENCE);
    int version = pfx.next().smallInteger();
    if (version != 3) {
      throw SymbolonException.malformed("PKCS#12", "Its version is " + version + " instead of 3.");
    }
    Cursor contentInfo = pfx.next().cursor(Tags.SEQUENCE);
    Oid type = contentInfo.next().oid();
    if (!type.equals(Oids.DATA)) {
      throw new SymbolonException(
          Reason.UNSUPPORTED,
          "The PKCS#12 can't be opened.",
          "Its integrity is protected by a public key ("
              + Oids.nameOrDotted(type)
              + "), not by a password.",
          "Ask its sender to export it with a password.");
    }
    byte[] authenticatedSafe = contentInfo.next().only().octets();
    Optional<PasswordMac> mac =
        pfx.hasNext() ? Optional.of(PasswordMac.read(pfx.next())) : Optional.empty();
    Pkcs12.Integrity integrity = Pkcs12.Integrity.ABSENT;
    if (mac.isPresent()) {
      budget.take(mac.get().work());
      protections.add(ProtectionWorth.of(mac.get()));
      opener = secrets.stream().filter(s -> mac.get().matches(authenticatedSafe, s)).findFirst();
      integrity = opener.isPresent() ? Pkcs12.Integrity.CHECKED : Pkcs12.Integrity.NOT_CHECKED;
      if (opener.isEmpty()) {
        // Nobody named the empty password: where the check refuses it, trying it on each part would
        // only cost time.
        secrets.removeIf(secret -> secret == unnamed);
      }
    }
    boolean anyPartOpened = false;
    Cursor parts = definite(authenticatedSafe).cursor(Tags.SEQUENCE);
    while (parts.hasNext()) {
      anyPartOpened |= part(parts.next());
    }
    openKeys();
    return new Pkcs12(
        bags,
        integrity,
        mac,
        opener,
        lockedParts,
        List.copyOf(protections),
        integrity == Pkcs12.Integrity.NOT_CHECKED && anyPartOpened);
  }

  /** DER as it is; BER rewritten. */
  private static Element definite(byte[] bytes) {
    try {
      return Element.read(bytes);
    } catch (SymbolonException notDer) {
      return Element.read(Ber.toDefinite(bytes));
    }
  }

  /** One ContentInfo of the AuthenticatedSafe; returns whether a password opened it. */
  private boolean part(Element element) {
    Cursor info = element.cursor(Tags.SEQUENCE);
    Oid type = info.next().oid();
    if (type.equals(Oids.DATA)) {
      safeContents(definite(info.next().only().octets()), 0);
      return false;
    }
    if (!type.equals(Oids.ENCRYPTED_DATA)) {
      bags.add(
          new Bag.Unknown(
              BagLabels.NONE,
              type,
              "A part is protected as " + Oids.nameOrDotted(type) + ", which no password opens."));
      return false;
    }
    Cursor encrypted = info.next().only().cursor(Tags.SEQUENCE);
    encrypted.next().smallInteger();
    Cursor content = encrypted.next().cursor(Tags.SEQUENCE);
    content.skip();
    Protection protection = Protection.read(content.next());
    describe(protection, "certificates");
    Element sealed = content.next();
    byte[] octets =
        sealed.isConstructed() ? joined(sealed) : sealed.content(); // [0] IMPLICIT OCTET STRING
    for (Secret secret : opener.map(List::of).orElse(secrets)) {
      Optional<Element> opened = protection.open(octets, secret).flatMap(Pkcs12Reader::tryDefinite);
      if (opened.isPresent()) {
        if (opener.isEmpty()) {
          opener = Optional.of(secret);
        }
        safeContents(opened.get(), 0);
        return true;
      }
    }
    if (opener.isPresent()) {
      throw SymbolonException.malformed(
          "PKCS#12", "The password is right, but a part of the content does not open with it.");
    }
    lockedParts++;
    return false;
  }

  private static byte[] joined(Element pieces) {
    java.io.ByteArrayOutputStream out = new java.io.ByteArrayOutputStream();
    Cursor cursor = pieces.cursor();
    while (cursor.hasNext()) {
      out.writeBytes(cursor.next().octets());
    }
    return out.toByteArray();
  }

  private static Optional<Element> tryDefinite(byte[] bytes) {
    try {
      return Optional.of(definite(bytes)).filter(element -> element.is(Tags.SEQUENCE));
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private void safeContents(Element contents, int depth) {
    if (depth > Limits.DER_DEPTH) {
      throw SymbolonException.malformed("PKCS#12", "Its parts nest too deep.");
    }
    Cursor cursor = contents.cursor(Tags.SEQUENCE);
    while (cursor.hasNext()) {
      if (bags.size() >= Limits.STORE_ENTRIES) {
        throw new SymbolonException(
            Reason.LIMIT_PASSED,
            "The PKCS#12 can't be read.",
            "It holds more than " + Limits.STORE_ENTRIES + " entries.",
            "Split it into several stores.");
      }
      Cursor bag = cursor.next().cursor(Tags.SEQUENCE);
      Oid type = bag.next().oid();
      Element value = bag.next().expect(Tags.context(0)).only();
      BagLabels labels = BagLabels.read(bag.hasNext() ? Optional.of(bag.next()) : Optional.empty());
      if (type.equals(Oids.SAFE_CONTENTS_BAG)) {
        safeContents(value, depth + 1);
      } else {
        bags.add(bag(type, value, labels));
      }
    }
  }

  private Bag bag(Oid type, Element value, BagLabels labels) {
    try {
      if (type.equals(Oids.SHROUDED_KEY_BAG)) {
        return sealedKey(value, labels);
      }
      if (type.equals(Oids.KEY_BAG)) {
        PrivateKeyInfo key = PrivateKeyInfo.readPkcs8(value.encoding());
        return new Bag.Key(labels, Optional.of(key), Optional.empty(), Optional.empty());
      }
      if (type.equals(Oids.CERT_BAG) || type.equals(Oids.CRL_BAG)) {
        Cursor cursor = value.cursor(Tags.SEQUENCE);
        Oid form = cursor.next().oid();
        byte[] content = cursor.next().only().octets();
        if (form.equals(Oids.X509_CERTIFICATE)) {
          return new Bag.Cert(labels, Certificate.readWhole(content), labels.trusted());
        }
        if (form.equals(Oids.X509_CRL)) {
          return new Bag.Crl(labels, RevocationList.read(content));
        }
        return new Bag.Unknown(labels, form, "This form of certificate is not known.");
      }
      if (type.equals(Oids.SECRET_BAG)) {
        return new Bag.SecretValue(labels, value.cursor(Tags.SEQUENCE).next().oid());
      }
    } catch (SymbolonException e) {
      if (e.reason() != Reason.NOT_UNDERSTOOD && e.reason() != Reason.UNSUPPORTED) {
        throw e;
      }
      return new Bag.Unknown(labels, type, e.statement() + " " + e.seen());
    }
    return new Bag.Unknown(labels, type, "This kind of entry is not known.");
  }

  /** The key is opened when all parts are read: by then the password is mostly known. */
  private Bag sealedKey(Element value, BagLabels labels) {
    EncryptedPrivateKeyInfo sealed = EncryptedPrivateKeyInfo.read(value);
    describe(sealed.protection(), "keys");
    pending.add(new Pending(bags.size(), sealed, labels));
    return new Bag.Key(
        labels, Optional.empty(), Optional.of(sealed.protection()), Optional.empty());
  }

  /**
   * Opens the sealed keys, each with a derivation of its own: the first alone where the password is
   * not known yet, the others on all processors.
   */
  private void openKeys() {
    int alone = 0;
    while (opener.isEmpty() && alone < pending.size()) {
      Optional<OpenedSafe> opened = open(pending.get(alone), secrets);
      place(pending.get(alone), opened);
      opener = opened.map(OpenedSafe::secret);
      alone++;
    }
    List<Secret> order = new ArrayList<>(opener.map(List::of).orElse(List.of()));
    secrets.stream().filter(secret -> !order.contains(secret)).forEach(order::add);
    List<Pending> rest = pending.subList(alone, pending.size());
    List<Optional<OpenedSafe>> opened = rest.parallelStream().map(key -> open(key, order)).toList();
    for (int i = 0; i < rest.size(); i++) {
      place(rest.get(i), opened.get(i));
    }
  }

  private static Optional<OpenedSafe> open(Pending key, List<Secret> secrets) {
    for (Secret secret : secrets) {
      Optional<PrivateKeyInfo> open = key.sealed.open(secret);
      if (open.isPresent()) {
        return Optional.of(new OpenedSafe(open.get(), secret));
      }
    }
    return Optional.empty();
  }

  private void place(Pending key, Optional<OpenedSafe> opened) {
    lockedParts += opened.isPresent() ? 0 : 1;
    bags.set(
        key.at,
        new Bag.Key(
            key.labels,
            opened.map(OpenedSafe::key),
            Optional.of(key.sealed.protection()),
            opened.map(OpenedSafe::secret)));
  }

  private void describe(Protection protection, String what) {
    budget.take(protection.work());
    protections.add(ProtectionWorth.of(protection, what));
  }
}
