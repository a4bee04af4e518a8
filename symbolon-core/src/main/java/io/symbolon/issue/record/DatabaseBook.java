// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.file.Existing;
import io.symbolon.finding.Finding;
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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * An authority's records in a database. The revocation list is there as well; the file in the
 * folder is a copy that is brought up to date.
 */
final class DatabaseBook implements Book {
  private static final int AT_ONCE = 1_000; // certificates that are read at once

  private final FolderFacts facts;
  private final String place;
  private final RevocationFile listFile;
  private final Supplier<IssueRecords> opener;
  private @Nullable IssueRecords open;

  DatabaseBook(FolderFacts facts, String place, Supplier<IssueRecords> opener) {
    this.facts = facts;
    this.place = place;
    this.listFile = new RevocationFile(facts);
    this.opener = opener;
  }

  /** They are opened when they are needed first: some commands never do. */
  synchronized IssueRecords records() {
    IssueRecords there = open;
    if (there == null) {
      there = opener.get();
      open = there;
    }
    return there;
  }

  @Override
  public Ledger reconcile() {
    return facts.alone(this::reconciled);
  }

  private Ledger reconciled() {
    List<Finding> findings = new ArrayList<>(findings());
    Map<BigInteger, Authority.Revocation> revoked = new LinkedHashMap<>();
    records().revoked().forEach(one -> revoked.put(one.serial(), one));
    Optional<RevocationList> list = current(revoked, findings);
    findings.addAll(listFile.judge(list, revoked.keySet()));
    RecordsState state = records().state();
    return new Ledger(
        new IssuedView(records(), state.issued()),
        Collections.unmodifiableMap(revoked),
        list,
        List.copyOf(findings));
  }

  /** The newer one of the list on record and that in the folder, which is made to be the same. */
  private Optional<RevocationList> current(
      Map<BigInteger, Authority.Revocation> revoked, List<Finding> findings) {
    Optional<RevocationList> newest = newest();
    if (newest.isPresent()) {
      long before = revoked.size();
      RevocationFile.revoked(newest.get())
          .forEach(
              one -> {
                Authority.Revocation unused = revoked.putIfAbsent(one.serial(), one);
              });
      if (revoked.size() > before) {
        findings.add(
            RecordsState.wrong(
                where(),
                "The revocation list of the folder names "
                    + (revoked.size() - before)
                    + " revocations that are not on record: an older copy of the records was brought"
                    + " back."));
      }
    }
    return newest;
  }

  private Optional<RevocationList> newest() {
    Optional<RevocationList> recorded = records().list();
    Optional<RevocationList> written = listFile.read();
    if (recorded.isPresent()
        && (written.isEmpty()
            || IssueRecords.number(written.get()).compareTo(IssueRecords.number(recorded.get()))
                < 0)) {
      listFile.write(recorded.get(), Existing.REPLACE);
      return recorded;
    }
    return written;
  }

  @Override
  public Optional<RevocationList> list() {
    return facts.alone(this::newest);
  }

  private String where() {
    return VisibleText.of(records().place());
  }

  @Override
  public List<Finding> findings() {
    return records().state().check(facts.certificate(), where()).stream().toList();
  }

  @Override
  public Ledger checkAll() {
    Ledger ledger = reconcile();
    RecordsState state = records().state();
    RecordsState seen = RecordsState.empty();
    long left = state.issued();
    while (left > 0) {
      List<Certificate> page = records().page(state.issued() - left, AT_ONCE);
      for (Certificate one : page.subList(0, (int) Math.min(page.size(), left))) {
        seen = seen.with(one);
      }
      left -= AT_ONCE;
    }
    for (Authority.Revocation one : records().revoked()) {
      seen = seen.revoked() < state.revoked() ? seen.with(one) : seen;
    }
    boolean whole =
        seen.issued() == state.issued()
            && seen.revoked() == state.revoked()
            && seen.issuedLink().equals(state.issuedLink())
            && seen.revokedLink().equals(state.revokedLink());
    return whole
        ? ledger
        : ledger.with(
            List.of(
                RecordsState.wrong(
                    where(),
                    "An entry among the records was changed or taken away: they are "
                        + seen.issued()
                        + " certificates and "
                        + seen.revoked()
                        + " revocations, and do not lead to the last one.")));
  }

  /**
   * Somebody who opened the folder before its records were moved must not go on where they were.
   */
  private void checkPlace() {
    if (!new RecordsPlace(facts.folder()).read().equals(Optional.of(place))) {
      throw RecordsPlace.left(facts.name());
    }
  }

  @Override
  public void record(Collection<Certificate> certificates, Authority authority) {
    int unused =
        facts.alone(
            () -> {
              checkPlace();
              records().add(certificates, authority);
              return certificates.size();
            });
  }

  @Override
  public Ledger revoke(
      Collection<Authority.Revocation> added, Authority authority, Lifetime lasts) {
    return facts.alone(
        () -> {
          checkPlace();
          List<Finding> noticed = findings();
          List<Authority.Revocation> all = new ArrayList<>(added);
          // What only the folder's list revokes stays revoked.
          Optional<RevocationList> written = listFile.read();
          written.ifPresent(list -> all.addAll(RevocationFile.revoked(list)));
          written.ifPresent(records()::keep);
          RevocationList list = records().revoke(all, authority, facts.now(), lasts);
          listFile.write(list, Existing.REPLACE);
          return reconciled().with(noticed);
        });
  }

  @Override
  public Optional<Certificate> issued(BigInteger serial) {
    return records().issued(serial);
  }

  @Override
  public Optional<Authority.Revocation> revocation(BigInteger serial) {
    return records().revocation(serial);
  }

  @Override
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return records().ending(from, until, most);
  }

  @Override
  public List<Certificate> latest(int most) {
    long all = records().state().issued();
    List<Certificate> last = new ArrayList<>(records().page(Math.max(0, all - most), most));
    Collections.reverse(last);
    return last;
  }

  @Override
  public Optional<Path> certificates() {
    return Optional.empty();
  }

  @Override
  public boolean isShared() {
    return records().isShared();
  }

  @Override
  public synchronized void close() {
    if (open != null) {
      open.close();
      open = null;
    }
  }
}
