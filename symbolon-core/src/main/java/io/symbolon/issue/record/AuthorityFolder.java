// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * The folder of an authority: its sealed key, its certificate with those above it, what it issued,
 * and its revocation list. Several processes may use it at once, and a crash at any moment loses
 * nothing that was handed out: what is signed is in the register, on the disk, before anybody gets
 * it. Thread-safe.
 */
public final class AuthorityFolder implements AutoCloseable {
  /** The file with its certificate and those above it. */
  public static final String CERTIFICATE = "authority.pem";

  /** The file with its sealed key. */
  public static final String KEY = "authority.key";

  /** The file with its revocation list. */
  public static final String REVOCATIONS = "revocations.pem";

  /** How long a revocation list may be relied on. */
  public static final Lifetime LIST_LASTS = Lifetime.days(90);

  private final FolderFacts facts;
  private final Book book;

  private AuthorityFolder(FolderFacts facts, Book book) {
    this.facts = facts;
    this.book = book;
  }

  /**
   * {@return the authority in a folder} Its key stays closed.
   *
   * @param clock the clock that tells what is expired
   * @throws SymbolonException if the folder holds no authority
   */
  public static AuthorityFolder open(Path folder, Clock clock) {
    Path file = folder.resolve(CERTIFICATE);
    if (!Files.isRegularFile(file)) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          shown(folder) + " is not the folder of an authority.",
          Files.isDirectory(folder)
              ? "There is no file " + CERTIFICATE + " in it."
              : "There is no such folder.",
          Remedy.of("Check the name, or found an authority.", Action.of(Task.FOUND_AUTHORITY)));
    }
    List<Certificate> chain = CertificateBundle.read(file);
    if (chain.isEmpty() || !chain.get(0).isAuthority()) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          shown(folder) + " is not the folder of an authority.",
          chain.isEmpty()
              ? "The file " + shown(file) + " holds no certificate."
              : "The first certificate in " + shown(file) + " is not an authority's.",
          "Bring the file back from a backup.");
    }
    FolderFacts facts = new FolderFacts(folder, clock, chain);
    Optional<String> place = new RecordsPlace(folder).read();
    return new AuthorityFolder(
        facts,
        place
            .<Book>map(
                where ->
                    new DatabaseBook(
                        facts, where, () -> RecordsPlace.open(where, folder, facts.certificate())))
            .orElseGet(() -> new FileBook(facts)));
  }

  /**
   * {@return the same with records that are open already}
   *
   * @param place where they are
   */
  AuthorityFolder with(IssueRecords records, String place) {
    return new AuthorityFolder(facts, new DatabaseBook(facts, place, () -> records));
  }

  FolderFacts facts() {
    return facts;
  }

  /** {@return where it is} */
  public Path folder() {
    return facts.folder();
  }

  /** {@return the authority's certificate} */
  public Certificate certificate() {
    return facts.certificate();
  }

  /**
   * {@return what tells this authority from others, whenever its certificate was made: the SHA-256
   * of its public key in hexadecimal}
   */
  public String identity() {
    return RecordsPlace.identity(certificate());
  }

  /** {@return its certificate and those above it, the root last} */
  public List<Certificate> chain() {
    return facts.chain();
  }

  /**
   * {@return the file with the certificates that it issued, one behind the other; none where its
   * records are in a database}
   */
  public Optional<Path> certificates() {
    return book.certificates();
  }

  /**
   * {@return where its records are, when they are in a database; nothing where they are in the
   * files of the folder}
   */
  public Optional<String> recordsPlace() {
    return new RecordsPlace(folder()).read();
  }

  /** {@return how long the register among its files is, in octets} */
  public long registerLength() {
    try {
      return Files.size(facts.file(Register.NAME));
    } catch (IOException e) {
      return 0; // what reads it tells
    }
  }

  /**
   * {@return the certificate with a serial number, if it is on record}
   *
   * @param serial the serial number
   */
  public Optional<Certificate> issued(BigInteger serial) {
    return book.issued(serial);
  }

  /**
   * {@return when and why a certificate was revoked, if it was}
   *
   * @param serial its serial number
   */
  public Optional<Authority.Revocation> revocation(BigInteger serial) {
    return book.revocation(serial);
  }

  /**
   * {@return the current revocation list, if there is one that it has signed} Where its records are
   * in a database, the file in the folder is brought up to date.
   */
  public Optional<RevocationList> list() {
    return book.list();
  }

  /**
   * {@return the certificates that end between two moments, are not revoked, and have no
   * certificate for the same names that ends later, soonest first}
   *
   * @param from the first moment
   * @param until the last one
   * @param most how many at most
   */
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return book.ending(from, until, most);
  }

  /**
   * {@return the certificates that it issued last, the newest first}
   *
   * @param most how many at most
   */
  public List<Certificate> latest(int most) {
    return book.latest(most);
  }

  Book book() {
    return book;
  }

  Instant now() {
    return facts.now();
  }

  /**
   * Opens its key, so that it can sign.
   *
   * @param passwords to try
   * @param random where random numbers come from
   * @return the signing authority
   * @throws SymbolonException if none of them opens the key, or the key is another's
   */
  public SigningAuthority unlock(List<Secret> passwords, SecureRandom random) {
    Path file = facts.file(KEY);
    Survey survey = Surveyor.create().withUnlock(passwords).survey(List.of(file));
    Optional<PrivateKeyInfo> key =
        survey.matches().stream().findFirst().flatMap(match -> match.key().key());
    if (key.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .map(e -> e.restated("The key of " + facts.name() + " was not opened."))
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "The key of " + facts.name() + " was not opened.",
                      "There is none in " + shown(file) + ".",
                      "Bring the file back from a backup."));
    }
    Credential credential = Credential.of(key.get(), chain());
    return new SigningAuthority(this, Authority.of(credential, random));
  }

  /**
   * {@return what it has issued and revoked} Register, files and revocation list are made to agree
   * first: what one of them lacks <em>is written into it</em>, and the ledger tells of it.
   *
   * @throws SymbolonException if the folder can't be read, or what is missing can't be written
   */
  public Ledger reconcile() {
    return book.reconcile();
  }

  /**
   * {@return the same as {@link #reconcile}, after all records were read} The ledger tells whether
   * each entry follows from the one before it, and whether the authority has signed the last.
   *
   * @throws SymbolonException if they can't be read
   */
  public Ledger checkRecords() {
    return book.checkAll();
  }

  /** Closes its records where they are in a database; what is written there stays. */
  @Override
  public void close() {
    book.close();
  }

  private static String shown(Path path) {
    return VisibleText.of(path.toString());
  }
}
