// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.chain.Credential;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;

/** What is measured: certificates of the observatory, and stores that the platform wrote. */
final class Material {
  static final char[] PASSWORD = "geheim".toCharArray();

  private final Authority root;
  private final Authority issuing;

  Material() {
    Instant now = Instant.now();
    root =
        Authority.root(
            name("Lanternfish Root"),
            KeyKind.RSA_2048,
            now,
            Duration.ofDays(3650),
            new SecureRandom());
    issuing =
        root.intermediate(
            name("Lanternfish Issuing A"), KeyKind.EC_P256, now, Duration.ofDays(1000));
  }

  private static DistinguishedName name(String commonName) {
    return DistinguishedName.parse("CN=" + commonName + ",O=Lanternfish Observatory");
  }

  Credential server(String host, KeyKind kind) {
    return issuing.issue(
        name(host),
        kind,
        List.of(HostName.parse(host), HostName.parse("www." + host)),
        Use.SERVER,
        Instant.now(),
        Duration.ofDays(365));
  }

  Credential client(String commonName, KeyKind kind) {
    return issuing.issue(
        name(commonName), kind, List.of(), Use.CLIENT, Instant.now(), Duration.ofDays(365));
  }

  List<byte[]> certificates(int count) {
    List<byte[]> encoded = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      Certificate certificate =
          server(
                  "buoy-" + i + ".lanternfish.example",
                  i % 2 == 0 ? KeyKind.EC_P256 : KeyKind.ED25519)
              .certificate();
      encoded.add(certificate.encoding());
    }
    encoded.add(root.certificate().encoding());
    encoded.add(issuing.certificate().encoding());
    return encoded;
  }

  /** A store with one key and its chain, by the platform's writer with its own settings. */
  byte[] oneKey() throws GeneralSecurityException, IOException {
    KeyStore store = empty("PKCS12");
    Credential credential = server("ingest.lanternfish.example", KeyKind.RSA_2048);
    store.setKeyEntry(
        "ingest",
        credential.key().toPrivateKey(),
        PASSWORD,
        credential.chain().stream()
            .map(Certificate::toX509Certificate)
            .toArray(java.security.cert.Certificate[]::new));
    return save(store);
  }

  /** A store with many keys, each with its chain. */
  byte[] keys(String type, int count) throws GeneralSecurityException, IOException {
    KeyStore store = empty(type);
    for (int i = 0; i < count; i++) {
      Credential credential = server("buoy-" + i + ".lanternfish.example", KeyKind.EC_P256);
      store.setKeyEntry(
          "buoy-" + i,
          credential.key().toPrivateKey(),
          PASSWORD,
          credential.chain().stream()
              .map(Certificate::toX509Certificate)
              .toArray(java.security.cert.Certificate[]::new));
    }
    return save(store);
  }

  /** A store with many trusted certificates, by the platform's writer with its own settings. */
  byte[] trusted(int count) throws GeneralSecurityException, IOException {
    KeyStore store = empty("PKCS12");
    int number = 0;
    for (byte[] certificate : certificates(count)) {
      store.setCertificateEntry(
          "trusted-" + number++, Certificate.read(certificate).toX509Certificate());
    }
    return save(store);
  }

  private static KeyStore empty(String type) throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance(type);
    store.load(null, null);
    return store;
  }

  private static byte[] save(KeyStore store) throws GeneralSecurityException, IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, PASSWORD);
    return out.toByteArray();
  }
}
