// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.issue.Authority;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.RevocationReason;
import io.symbolon.x509.SignatureAlgorithm;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The file with the revocation list in the folder of an authority. */
final class RevocationFile {
  private static final Duration LIST_DUE = Duration.ofDays(14);

  private final FolderFacts facts;
  private final Path file;

  RevocationFile(FolderFacts facts) {
    this.facts = facts;
    this.file = facts.file(AuthorityFolder.REVOCATIONS);
  }

  /** The list, if there is one that the authority has signed. */
  Optional<RevocationList> read() {
    return Files.exists(file)
        ? Surveyor.create().survey(List.of(file)).files().get(0).holdings().stream()
            .filter(Holding.Crl.class::isInstance)
            .map(holding -> ((Holding.Crl) holding).list())
            .filter(one -> one.verify(facts.certificate()) == SignatureAlgorithm.Validity.VALID)
            .findFirst()
        : Optional.empty();
  }

  void write(RevocationList list, Existing existing) {
    SafeFile.write(file, pem(list), Privacy.SYSTEM_DEFAULT, existing);
  }

  static byte[] pem(RevocationList list) {
    return PemWriter.write("X509 CRL", list.encoding());
  }

  /** What it revokes. */
  static List<Authority.Revocation> revoked(RevocationList list) {
    List<Authority.Revocation> all = new ArrayList<>();
    for (RevocationList.RevokedEntry one : list.revoked(Integer.MAX_VALUE)) {
      all.add(
          new Authority.Revocation(
              one.serial(),
              one.when(),
              one.extensions().revocationReason().orElse(RevocationReason.UNSPECIFIED)));
    }
    return all;
  }

  /** What is to be said of the list beside what is revoked. */
  List<Finding> judge(Optional<RevocationList> list, Set<BigInteger> revoked) {
    List<Finding> findings = new ArrayList<>();
    if (list.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REVOCATION_LIST_ABSENT,
              FolderFacts.shown(file),
              "There is no revocation list that " + facts.name() + " has signed.",
              Remedy.of("Make one.", renewal())));
      return findings;
    }
    Set<BigInteger> listed = new HashSet<>();
    list.get().revoked(Integer.MAX_VALUE).forEach(one -> listed.add(one.serial()));
    long ahead = revoked.stream().filter(serial -> !listed.contains(serial)).count();
    if (ahead > 0) {
      findings.add(
          Finding.of(
              FindingKind.REVOCATION_LIST_BEHIND,
              FolderFacts.shown(file),
              ahead + " certificates are revoked that the revocation list does not name.",
              Remedy.of("Write it anew.", renewal())));
    }
    Optional<Instant> next = list.flatMap(RevocationList::nextUpdate);
    if (next.filter(moment -> moment.isBefore(facts.now().plus(LIST_DUE))).isPresent()) {
      boolean past = next.get().isBefore(facts.now());
      findings.add(
          Finding.of(
              past ? FindingKind.REVOCATION_LIST_EXPIRED : FindingKind.REVOCATION_LIST_DUE,
              past ? Level.PROBLEM : Level.WARNING,
              FolderFacts.shown(file),
              "The revocation list may be relied on until "
                  + next.get()
                  + "; servers that use it refuse every client after that.",
              Remedy.of("Write it anew, and give it to them.", renewal())));
    }
    return findings;
  }

  private Action renewal() {
    return Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY, facts.folder().toString());
  }
}
