// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import io.symbolon.chain.Credential;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.SealOptions;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.format.Format;
import io.symbolon.handshake.CredentialKeyManager;
import io.symbolon.handshake.TrustManagers;
import io.symbolon.join.Aliases;
import io.symbolon.key.KeyForm;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import javax.net.ssl.KeyManager;
import javax.net.ssl.TrustManager;

/** Credentials and trust as keystores, and as what the platform's TLS is made from. */
public final class Keystores {
  private Keystores() {}

  /**
   * A PKCS#12 keystore with one credential, for a file. It was read again and compared before it is
   * handed out.
   *
   * @param credential the key and its chain
   * @param password the password of the store and of the key; not kept
   * @param strength how it is protected; {@link Pkcs12Strength#STRONG} costs some tenths of a
   *     second of processor time for each store, which is what makes guessing the password slow
   * @return the octets, with the private key sealed in them
   */
  public static byte[] pkcs12(
      Credential credential, String alias, Secret password, Pkcs12Strength strength) {
    return pkcs12(
        List.of(new StoreEntry.KeyEntry(alias, credential.key(), credential.chain())),
        password,
        strength);
  }

  /**
   * {@return a PKCS#12 truststore, for a file} Java and other programs take every entry as trusted.
   *
   * @param trust whom to trust; the roots of the running Java are not written
   * @param password the password of the store; not kept
   * @param strength how strongly it is protected
   * @throws IllegalArgumentException if the trust is that of the running Java alone
   */
  public static byte[] pkcs12(Trust trust, Secret password, Pkcs12Strength strength) {
    return pkcs12(entries(trust), password, strength);
  }

  private static List<StoreEntry.Trusted> entries(Trust trust) {
    if (trust.certificates().isEmpty()) {
      throw new IllegalArgumentException("the roots of the running Java are not written");
    }
    Set<String> taken = new HashSet<>();
    List<StoreEntry.Trusted> entries = new ArrayList<>();
    for (Certificate certificate : trust.certificates()) {
      entries.add(new StoreEntry.Trusted(Aliases.unique(certificate, taken), certificate));
    }
    return entries;
  }

  private static byte[] pkcs12(
      List<? extends StoreEntry> entries, Secret password, Pkcs12Strength strength) {
    return Conversion.of(
            Bundle.of(List.copyOf(entries)), Format.PKCS12, KeyForm.PKCS8, "the keystore")
        .encode("the keystore", SealOptions.sealed(password).with(strength), new SecureRandom())
        .content();
  }

  /**
   * {@return a keystore of the platform, in memory, with one credential}
   *
   * @param password the password of the key; not kept
   * @throws SymbolonException if the platform can't hold such a key
   */
  public static KeyStore keyStore(Credential credential, String alias, char[] password) {
    try {
      KeyStore keystore = empty();
      keystore.setKeyEntry(
          alias,
          credential.key().toPrivateKey(),
          password,
          credential.chain().stream()
              .map(Certificate::toX509Certificate)
              .toArray(X509Certificate[]::new));
      return keystore;
    } catch (GeneralSecurityException | IOException e) {
      throw SymbolonException.malformed("credential", e);
    }
  }

  /**
   * {@return a truststore of the platform, in memory}
   *
   * @param trust whom to trust
   * @throws IllegalArgumentException if the trust is that of the running Java alone
   */
  public static KeyStore trustStore(Trust trust) {
    try {
      KeyStore keystore = empty();
      for (StoreEntry.Trusted entry : entries(trust)) {
        keystore.setCertificateEntry(entry.alias(), entry.certificate().toX509Certificate());
      }
      return keystore;
    } catch (GeneralSecurityException | IOException e) {
      throw SymbolonException.malformed("trust", e);
    }
  }

  /**
   * {@return key managers that show the fitting one of some credentials: by the kind of key the
   * peer can use, the host that is asked for, or the authorities that are named}
   *
   * @throws IllegalArgumentException if there is no credential
   */
  public static KeyManager[] keyManagers(Credential... credentials) {
    if (credentials.length == 0) {
      throw new IllegalArgumentException("no credential");
    }
    return new KeyManager[] {new CredentialKeyManager(List.of(credentials))};
  }

  /**
   * {@return trust managers that trust exactly these}
   *
   * @param trust whom to trust
   */
  public static TrustManager[] trustManagers(Trust trust) {
    return new TrustManager[] {TrustManagers.of(trust)};
  }

  private static KeyStore empty() throws GeneralSecurityException, IOException {
    KeyStore keystore = KeyStore.getInstance("PKCS12");
    keystore.load(null, null);
    return keystore;
  }
}
