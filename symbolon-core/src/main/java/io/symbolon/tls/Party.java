package io.symbolon.tls;

import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;

/**
 * What one side brings to a handshake.
 *
 * @param name what to call it: its alias, its common name, or its file
 * @param where where its files are, for findings
 * @param credential the key and the certificates it shows; none for a client without them
 * @param trust the certificates it trusts; none where nothing is known of its trust
 */
public record Party(
    String name, String where, Optional<Credential> credential, Optional<List<Certificate>> trust) {
  /** Copies the trust. */
  public Party {
    trust = trust.map(List::copyOf);
  }

  /** A side that shows a credential. */
  public static Party of(String name, String where, Credential credential) {
    return new Party(name, where, Optional.of(credential), Optional.empty());
  }

  /** A side that shows nothing. */
  public static Party nobody(String name) {
    return new Party(name, name, Optional.empty(), Optional.empty());
  }

  /** With what it trusts. */
  public Party withTrust(List<Certificate> newTrust) {
    return new Party(name, where, credential, Optional.of(newTrust));
  }

  /** The certificates it shows, end-entity first. */
  public List<Certificate> chain() {
    return credential.map(Credential::chain).orElse(List.of());
  }
}
