// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FolderLock;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The folder of an authority: its sealed key, its certificate with those above it, what it issued,
 * and its revocation list. Several processes may use it at once, and a crash at any moment loses
 * nothing that was handed out: what is signed is in the register, on the disk, before anybody gets
 * it. Thread-safe.
 */
public final class AuthorityFolder {
  /** The file with its certificate and those above it. */
  public static final String CERTIFICATE = "authority.pem";

  /** The file with its sealed key. */
  public static final String KEY = "authority.key";

  /** The file with its revocation list. */
  public static final String REVOCATIONS = "revocations.pem";

  /** How long a revocation list may be relied on. */
  public static final Lifetime LIST_LASTS = Lifetime.days(90);

  private static final Duration LIST_DUE = Duration.ofDays(14);

  private final Path folder;
  private final Clock clock;
  private final List<Certificate> chain;
  private final Register register;
  private final CertificateBundle bundle;
  private final RegisterHead head;

  private AuthorityFolder(Path folder, Clock clock, List<Certificate> chain) {
    this.folder = folder;
    this.clock = clock;
    this.chain = List.copyOf(chain);
    this.register = new Register(folder.resolve(Register.NAME));
    this.bundle = new CertificateBundle(folder.resolve(CertificateBundle.NAME));
    this.head = new RegisterHead(folder.resolve(RegisterHead.NAME));
  }

  /**
   * {@return the authority in a folder} Its key stays closed.
   *
   * @param folder the folder
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
              : "The first certificate in " + shown(file) + " is no authority's.",
          "Bring the file back from a backup.");
    }
    return new AuthorityFolder(folder, clock, chain);
  }

  /** {@return where it is} */
  public Path folder() {
    return folder;
  }

  /** {@return the authority's certificate} */
  public Certificate certificate() {
    return chain.get(0);
  }

  /** {@return its certificate and those above it, the root last} */
  public List<Certificate> chain() {
    return chain;
  }

  /** {@return the file with the certificates that it issued, one behind the other} */
  public Path certificates() {
    return bundle.file();
  }

  Instant now() {
    return clock.instant();
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
    Path file = folder.resolve(KEY);
    Survey survey = Surveyor.create().withUnlock(passwords).survey(List.of(file));
    Optional<PrivateKeyInfo> key =
        survey.matches().stream().findFirst().flatMap(match -> match.key().key());
    if (key.isEmpty()) {
      throw survey.failures().stream()
          .findFirst()
          .map(e -> e.restated("The key of " + name() + " was not opened."))
          .orElseGet(
              () ->
                  new SymbolonException(
                      Reason.NOT_FOUND,
                      "The key of " + name() + " was not opened.",
                      "There is none in " + shown(file) + ".",
                      "Bring the file back from a backup."));
    }
    Credential credential = Credential.of(key.get(), chain);
    return new SigningAuthority(this, Authority.of(credential, random));
  }

  private String name() {
    return certificate().subject().shortText();
  }

  /**
   * {@return what it has issued and revoked} Register, files and revocation list are made to agree
   * first: what one of them lacks <em>is written into it</em>, and the ledger tells of it.
   *
   * @throws SymbolonException if the folder can't be read, or what is missing can't be written
   */
  public Ledger reconcile() {
    return FolderLock.holding(List.of(folder.resolve(CERTIFICATE)), this::reconciled);
  }

  /** The same for somebody who holds the lock. */
  private Ledger reconciled() {
    List<Finding> findings = new ArrayList<>();
    Register.EntryState state = register.refresh();
    Optional<RevocationList> list = revocationList(findings);
    if (state == Register.EntryState.DAMAGED) {
      rebuild(list, findings);
    }
    completeBundle(findings);
    list.ifPresent(found -> takeOver(found, findings));
    judge(list, findings);
    head.check(register.content(), certificate()).ifPresent(findings::add);
    return new Ledger(
        List.copyOf(register.certificates()),
        Map.copyOf(register.revoked()),
        list,
        List.copyOf(findings));
  }

