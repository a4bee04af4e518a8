// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.finding.Finding;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Where an authority writes down what it signs: in the files of its folder, or in a database. */
interface Book {
  /** What is in it; what belongs together in the folder is made to agree first. */
  Ledger reconcile();

  /** What is to be said of it before something is signed. */
  List<Finding> findings();

  /** The same after all of it was read, whatever time that takes. */
  Ledger checkAll();

  /** Writes certificates down; if a serial number is taken, nothing. */
  void record(Collection<Certificate> certificates, Authority authority);

  /** Replaces the revocation list, with new revocations. */
  Ledger revoke(Collection<Authority.Revocation> added, Authority authority, Lifetime lasts);

  /** The current revocation list; the folder's file is made to be the same. */
  Optional<RevocationList> list();

  Optional<Certificate> issued(BigInteger serial);

  Optional<Authority.Revocation> revocation(BigInteger serial);

  /** What ends between two moments, soonest first: {@link IssueRecords#ending}. */
  List<Certificate> ending(Instant from, Instant until, int most);

  /** The last certificates, the newest first. */
  List<Certificate> latest(int most);

  /** The file with all certificates one behind the other, where there is one. */
  Optional<Path> certificates();

  /** Whether another process has it open and lets this one use it. */
  boolean isShared();

  void close();
}
