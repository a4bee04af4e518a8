// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Authority;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Records move: from the files of a folder into a database, from one database to another, back. */
final class RecordsMove {
  private static final int AT_ONCE = 500; // certificates in one transaction

  private RecordsMove() {}

  /**
   * Everything there first, then the file that says where it is: whoever is killed between finds
   * the records where they were, and what is there already is not added again.
   */
  static AuthorityFolder into(
      AuthorityFolder from, IssueRecords to, String place, Authority authority) {
    FolderFacts facts = from.facts();
    return facts.alone(
        () -> {
          checkAlone(from, to.isShared());
          Ledger all = from.reconcile();
          add(all.issued(), to, authority);
          List<Authority.Revocation> revoked = unknown(all.revoked().values(), to);
          all.list().ifPresent(to::keep);
          if (!revoked.isEmpty()) {
            // With the dates that they have; the list goes on with its number.
            var unused = to.revoke(revoked, authority, facts.now(), AuthorityFolder.LIST_LASTS);
          }
          new RecordsPlace(facts.folder()).write(place);
          return from.with(to, place);
        });
  }

  private static void checkAlone(AuthorityFolder from, boolean targetShared) {
    if (targetShared || from.book().isShared()) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "The records of " + from.facts().name() + " were not moved.",
          "An authority that serves from this folder has them open, and would go on where they are.",
          "Stop it first.");
    }
  }

  private static void add(List<Certificate> issued, IssueRecords to, Authority authority) {
    List<Certificate> batch = new ArrayList<>();
    for (Certificate one : issued) {
      Optional<Certificate> there = to.issued(one.serial());
      if (there.isEmpty()) {
        batch.add(one);
      } else if (!there.get().equals(one)) {
        throw IssueRecords.taken(one);
      }
      if (batch.size() == AT_ONCE) {
        to.add(batch, authority);
        batch.clear();
      }
    }
    if (!batch.isEmpty()) {
      to.add(batch, authority);
    }
  }

  private static List<Authority.Revocation> unknown(
      Collection<Authority.Revocation> revoked, IssueRecords to) {
    return revoked.stream().filter(one -> to.revocation(one.serial()).isEmpty()).toList();
  }

  static AuthorityFolder intoFiles(AuthorityFolder from, Authority authority) {
    FolderFacts facts = from.facts();
    return facts.alone(
        () -> {
          checkAlone(from, false);
          Ledger ledger = from.reconcile();
          FileBook files = new FileBook(facts);
          files.replace(
              List.copyOf(ledger.issued()), ledger.revoked().values(), ledger.list(), authority);
          new RecordsPlace(facts.folder()).clear();
          from.close();
          return AuthorityFolder.open(facts.folder(), facts.clock());
        });
  }
}
