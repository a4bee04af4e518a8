package io.symbolon.issue;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.chain.Credential;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.key.EncryptedPrivateKeyInfo;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.seal.Protection;
import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12Strength;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationReason;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * The authority of a folder with its key open: whatever it signs is written down in the folder
 * before it is returned. Thread-safe.
 */
public final class SigningAuthority {
  private static final int BATCH = 125; // certificates that are written down at once

  private final AuthorityFolder folder;
  private final Authority authority;

  SigningAuthority(AuthorityFolder folder, Authority authority) {
    this.folder = folder;
    this.authority = authority;
  }

  /**
   * Founds an authority in a new folder, whole or not at all.
   *
   * @param folder the folder, which must not be there, or be empty
   * @param under the authority that signs it; none for a root
   * @param seal the password for its key
   */
  public static SigningAuthority found(
      Path folder,
      Founding founding,
      Optional<SigningAuthority> under,
      Secret seal,
      SecureRandom random,
      Clock clock) {
    checkFree(folder);
    Instant now = clock.instant();
    Authority authority =
        under
            .map(above -> above.authority.intermediate(founding, now))
            .orElseGet(() -> Authority.root(founding, now, random));
    try {
      Path parent = folder.toAbsolutePath().getParent();
      Path unnamed =
          Files.createTempDirectory(parent == null ? folder : parent, ".symbolon-authority-");
      try {
        write(unnamed, authority, seal, random, now);
        under.ifPresent(above -> above.folder.record(List.of(authority.certificate())));
        Files.move(unnamed, folder, StandardCopyOption.ATOMIC_MOVE);
      } finally {
        remove(unnamed);
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The authority was not founded.",
          "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
          "Check the name, and that the folder around it exists and lets you write.",
          e);
    }
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

  private static void write(
      Path folder, Authority authority, Secret seal, SecureRandom random, Instant now)
      throws IOException {
    Protection protection = Protection.strong(random, Pkcs12Strength.STRONG.rounds());
    EncryptedPrivateKeyInfo key =
        EncryptedPrivateKeyInfo.seal(authority.credential().key(), protection, seal);
    put(
        folder.resolve(AuthorityFolder.KEY),
        PemWriter.write("ENCRYPTED PRIVATE KEY", key.encoding()),
        Privacy.OWNER_ONLY);
    ByteArrayOutputStream chain = new ByteArrayOutputStream();
    for (Certificate certificate : authority.credential().chain()) {
      chain.writeBytes(PemWriter.write("CERTIFICATE", certificate.encoding()));
    }
    put(folder.resolve(AuthorityFolder.CERTIFICATE), chain.toByteArray(), Privacy.SYSTEM_DEFAULT);
    put(folder.resolve(Register.NAME), Register.empty(), Privacy.SYSTEM_DEFAULT);
    put(folder.resolve(CertificateBundle.NAME), new byte[0], Privacy.SYSTEM_DEFAULT);
    AuthorityFolder.writeList(
        folder,
        authority.revocationList(
            List.of(), BigInteger.valueOf(now.getEpochSecond()), now, AuthorityFolder.LIST_LASTS),
        Existing.KEEP);
  }

  private static void put(Path file, byte[] content, Privacy privacy) {
    SafeFile.write(file, content, privacy, Existing.KEEP);
  }

  private static void remove(Path folder) throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> files = Files.walk(folder)) {
        for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(file);
        }
      }
    }
  }

  /** The folder. */
  public AuthorityFolder folder() {
    return folder;
  }

  /** The authority that signs. */
  public Authority authority() {
    return authority;
  }

  /** Signs a certificate for somebody else's key. */
  public Certificate sign(Order order, SubjectPublicKeyInfo key) {
    Certificate certificate = authority.sign(order, key, folder.now());
    folder.record(List.of(certificate));
    return certificate;
  }

  /** Makes a key and its certificate. */
  public Credential issue(Order order, KeyKind kind) {
    Credential credential = authority.issue(order, kind, folder.now());
    folder.record(List.of(credential.certificate()));
    return credential;
  }

  /**
   * Makes many keys and their certificates on all cores.
   *
   * @param recorded is given each batch, in the order of the orders, once it is written down
   */
  public void issue(List<Order> orders, KeyKind kind, Consumer<List<Credential>> recorded) {
    ExecutorService writer = Executors.newSingleThreadExecutor();
    try {
      CompletableFuture<Void> before = CompletableFuture.completedFuture(null);
      for (int from = 0; from < orders.size(); from += BATCH) {
        List<Order> batch = orders.subList(from, Math.min(from + BATCH, orders.size()));
        Instant now = folder.now();
        List<Credential> credentials =
            batch.parallelStream().map(order -> authority.issue(order, kind, now)).toList();
        before.join(); // one batch is written down while the next is made, and no more
        before = CompletableFuture.runAsync(() -> record(credentials, recorded), writer);
      }
      before.join();
    } catch (CompletionException e) {
      throw e.getCause() instanceof RuntimeException cause ? cause : e;
    } finally {
      writer.shutdown();
    }
  }

  private void record(List<Credential> credentials, Consumer<List<Credential>> recorded) {
    folder.record(credentials.stream().map(Credential::certificate).toList());
    recorded.accept(credentials);
  }

  /**
   * Revokes certificates and writes a new revocation list; with none it is only written anew.
   *
   * @param certificates certificates that it has issued
   * @param lasts how long the list may be relied on
   */
  public Ledger revoke(
      Collection<Certificate> certificates, RevocationReason reason, Lifetime lasts) {
    // Whole seconds: a revocation list has no smaller ones.
    Instant when = Instant.ofEpochSecond(folder.now().getEpochSecond());
    return folder.revoke(
        certificates.stream()
            .map(one -> new Authority.Revoked(one.serial(), when, reason))
            .toList(),
        authority,
        lasts);
  }
}
