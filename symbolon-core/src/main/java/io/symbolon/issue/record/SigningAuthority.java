// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.SigningOrder;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * The authority of a folder with its key open: whatever it signs is written down in the folder
 * before it is returned. Thread-safe.
 */
public final class SigningAuthority {
  private static final int BATCH = 125; // certificates that are written down at once
  private static final int KEY_ROUNDS = 120_000; // of PBKDF2: the key is opened by hand, and rarely

  private final AuthorityFolder folder;
  private final Authority authority;

  SigningAuthority(AuthorityFolder folder, Authority authority) {
    this.folder = folder;
    this.authority = authority;
  }

  /**
   * {@return the same with nothing else written}
   *
   * @param founding what the authority is to be
   * @param under the authority above; none for a root
   * @param seal the password
   * @param random where random numbers come from
   * @param clock the clock that tells what is expired
   */
  public static SigningAuthority found(
      Path folder,
      AuthorityPlan founding,
      Optional<SigningAuthority> under,
      Secret seal,
      SecureRandom random,
      Clock clock) {
    return found(folder, founding, under, seal, List.of(), random, clock);
  }

  /**
   * Founds an authority in a new folder, whole or not at all.
   *
   * @param folder the folder, which must not be there, or be empty
   * @param founding what the authority is to be
   * @param under the authority that signs it; none for a root
   * @param seal the password for its key, which is not the empty one
   * @param extra files that are written as well, such as one with that password, or nothing is
   * @param random where random numbers come from
   * @param clock the clock that tells what is expired
   * @return the signing authority
   */
  public static SigningAuthority found(
      Path folder,
      AuthorityPlan founding,
      Optional<SigningAuthority> under,
      Secret seal,
      List<FileItem> extra,
      SecureRandom random,
      Clock clock) {
    if (seal.isEmpty()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The authority was not founded.",
          "Its key would be sealed with the empty password: whoever gets the folder could sign.",
          Remedy.of(
              "Give a password, or let a strong one be made.",
              Action.again(Input.NEW_PASSWORD_FILE)));
    }
    checkFree(folder);
    Instant now = clock.instant();
    Authority authority =
        under
            .map(above -> above.authority.intermediate(founding, now))
            .orElseGet(() -> Authority.root(founding, now, random));
    List<FileItem> items = new ArrayList<>(extra);
    items.addAll(files(folder, authority, seal, random, now));
    List<WrittenItem> unused =
        FileSet.write(
            items,
            List.of(folder),
            () ->
                under.ifPresent(
                    above ->
                        above
                            .folder
                            .book()
                            .record(List.of(authority.certificate()), above.authority)));
    return new SigningAuthority(AuthorityFolder.open(folder, clock), authority);
  }

  private static void checkFree(Path folder) {
    boolean free = !Files.exists(folder);
    if (Files.isDirectory(folder)) {
      try (Stream<Path> content = Files.list(folder)) {
        free = content.findAny().isEmpty();
      } catch (IOException e) {
        free = false;
      }
    }
    if (!free) {
      throw new SymbolonException(
          Reason.EXISTS,
          "The authority was not founded.",
          VisibleText.of(folder.toString()) + " is there already and not an empty folder.",
          "Choose another name; an authority is never replaced.");
    }
  }

  private static List<FileItem> files(
      Path folder, Authority authority, Secret seal, SecureRandom random, Instant now) {
    Protection protection = Protection.strong(random, KEY_ROUNDS);
    EncryptedPrivateKeyInfo key =
        EncryptedPrivateKeyInfo.seal(authority.credential().key(), protection, seal);
    ByteArrayOutputStream chain = new ByteArrayOutputStream();
    for (Certificate certificate : authority.credential().chain()) {
      chain.writeBytes(PemWriter.write("CERTIFICATE", certificate.encoding()));
    }
    return List.of(
        item(
            folder.resolve(AuthorityFolder.KEY),
            PemWriter.write("ENCRYPTED PRIVATE KEY", key.encoding()),
            Privacy.OWNER_ONLY),
        item(
            folder.resolve(AuthorityFolder.CERTIFICATE),
            chain.toByteArray(),
            Privacy.SYSTEM_DEFAULT),
        item(folder.resolve(Register.NAME), Register.empty(), Privacy.SYSTEM_DEFAULT),
        item(
            folder.resolve(RegisterHead.NAME),
            RegisterHead.of(Register.empty(), authority.key()),
            Privacy.SYSTEM_DEFAULT),
        item(folder.resolve(CertificateBundle.NAME), new byte[0], Privacy.SYSTEM_DEFAULT),
        item(
            folder.resolve(AuthorityFolder.REVOCATIONS),
            RevocationFile.pem(
                authority.revocationList(
                    List.of(),
                    BigInteger.valueOf(now.getEpochSecond()),
                    now,
                    AuthorityFolder.LIST_LASTS)),
            Privacy.SYSTEM_DEFAULT));
  }

  private static FileItem item(Path file, byte[] content, Privacy privacy) {
    return new FileItem(file, content, privacy, Existing.KEEP);
  }

  /** {@return the folder} */
  public AuthorityFolder folder() {
    return folder;
  }

  /**
   * {@return what is to be said of the folder before something is signed: whether the register was
   * shortened or changed by somebody without the key}
   */
  public List<Finding> findings() {
    return folder.book().findings();
  }

  /**
   * {@return the same, whose end-entity certificates say where its list is}
   *
   * @param where where it publishes what others fetch
   */
  public SigningAuthority publishing(Published where) {
    return new SigningAuthority(folder, authority.publishing(where));
  }

  /** {@return the authority that signs} */
  public Authority authority() {
    return authority;
  }

  /**
   * Signs a certificate for somebody else's key.
   *
   * @param order what it is to say
   * @param key the key it is for
   * @return the certificate, which is on record
   * @throws SymbolonException if the folder can't be written; then nothing is on record
   */
  public Certificate sign(SigningOrder order, SubjectPublicKeyInfo key) {
    Signed<Certificate> signed = signUnrecorded(order, key);
    signed.record();
    return signed.value();
  }

  /**
   * Signs a certificate that is recorded when everything else is ready.
   *
   * @param order what it is to say
   * @param key the key it is for
   * @return the certificate, which is not on record yet
   */
  public Signed<Certificate> signUnrecorded(SigningOrder order, SubjectPublicKeyInfo key) {
    Certificate certificate = authority.sign(order, key, folder.now());
    return new Signed<>(certificate, () -> folder.book().record(List.of(certificate), authority));
  }

  /**
   * Makes a key and its certificate.
   *
   * @param order what it is to say
   * @param kind the kind of the key
   * @return both; the certificate is on record
   * @throws SymbolonException if the folder can't be written; then nothing is on record
   */
  public Credential issue(SigningOrder order, KeyKind kind) {
    Signed<Credential> signed = issueUnrecorded(order, kind);
    signed.record();
    return signed.value();
  }

  /**
   * Makes a key and its certificate, which is recorded when everything else is ready.
   *
   * @param order what it is to say
   * @param kind the kind of the key
   * @return both; the certificate is not on record yet
   */
  public Signed<Credential> issueUnrecorded(SigningOrder order, KeyKind kind) {
    return signed(List.of(authority.issue(order, kind, folder.now())), all -> all.get(0));
  }

  private <T> Signed<T> signed(List<Credential> credentials, Function<List<Credential>, T> value) {
    return new Signed<>(
        value.apply(credentials),
        () ->
            folder
                .book()
                .record(credentials.stream().map(Credential::certificate).toList(), authority));
  }

  /**
   * Makes many keys and their certificates on all cores.
   *
   * @param orders what each is to say
   * @param kind the kind of the keys
   * @param recorded is given each batch, in the order of the orders, once it is written down
   * @throws UndeliveredBatchException if {@code recorded} throws: the certificates of its batch are
   *     on record, and the exception still has their keys. Nothing after that batch was signed into
   *     the register
   */
  public void issue(List<SigningOrder> orders, KeyKind kind, Consumer<List<Credential>> recorded) {
    issueUnrecorded(
        orders,
        kind,
        signed -> {
          signed.record();
          try {
            recorded.accept(signed.value());
          } catch (RuntimeException e) {
            throw new UndeliveredBatchException(signed.value(), e);
          }
        });
  }

  /**
   * Makes many keys and their certificates on all cores, each batch of which is recorded when
   * everything else is ready. What the receiver throws ends the work; batches that it has recorded
   * stay.
   *
   * @param orders what each is to say
   * @param kind the kind of the keys
   * @param signed is given each batch, in the order of the orders, before it is written down
   */
  public void issueUnrecorded(
      List<SigningOrder> orders, KeyKind kind, Consumer<Signed<List<Credential>>> signed) {
    ExecutorService writer = Executors.newSingleThreadExecutor();
    try {
      CompletableFuture<Void> before = CompletableFuture.completedFuture(null);
      for (int from = 0; from < orders.size(); from += BATCH) {
        List<SigningOrder> batch = orders.subList(from, Math.min(from + BATCH, orders.size()));
        Instant now = folder.now();
        List<Credential> credentials =
            batch.parallelStream().map(order -> authority.issue(order, kind, now)).toList();
        before.join(); // one batch is written down while the next is made, and no more
        before =
            CompletableFuture.runAsync(
                () -> signed.accept(signed(credentials, all -> all)), writer);
      }
      before.join();
    } catch (CompletionException e) {
      throw e.getCause() instanceof RuntimeException cause ? cause : e;
    } finally {
      writer.shutdown();
    }
  }

  /**
   * Revokes certificates and writes a new revocation list; with none it is only written anew.
   *
   * @param certificates certificates that it has issued
   * @param lasts how long the list may be relied on
   * @return the ledger
   */
  public Ledger revoke(
      Collection<Certificate> certificates, RevocationReason reason, Lifetime lasts) {
    // Whole seconds: a revocation list has no smaller ones.
    Instant when = Instant.ofEpochSecond(folder.now().getEpochSecond());
    return folder
        .book()
        .revoke(
            certificates.stream()
                .map(one -> new Authority.Revocation(one.serial(), when, reason))
                .toList(),
            authority,
            lasts);
  }

  /**
   * Moves the records from where they are into a database: everything that is on record, and what
   * is there already stays. From then on they are there; the files of the folder stay as they are
   * and are not read any more. Can be done again after a crash, and by each of several hosts that
   * share the database.
   *
   * @param to the records in the database
   * @param place where they are, for whoever opens the folder later: what the {@link
   *     IssueRecordsOpener} is told
   * @return the same authority with the records there
   * @throws SymbolonException if another process has the records open, the database can't be
   *     written, or another certificate with the same serial number is on record there
   */
  public SigningAuthority moveRecords(IssueRecords to, String place) {
    return new SigningAuthority(RecordsMove.into(folder, to, place, authority), authority);
  }

  /**
   * Moves the records from a database back into the files of the folder; what is in the database
   * stays there and is not read any more. The files as they were are kept for undo.
   *
   * @return the same authority with the records in its folder
   * @throws SymbolonException if another process has the records open, or the folder can't be
   *     written
   */
  public SigningAuthority moveRecordsIntoFiles() {
    return new SigningAuthority(RecordsMove.intoFiles(folder, authority), authority);
  }

  /**
   * {@return the same with records that are open already}
   *
   * @param place where they are, as {@link #moveRecords} was told
   */
  public SigningAuthority with(IssueRecords records, String place) {
    return new SigningAuthority(folder.with(records, place), authority);
  }
}