  /** Makes register and bundle agree: what is in one of them alone gets into the other. */
  private void completeBundle(List<Finding> findings) {
    if (bundle.isWhole(register.issued().values())) {
      return;
    }
    List<Certificate> unknown = new ArrayList<>();
    int strangers = 0;
    for (Certificate found : bundle.read()) {
      if (!register.issued().containsKey(found.serial())) {
        if (isOurs(found)) {
          unknown.add(found);
        } else {
          strangers++;
        }
      }
    }
    register.issue(unknown);
    bundle.write(register.issued().values());
    if (!unknown.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REGISTER_COMPLETED,
              shown(folder.resolve(Register.NAME)),
              counted(unknown.size())
                  + " among the issued certificates but not in the register; now they are.",
              "Look whether somebody has brought an old register back."));
    }
    if (strangers > 0) {
      findings.add(
          Finding.of(
              FindingKind.NOT_ISSUED_HERE,
              shown(bundle.file()),
              counted(strangers)
                  + " among the issued certificates that "
                  + name()
                  + " has not signed; they were taken out.",
              "The file as it was is kept for undo."));
    }
  }

  private static String counted(int certificates) {
    return certificates == 1 ? "1 certificate was" : certificates + " certificates were";
  }

  private boolean isOurs(Certificate certificate) {
    return certificate.issuer().equals(certificate().subject())
        && certificate.verify(certificate()) == SignatureAlgorithm.Validity.VALID;
  }

  /** From what is sound in the register, the certificates beside it and the revocation list. */
  private void rebuild(Optional<RevocationList> list, List<Finding> findings) {
    List<Certificate> all = register.certificates();
    int sound = all.size();
    Set<BigInteger> known = new HashSet<>(register.issued().keySet());
    for (Certificate certificate : bundle.read()) {
      if (!known.contains(certificate.serial()) && isOurs(certificate)) {
        known.add(certificate.serial());
        all.add(certificate);
      }
    }
    register.rewrite(all, List.copyOf(register.revoked().values()));
    findings.add(
        Finding.of(
            FindingKind.REGISTER_REBUILT,
            shown(folder.resolve(Register.NAME)),
            "The register was missing or damaged. It was written anew with "
                + sound
                + " certificates from its sound lines and "
                + (all.size() - sound)
                + " from the file beside it"
                + (list.isPresent() ? ", and the revocations of the revocation list." : "."),
            "Compare it with what you know was issued; the damaged file is kept for undo."));
  }

  private Optional<RevocationList> revocationList(List<Finding> findings) {
    Path file = folder.resolve(REVOCATIONS);
    Optional<RevocationList> list =
        Files.exists(file)
            ? Surveyor.create().survey(List.of(file)).files().get(0).holdings().stream()
                .filter(Holding.Crl.class::isInstance)
                .map(holding -> ((Holding.Crl) holding).list())
                .filter(one -> one.verify(certificate()) == SignatureAlgorithm.Validity.VALID)
                .findFirst()
            : Optional.empty();
    if (list.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REVOCATION_LIST_ABSENT,
              shown(file),
              "There is no revocation list that " + name() + " has signed.",
              Remedy.of("Make one.", renewal())));
    }
    return list;
  }

  /** What the list revokes is revoked, even if a crash came before it was written down. */
  private void takeOver(RevocationList list, List<Finding> findings) {
    List<Authority.Revocation> missing = new ArrayList<>();
    for (RevocationList.RevokedEntry one : list.revoked(Integer.MAX_VALUE)) {
      if (!register.revoked().containsKey(one.serial())) {
        missing.add(
            new Authority.Revocation(
                one.serial(),
                one.when(),
                one.extensions()
                    .revocationReason()
                    .orElse(io.symbolon.x509.RevocationReason.UNSPECIFIED)));
      }
    }
    if (!missing.isEmpty()) {
      register.revoke(missing);
    }
    Set<BigInteger> listed = new HashSet<>();
    list.revoked(Integer.MAX_VALUE).forEach(one -> listed.add(one.serial()));
    long ahead =
        register.revoked().keySet().stream().filter(serial -> !listed.contains(serial)).count();
    if (ahead > 0) {
      findings.add(
          Finding.of(
              FindingKind.REVOCATION_LIST_BEHIND,
              shown(folder.resolve(REVOCATIONS)),
              ahead + " certificates are revoked that the revocation list does not name.",
              Remedy.of("Write it anew.", renewal())));
    }
  }

  private void judge(Optional<RevocationList> list, List<Finding> findings) {
    Optional<Instant> next = list.flatMap(RevocationList::nextUpdate);
    if (next.filter(moment -> moment.isBefore(now().plus(LIST_DUE))).isPresent()) {
      boolean past = next.get().isBefore(now());
      findings.add(
          Finding.of(
              past ? FindingKind.REVOCATION_LIST_EXPIRED : FindingKind.REVOCATION_LIST_DUE,
              past ? io.symbolon.finding.Level.PROBLEM : io.symbolon.finding.Level.WARNING,
              shown(folder.resolve(REVOCATIONS)),
              "The revocation list may be relied on until "
                  + next.get()
                  + "; servers that use it refuse every client after that.",
              Remedy.of("Write it anew, and give it to them.", renewal())));
    }
  }

  /**
   * Writes certificates down, and their files.
   *
   * @throws SymbolonException if a serial number is taken; then nothing is written
   */
  void record(Collection<Certificate> certificates, PrivateKey key) {
    FolderLock.holding(List.of(folder.resolve(CERTIFICATE)), () -> recordAlone(certificates, key));
  }

  /** What is to be said of the register before something is signed. */
  List<Finding> registerFindings() {
    return FolderLock.holding(
        List.of(folder.resolve(CERTIFICATE)),
        () -> {
          Register.EntryState unused = register.refresh();
          return head.check(register.content(), certificate()).stream().toList();
        });
  }

  private int recordAlone(Collection<Certificate> certificates, PrivateKey key) {
    if (register.refresh() == Register.EntryState.DAMAGED) {
      reconciled();
    }
    for (Certificate certificate : certificates) {
      if (register.issued().containsKey(certificate.serial())) {
        throw new SymbolonException(
            Reason.EXISTS,
            "The certificate of " + certificate.subject().shortText() + " was not issued.",
            "Its serial number " + certificate.serialHex() + " is used already.",
            "Give the command again; if that happens twice, this machine's randomness is broken.");
      }
    }
    List<Certificate> before = register.certificates();
    register.issue(certificates);
    bundle.add(before, certificates);
    head.write(register.content(), key);
    return certificates.size();
  }

  /** Replaces the revocation list, and then writes the new revocations down. */
  Ledger revoke(Collection<Authority.Revocation> added, Authority authority, Lifetime lasts) {
    return FolderLock.holding(
        List.of(folder.resolve(CERTIFICATE)), () -> revokeAlone(added, authority, lasts));
  }

  private Ledger revokeAlone(
      Collection<Authority.Revocation> added, Authority authority, Lifetime lasts) {
    Ledger before = reconciled();
    List<Authority.Revocation> all = new ArrayList<>(before.revoked().values());
    List<Authority.Revocation> fresh =
        added.stream().filter(one -> !before.revoked().containsKey(one.serial())).toList();
    all.addAll(fresh);
    BigInteger number =
        before
            .list()
            .flatMap(list -> list.extensions().listNumber())
            .orElse(BigInteger.ZERO)
            .add(BigInteger.ONE)
            .max(BigInteger.valueOf(now().getEpochSecond()));
    all.sort(Comparator.comparing(Authority.Revocation::when));
    // The list first: what it revokes is taken over if a crash comes before the register is
    // written.
    writeList(folder, authority.revocationList(all, number, now(), lasts), Existing.REPLACE);
    register.revoke(fresh);
    List<Finding> noticed =
        before.findings().stream().filter(one -> one.is(FindingKind.REGISTER_CHANGED)).toList();
    head.write(register.content(), authority.key());
    return reconciled().with(noticed);
  }

  static void writeList(Path folder, RevocationList list, Existing existing) {
    SafeFile.write(folder.resolve(REVOCATIONS), pem(list), Privacy.SYSTEM_DEFAULT, existing);
  }

  static byte[] pem(RevocationList list) {
    return PemWriter.write("X509 CRL", list.encoding());
  }

  private static String shown(Path path) {
    return VisibleText.of(path.toString());
  }

  private Action renewal() {
    return Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY, folder.toString());
  }
}
