// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.file.Existing;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * An authority's register in the files of its folder, all of which is read: with the certificates
 * beside it, of which each makes good what is lost of the other.
 */
final class FileBook implements Book {
  private final FolderFacts facts;
  private final Register register;
  private final CertificateBundle bundle;
  private final RegisterHead head;
  private final RevocationFile listFile;

  FileBook(FolderFacts facts) {
    this.facts = facts;
    this.register = new Register(facts.file(Register.NAME));
    this.bundle = new CertificateBundle(facts.file(CertificateBundle.NAME));
    this.head = new RegisterHead(facts.file(RegisterHead.NAME));
    this.listFile = new RevocationFile(facts);
  }

  @Override
  public Optional<Path> certificates() {
    return Optional.of(bundle.file());
  }

  @Override
  public Ledger reconcile() {
    return facts.alone(this::reconciled);
  }

  /** The same for somebody who holds the lock. */
  private Ledger reconciled() {
    List<Finding> findings = new ArrayList<>();
    Register.EntryState state = refresh();
    Optional<RevocationList> list = listFile.read();
    if (state == Register.EntryState.DAMAGED) {
      rebuild(list, findings);
    }
    completeBundle(findings);
    list.ifPresent(this::takeOver);
    findings.addAll(listFile.judge(list, register.revoked().keySet()));
    head.check(register.content(), facts.certificate()).ifPresent(findings::add);
    return new Ledger(
        List.copyOf(register.certificates()),
        Map.copyOf(register.revoked()),
        list,
        List.copyOf(findings));
  }

