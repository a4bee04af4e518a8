// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.der.Oids;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Extensions;
import io.symbolon.x509.KeyUsage;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** What an end-entity certificate is for. */
public enum Use {
  /** A TLS server. */
  SERVER(Oids.SERVER_AUTH),
  /** A TLS client. */
  CLIENT(Oids.CLIENT_AUTH),
  /** Both. */
  BOTH(Oids.SERVER_AUTH, Oids.CLIENT_AUTH);

  private final String purposes; // dotted, separated by spaces

  Use(Oid... purposes) {
    this.purposes = String.join(" ", Arrays.stream(purposes).map(Oid::toString).toList());
  }

  /** {@return the extended key usages} */
  public List<Oid> purposes() {
    return Arrays.stream(purposes.split(" ", -1)).map(Oid::of).toList();
  }

  /** {@return the key usages for a kind of key} */
  public Set<KeyUsage> keyUsages(SubjectPublicKeyInfo key) {
    Set<KeyUsage> usages = EnumSet.of(KeyUsage.DIGITAL_SIGNATURE);
    if (key.algorithm().oid().equals(Oids.RSA) && this != CLIENT) {
      usages.add(KeyUsage.KEY_ENCIPHERMENT); // TLS 1.2 with RSA key exchange still asks for it
    }
    return usages;
  }

  /** {@return whether a server uses it} */
  public boolean isForServers() {
    return this != CLIENT;
  }

  /** {@return whether a client uses it} */
  public boolean isForClients() {
    return this != SERVER;
  }

  /**
   * Such as {@code server}.
   *
   * @return the text
   */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /**
   * In words, such as {@code TLS server and TLS client}.
   *
   * @return the text
   */
  public String title() {
    return String.join(" and ", purposes().stream().map(Oids::nameOrDotted).toList());
  }

  /** {@return the use of this word} */
  public static Optional<Use> ofWord(String word) {
    return Arrays.stream(values()).filter(use -> use.word().equals(word)).findFirst();
  }

  /** {@return the use that the extended key usages of a certificate or request name} */
  public static Optional<Use> of(Extensions extensions) {
    Optional<List<Oid>> named = extensions.extendedKeyUsage();
    boolean server = named.filter(all -> all.contains(Oids.SERVER_AUTH)).isPresent();
    boolean client = named.filter(all -> all.contains(Oids.CLIENT_AUTH)).isPresent();
    if (server) {
      return Optional.of(client ? BOTH : SERVER);
    }
    return client ? Optional.of(CLIENT) : Optional.empty();
  }
}
