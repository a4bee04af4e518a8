// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.KeyForm;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStoreWriter;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.store.Pkcs7;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Encodes a bundle in one of the formats. What a format has no place for must have been left out
 * before ({@link FormatFitting}). Output is the same for the same input, but for what has to be
 * random: salts and initialisation vectors.
 */
public final class Encoder {
  private final SealOptions wrapping;
  private final SecureRandom random;

  /**
   * An encoder with its settings.
   *
   * @param wrapping how it is sealed
   * @param random where random numbers come from
   */
  public Encoder(SealOptions wrapping, SecureRandom random) {
    this.wrapping = wrapping;
    this.random = random;
  }

  /**
   * {@return one file with all of the bundle}
   *
   * @param bundle what is written
   * @throws SymbolonException if the format can't hold it, or a store is given no password
   */
  public byte[] encode(Bundle bundle, Format target) {
    return WrittenFormat.of(target).encode().encode(this, bundle);
  }

  /**
   * {@return a file for each object, in PEM or DER}
   *
   * @param bundle what is written
   * @throws SymbolonException if the format is one that holds many objects in one file
   */
  public List<EncodedFile> encodeEach(Bundle bundle, Format target) {
    if (!target.can(Ability.FOLDERS)) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The content can't be written one file for each object.",
          target.title() + " holds all of it in one file.",
          "Name a file, or choose PEM or DER for a folder.");
    }
    FileNames names = new FileNames(target.endings().get(0));
    List<EncodedFile> files = new ArrayList<>();
    for (PemObject object : objects(bundle)) {
      byte[] content = target.can(Ability.TEXT) ? pem(List.of(object)) : object.content();
      files.add(
          new EncodedFile(names.next(object.name(), object.kind()), content, object.secret()));
      if (target.can(Ability.TEXT)) {
        Arrays.fill(object.content(), (byte) 0);
      }
    }
    return files;
  }

  byte[] pem(Bundle bundle) {
    return pem(objects(bundle));
  }

  byte[] der(Bundle bundle) {
    return der(objects(bundle));
  }

  byte[] pkcs12(Bundle bundle) {
    return Pkcs12Writer.write(
        withKeySeals(bundle), seal(), random, wrapping.strength(), bundle.names());
  }

  byte[] javaStore(Bundle bundle, JavaStoreWriter.StoreType kind) {
    return JavaStoreWriter.write(kind, withKeySeals(bundle), seal(), random);
  }

  private Secret seal() {
    return wrapping
        .seal()
        .orElseThrow(() -> new IllegalArgumentException("a keystore has a password"));
  }

  private List<StoreEntry> withKeySeals(Bundle bundle) {
    if (wrapping.sealKey().isEmpty()) {
      return bundle.entries();
    }
    List<StoreEntry> entries = new ArrayList<>();
    for (StoreEntry entry : bundle.entries()) {
      entries.add(
          entry instanceof StoreEntry.KeyEntry c
              ? new StoreEntry.KeyEntry(
                  c.alias(), c.key(), c.chain(), wrapping.sealKey(), c.localKeyId(), c.created())
              : entry);
    }
    return entries;
  }

  static byte[] pkcs7(Bundle bundle) {
    return new Pkcs7(
            List.copyOf(bundle.certificates()),
            bundle.revocationLists().stream().map(StoreEntry.Crl::list).toList())
        .encoding();
  }

  /**
   * One structure on its own.
   *
   * @param name what to name it by
   * @param kind what it is, for the name of its file
   * @param label the label of its block
   */
  @SuppressWarnings("ArrayRecordComponent") // never compared
  private record PemObject(
      String name, String kind, String label, byte[] content, boolean secret) {}

  /**
   * Each private key in front of its chain; a certificate that was written is not written again.
   */
  private List<PemObject> objects(Bundle bundle) {
    List<PemObject> objects = new ArrayList<>();
    Set<Certificate> written = new HashSet<>();
    Map<Certificate, String> names = names(bundle);
    for (StoreEntry entry : bundle.entries()) {
      if (entry instanceof StoreEntry.KeyEntry credential) {
        objects.add(key(credential.alias(), credential.key()));
        boolean first = true;
        for (Certificate certificate : credential.chain()) {
          if (written.add(certificate)) {
            String name = first ? credential.alias() : names.getOrDefault(certificate, "");
            objects.add(certificate(name, certificate));
          }
          first = false;
        }
      } else if (entry instanceof StoreEntry.Trusted trusted) {
        if (written.add(trusted.certificate())) {
          objects.add(certificate(trusted.alias(), trusted.certificate()));
        }
      } else if (entry instanceof StoreEntry.Plain plain) {
        if (written.add(plain.certificate())) {
          objects.add(certificate(plain.name().orElse(""), plain.certificate()));
        }
      } else if (entry instanceof StoreEntry.Crl crl) {
        String name = crl.name().orElse(crl.list().issuer().shortText());
        objects.add(new PemObject(name, "revocations", "X509 CRL", crl.list().encoding(), false));
      }
    }
    bundle
        .requests()
        .forEach(
            request ->
                objects.add(
                    new PemObject(
                        request.subject().commonName().orElse("request"),
                        "request",
                        "CERTIFICATE REQUEST",
                        request.encoding(),
                        false)));
    bundle
        .publicKeys()
        .forEach(
            key ->
                objects.add(
                    new PemObject(
                        key.keyId().substring(0, 8),
                        "public-key",
                        "PUBLIC KEY",
                        key.encoding(),
                        false)));
    return objects;
  }

  /** What certificates are called where they do not lie with their key. */
  private static Map<Certificate, String> names(Bundle bundle) {
    Map<Certificate, String> names = new HashMap<>();
    for (StoreEntry entry : bundle.entries()) {
      if (entry instanceof StoreEntry.Trusted trusted) {
        names.putIfAbsent(trusted.certificate(), trusted.alias());
      }
    }
    bundle
        .names()
        .forEach(
            (certificate, name) -> {
              if (!name.contains("=")) { // Java calls what is inside a chain by its whole subject
                names.putIfAbsent(certificate, name);
              }
            });
    return names;
  }

  private static PemObject certificate(String name, Certificate certificate) {
    String told = name.isEmpty() ? io.symbolon.join.Aliases.readable(certificate) : name;
    return new PemObject(told, "certificate", "CERTIFICATE", certificate.encoding(), false);
  }

  private PemObject key(String name, PrivateKeyInfo key) {
    KeyForm form = wrapping.keyForm();
    if (wrapping.seal().isEmpty()) {
      return new PemObject(name, "key", form.label(), key.reveal(form), true);
    }
    if (form != KeyForm.PKCS8) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The private key can't be sealed as " + form.title() + ".",
          "That form has no protection of its own but an outdated one, which is not written.",
          "Write it as PKCS#8 to have it sealed, or open on purpose.");
    }
    Protection protection = wrapping.strength().protection(random);
    byte[] sealed = EncryptedPrivateKeyInfo.seal(key, protection, seal()).encoding();
    return new PemObject(name, "key", "ENCRYPTED PRIVATE KEY", sealed, true);
  }

  private static byte[] pem(List<PemObject> objects) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (PemObject object : objects) {
      byte[] block = PemWriter.write(object.label(), object.content());
      out.writeBytes(block);
      Arrays.fill(block, (byte) 0);
    }
    return out.toByteArray();
  }

  private static byte[] der(List<PemObject> objects) {
    if (objects.size() != 1) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The content can't be written as one DER file.",
          "A DER file holds one object, and there are " + objects.size() + ".",
          Remedy.of(
              "Choose one, or name a folder for one file each.",
              Action.again(Input.PART, Input.ALIAS),
              Action.again().with(Input.INTO, "folder/")));
    }
    return objects.get(0).content();
  }
}