  /** Somebody who opened the folder before its records were moved must not go on in its files. */
  private Register.EntryState refresh() {
    if (new RecordsPlace(facts.folder()).isSet()) {
      throw RecordsPlace.left(facts.name());
    }
    return register.refresh();
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
        if (facts.isOurs(found)) {
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
              shownRegister(),
              counted(unknown.size())
                  + " among the issued certificates but not in the register; now they are.",
              "Look whether somebody has brought an old register back."));
    }
    if (strangers > 0) {
      findings.add(
          Finding.of(
              FindingKind.NOT_ISSUED_HERE,
              VisibleText.of(bundle.file().toString()),
              counted(strangers)
                  + " among the issued certificates that "
                  + facts.name()
                  + " has not signed; they were taken out.",
              "The file as it was is kept for undo."));
    }
  }

  private String shownRegister() {
    return FolderFacts.shown(facts.file(Register.NAME));
  }

  private static String counted(int certificates) {
    return certificates == 1 ? "1 certificate was" : certificates + " certificates were";
  }

  /** From what is sound in the register, the certificates beside it and the revocation list. */
  private void rebuild(Optional<RevocationList> list, List<Finding> findings) {
    List<Certificate> all = register.certificates();
    int sound = all.size();
    Set<BigInteger> known = new HashSet<>(register.issued().keySet());
    for (Certificate certificate : bundle.read()) {
      if (!known.contains(certificate.serial()) && facts.isOurs(certificate)) {
        known.add(certificate.serial());
        all.add(certificate);
      }
    }
    register.rewrite(all, List.copyOf(register.revoked().values()));
    findings.add(
        Finding.of(
            FindingKind.REGISTER_REBUILT,
            shownRegister(),
            "The register was missing or damaged. It was written anew with "
                + sound
                + " certificates from its sound lines and "
                + (all.size() - sound)
                + " from the file beside it"
                + (list.isPresent() ? ", and the revocations of the revocation list." : "."),
            "Compare it with what you know was issued; the damaged file is kept for undo."));
  }

  /** What the list revokes is revoked, even if a crash came before it was written down. */
  private void takeOver(RevocationList list) {
    List<Authority.Revocation> missing =
        RevocationFile.revoked(list).stream()
            .filter(one -> !register.revoked().containsKey(one.serial()))
            .toList();
    if (!missing.isEmpty()) {
      register.revoke(missing);
    }
  }

  @Override
  public List<Finding> findings() {
    return facts.alone(
        () -> {
          Register.EntryState unused = refresh();
          return head.check(register.content(), facts.certificate()).stream().toList();
        });
  }

  @Override
  public Ledger checkAll() {
    return reconcile();
  }

  @Override
  public void record(Collection<Certificate> certificates, Authority authority) {
    int unused = facts.alone(() -> recordAlone(certificates, authority));
  }

  private int recordAlone(Collection<Certificate> certificates, Authority authority) {
    if (refresh() == Register.EntryState.DAMAGED) {
      reconciled();
    }
    for (Certificate certificate : certificates) {
      if (register.issued().containsKey(certificate.serial())) {
        throw IssueRecords.taken(certificate);
      }
    }
    List<Certificate> before = register.certificates();
    register.issue(certificates);
    bundle.add(before, certificates);
    head.write(register.content(), authority.key());
    return certificates.size();
  }

  @Override
  public Ledger revoke(
      Collection<Authority.Revocation> added, Authority authority, Lifetime lasts) {
    return facts.alone(() -> revokeAlone(added, authority, lasts));
  }

  private Ledger revokeAlone(
      Collection<Authority.Revocation> added, Authority authority, Lifetime lasts) {
    Ledger before = reconciled();
    List<Authority.Revocation> all = new ArrayList<>(before.revoked().values());
    List<Authority.Revocation> fresh =
        added.stream().filter(one -> !before.revoked().containsKey(one.serial())).toList();
    all.addAll(fresh);
    all.sort(Comparator.comparing(Authority.Revocation::when));
    // The list first: what it revokes is taken over if a crash comes before the register is
    // written.
    listFile.write(
        authority.revocationList(
            all, IssueRecords.numberAfter(before.list(), facts.now()), facts.now(), lasts),
        Existing.REPLACE);
    register.revoke(fresh);
    List<Finding> noticed =
        before.findings().stream().filter(one -> one.is(FindingKind.REGISTER_CHANGED)).toList();
    head.write(register.content(), authority.key());
    return reconciled().with(noticed);
  }

  /** Writes everything anew from elsewhere; what the files were before is kept for undo. */
  void replace(
      List<Certificate> issued,
      Collection<Authority.Revocation> revoked,
      Optional<RevocationList> list,
      Authority authority) {
    register.rewrite(issued, revoked);
    bundle.write(issued);
    list.ifPresent(one -> listFile.write(one, Existing.REPLACE));
    head.write(register.content(), authority.key());
  }

  @Override
  public Optional<RevocationList> list() {
    return listFile.read();
  }

  @Override
  public Optional<Certificate> issued(BigInteger serial) {
    return facts.alone(
        () -> {
          Register.EntryState unused = refresh();
          return Optional.ofNullable(register.issued().get(serial));
        });
  }

  @Override
  public Optional<Authority.Revocation> revocation(BigInteger serial) {
    return facts.alone(
        () -> {
          Register.EntryState unused = refresh();
          return Optional.ofNullable(register.revoked().get(serial));
        });
  }

  @Override
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return facts.alone(
        () -> {
          Register.EntryState unused = refresh();
          Map<String, Certificate> last = new HashMap<>();
          for (Certificate one : register.certificates()) {
            if (!register.revoked().containsKey(one.serial())) {
              last.merge(
                  IssueRecords.sameNames(one),
                  one,
                  (a, b) -> b.notAfter().isBefore(a.notAfter()) ? a : b);
            }
          }
          return last.values().stream()
              .filter(one -> !one.notAfter().isBefore(from) && !one.notAfter().isAfter(until))
              .sorted(Comparator.comparing(Certificate::notAfter))
              .limit(most)
              .toList();
        });
  }

  @Override
  public List<Certificate> latest(int most) {
    return facts.alone(
        () -> {
          Register.EntryState unused = refresh();
          List<Certificate> all = register.certificates();
          List<Certificate> last =
              new ArrayList<>(all.subList(Math.max(0, all.size() - most), all.size()));
          Collections.reverse(last);
          return last;
        });
  }

  @Override
  public boolean isShared() {
    return false; // its files are for everybody, one after the other
  }

  @Override
  public void close() {
    // its files are open only while they are read or written
  }
}
