// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.files;

import io.symbolon.Keystores;
import io.symbolon.chain.Credential;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.party.Trust;
import io.symbolon.seal.Secret;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Keystores and truststores for servers, each with a file that holds its password. Those that are
 * there and hold the same already stay as they are: made anew, they would have other octets.
 */
public final class StoreFiles {
  private final Machine machine;
  private final PlacedFiles placed;

  /**
   * None yet.
   *
   * @param placed takes the files
   */
  public StoreFiles(Machine machine, PlacedFiles placed) {
    this.machine = machine;
    this.placed = placed;
  }

  /**
   * A store and its password.
   *
   * @param store the PKCS#12 file
   * @param password the file with its password
   */
  public record Placed(Path store, Path password) {}

  /**
   * Adds a keystore.
   *
   * @param name the name of its files, without an ending
   * @param credential what it holds
   * @return where it will be
   */
  public Placed keystore(String name, Credential credential, String alias) {
    Optional<byte[][]> there = there(name, file -> SameContent.holds(file, credential));
    if (there.isPresent()) {
      return add(name, there.get()[0], there.get()[1], "the private key with its chain");
    }
    try (Secret password = Secret.random(name + ".pass")) {
      return add(
          name,
          Keystores.pkcs12(credential, alias, password, Pkcs12Strength.STRONG),
          PasswordLines.line(password),
          "the private key with its chain");
    }
  }

  /**
   * Adds a truststore.
   *
   * @param name the name of its files, without an ending
   * @param trust what it holds
   * @return where it will be
   */
  public Placed truststore(String name, ClientTrust trust) {
    return truststore(name, trust.certificates(), "the authorities of the clients");
  }

  /**
   * Adds a truststore.
   *
   * @param name the name of its files, without an ending
   * @param trust what it holds
   * @param holds what that is, as words
   * @return where it will be
   */
  public Placed truststore(String name, List<Certificate> trust, String holds) {
    Optional<byte[][]> there = there(name, file -> SameContent.holds(file, trust));
    if (there.isPresent()) {
      return add(name, there.get()[0], there.get()[1], holds);
    }
    try (Secret password = Secret.random(name + ".pass")) {
      return add(
          name,
          Keystores.pkcs12(Trust.in(trust), password, Pkcs12Strength.STRONG),
          PasswordLines.line(password),
          holds);
    }
  }

  /**
   * {@return the password of a store that was added, for settings that have it as it is}
   *
   * @param files the store with its password file
   */
  public Secret password(Placed files) {
    byte[] line =
        placed.changes().stream()
            .filter(change -> change.path().equals(files.password()))
            .findFirst()
            .orElseThrow(() -> new IllegalArgumentException("not added: " + files.store()))
            .after();
    char[] password = new String(line, StandardCharsets.UTF_8).strip().toCharArray();
    return Secret.of(password, files.password().toString());
  }

  private Placed add(String name, byte[] store, byte[] password, String holds) {
    return new Placed(
        placed.add(name + ".p12", store, holds, true),
        placed.add(name + ".pass", password, "its password", true));
  }

  private interface Check {
    boolean holds(FileSurvey file);
  }

  /** The store of that name and its password file, where it holds the same already. */
  private Optional<byte[][]> there(String name, Check check) {
    Path store = placed.folder().resolve(name + ".p12");
    Path password = placed.folder().resolve(name + ".pass");
    try {
      Optional<byte[]> octets =
          machine.files().read(store, Limits.FILE_BYTES).map(FileView.ReadFile::octets);
      Optional<byte[]> line = machine.files().read(password).map(FileView.ReadFile::octets);
      if (octets.isEmpty() || line.isEmpty()) {
        return Optional.empty();
      }
      List<Secret> secrets = PasswordLines.of(machine.files(), password);
      FileSurvey file = Surveyor.create().withUnlock(secrets).read(store, octets.get());
      boolean same = !file.locked() && check.holds(file);
      secrets.forEach(Secret::close);
      return same ? Optional.of(new byte[][] {octets.get(), line.get()}) : Optional.empty();
    } catch (SymbolonException e) {
      return Optional.empty(); // it is made anew, and the old one kept for undo
    }
  }
}
