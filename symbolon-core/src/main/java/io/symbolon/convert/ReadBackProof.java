// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * Reads what was made, before it gets its name, and compares it with what it was made from, octet
 * for octet, and its entries by their aliases. A keystore may be the only place of a key; and where
 * no key was wanted, none may be there.
 */
public final class ReadBackProof {
  private ReadBackProof() {}

  /**
   * Proves that files hold a bundle, no more and no less.
   *
   * @param bundle what is written
   * @param wrapping how it is sealed
   * @throws SymbolonException if they do not; nothing may be written then
   */
  public static void check(List<EncodedFile> files, Bundle bundle, SealOptions wrapping) {
    Set<Secret> secrets = new LinkedHashSet<>();
    wrapping.seal().ifPresent(secrets::add);
    wrapping.sealKey().ifPresent(secrets::add);
    bundle.credentials().forEach(credential -> credential.own().ifPresent(secrets::add));
    Surveyor surveyor = Surveyor.create().withUnlock(List.copyOf(secrets));
    List<PrivateKeyInfo> keys = new ArrayList<>();
    Set<Certificate> certificates = new HashSet<>();
    Set<SubjectPublicKeyInfo> publicKeys = new HashSet<>();
    Set<String> others = new HashSet<>();
    boolean sameEntries = true;
    for (EncodedFile file : files) {
      FileSurvey survey = surveyor.read(Path.of(file.name()), file.content());
      if (survey.failure().isPresent() || survey.locked()) {
        throw failed("what was made could not be opened again");
      }
      boolean store = survey.format().isStore();
      sameEntries &= !store || ofFile(survey.holdings()).equals(ofBundle(bundle.entries()));
      for (Holding holding : survey.holdings()) {
        if (holding instanceof Holding.PrivateKey key) {
          keys.add(key.key().orElseThrow());
        } else if (holding instanceof Holding.Cert cert) {
          certificates.add(cert.certificate());
        } else if (holding instanceof Holding.PublicKey key) {
          publicKeys.add(key.key());
        } else if (holding instanceof Holding.Request request) {
          others.add(request.request().sha256());
        } else if (holding instanceof Holding.Crl crl) {
          others.add(crl.list().sha256());
        }
      }
    }
    keys(bundle.credentials(), keys);
    if (!certificates.equals(bundle.certificates())) {
      throw failed("the certificates read from it are not those that were written");
    }
    Set<String> wanted = new HashSet<>();
    bundle.requests().forEach(request -> wanted.add(request.sha256()));
    bundle.revocationLists().forEach(crl -> wanted.add(crl.list().sha256()));
    if (!others.equals(wanted) || !publicKeys.equals(Set.copyOf(bundle.publicKeys()))) {
      throw failed("what is read from it is not what was written");
    }
    if (!sameEntries) {
      throw failed("its entries are not those that were written");
    }
  }

  /**
   * An entry of a keystore.
   *
   * @param alias its alias; upper and lower case do not count
   * @param holds its key by fingerprint, or the certificate that is trusted
   * @param own the certificate of its key
   */
  private record Entry(String alias, Object holds, Optional<Certificate> own) {
    Entry {
      alias = alias.toLowerCase(Locale.ENGLISH);
    }
  }

  private static Set<Entry> ofBundle(List<StoreEntry> entries) {
    Set<Entry> all = new HashSet<>();
    for (StoreEntry entry : entries) {
      if (entry instanceof StoreEntry.KeyEntry key) {
        all.add(
            new Entry(
                key.alias(), key.key().revealFingerprint(), key.chain().stream().findFirst()));
      } else if (entry instanceof StoreEntry.Trusted trusted) {
        all.add(new Entry(trusted.alias(), trusted.certificate(), Optional.empty()));
      }
    }
    return all;
  }

  private static Set<Entry> ofFile(List<Holding> holdings) {
    Set<Entry> all = new HashSet<>();
    for (Holding holding : holdings) {
      if (holding instanceof Holding.PrivateKey key) {
        all.add(
            new Entry(
                key.alias().orElse(""),
                key.key().orElseThrow().revealFingerprint(),
                own(key, holdings)));
      } else if (holding instanceof Holding.Cert cert && cert.labels().trusted()) {
        all.add(new Entry(cert.alias().orElse(""), cert.certificate(), Optional.empty()));
      }
    }
    return all;
  }

  /** The first certificate that the store ties to a key. */
  private static Optional<Certificate> own(Holding.PrivateKey key, List<Holding> holdings) {
    String shared = key.labels().shared();
    return holdings.stream()
        .filter(holding -> !shared.isEmpty() && holding.labels().shared().equals(shared))
        .filter(Holding.Cert.class::isInstance)
        .map(holding -> ((Holding.Cert) holding).certificate())
        .findFirst();
  }

  private static void keys(List<StoreEntry.KeyEntry> wanted, List<PrivateKeyInfo> read) {
    if (wanted.isEmpty() && !read.isEmpty()) {
      throw failed("a private key is in it, though none was asked for");
    }
    List<String> before =
        wanted.stream().map(credential -> credential.key().revealFingerprint()).sorted().toList();
    List<String> after = read.stream().map(PrivateKeyInfo::revealFingerprint).sorted().toList();
    boolean same = before.equals(after);
    if (!same) {
      throw failed("the private keys read from it are not those that were written");
    }
  }

  private static SymbolonException failed(String seen) {
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The result was not written.",
        "It was read again before it got its name, and " + seen + ".",
        "Report this as a defect; nothing was changed.");
  }
}
