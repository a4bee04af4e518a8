// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

import io.symbolon.chain.Credential;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What one side brings to a handshake.
 *
 * @param name what to call it: its alias, its common name, or its file
 * @param where where its files are, for findings
 * @param credential the key and the certificates it shows; none for a client without them
 * @param files the files that its credential was read from; none where it comes from elsewhere
 * @param trust the certificates it trusts; none where nothing is known of its trust
 * @param trustFiles the files that they were read from
 * @param traits what is so with the files of the credential, and matters to servers
 * @param places where each of its certificates lies, for findings
 */
public record Party(
    String name,
    String where,
    Optional<Credential> credential,
    List<Path> files,
    Optional<List<Certificate>> trust,
    List<Path> trustFiles,
    Set<Trait> traits,
    Map<Certificate, String> places) {
  /** What can be so with the files of a credential. */
  public enum Trait {
    /** A PEM file begins with another certificate than that of the key. */
    OTHER_CERTIFICATE_FIRST,
    /** The private key lies in a PEM file under a password. */
    SEALED_KEY,
    /** The private key lies in a keystore under another password than the keystore's. */
    OWN_KEY_PASSWORD,
    /** In a PEM file with the certificates, a block begins on the line where another ends. */
    GLUED_CHAIN,
    /** The same in a PEM file with the trust. */
    GLUED_TRUST
  }

  /** Copies the lists. */
  public Party {
    files = List.copyOf(files);
    trust = trust.map(List::copyOf);
    trustFiles = List.copyOf(trustFiles);
    traits = Set.copyOf(traits);
    places = Map.copyOf(places);
  }

  /**
   * {@return a side that shows a credential}
   *
   * @param where the place to name, such as a file; may be empty
   */
  public static Party of(String name, String where, Credential credential) {
    return new Party(
        name,
        where,
        Optional.of(credential),
        List.of(),
        Optional.empty(),
        List.of(),
        Set.of(),
        Map.of());
  }

  /** {@return a side that shows nothing} */
  public static Party nobody(String name) {
    return new Party(
        name, name, Optional.empty(), List.of(), Optional.empty(), List.of(), Set.of(), Map.of());
  }

  /**
   * With the files that its credential was read from.
   *
   * @param credentialFiles the files with the credential
   * @return a changed copy
   */
  public Party readFrom(List<Path> credentialFiles) {
    return new Party(name, where, credential, credentialFiles, trust, trustFiles, traits, places);
  }

  /**
   * With the places of its certificates.
   *
   * @param newPlaces where each certificate lies
   * @return a changed copy
   */
  public Party withPlaces(Map<Certificate, String> newPlaces) {
    return new Party(name, where, credential, files, trust, trustFiles, traits, newPlaces);
  }

  /**
   * With what is so with the files of its credential.
   *
   * @param newTraits what is so with them
   * @return a changed copy
   */
  public Party withTraits(Set<Trait> newTraits) {
    return new Party(name, where, credential, files, trust, trustFiles, newTraits, places);
  }

  /**
   * With more of what is so with its files.
   *
   * @param more what is so with them
   * @return a changed copy
   */
  public Party withMoreTraits(Set<Trait> more) {
    Set<Trait> all = new HashSet<>(traits);
    all.addAll(more);
    return withTraits(all);
  }

  /**
   * With what it trusts.
   *
   * @param newTrust whom to trust
   * @return a changed copy
   */
  public Party withTrust(List<Certificate> newTrust) {
    return withTrust(newTrust, List.of());
  }

  /**
   * With what it trusts, and the files that was read from.
   *
   * @param newTrust whom to trust
   * @param readFrom the files it was read from
   * @return a changed copy
   */
  public Party withTrust(List<Certificate> newTrust, List<Path> readFrom) {
    return new Party(
        name, where, credential, files, Optional.of(newTrust), readFrom, traits, places);
  }

  /** {@return the certificates it shows, end-entity first} */
  public List<Certificate> chain() {
    return credential.map(Credential::chain).orElse(List.of());
  }
}
