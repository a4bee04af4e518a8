// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.place;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.renewal.RenewalJob;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * A certificate that an account of this machine obtained.
 *
 * @param folder the account, to be looked at alone
 * @param standing how the certificate stands in it
 * @param job how it is renewed
 */
public record Obtained(AccountFolder folder, Standing standing, RenewalJob job) {
  /** {@return those among these certificates} */
  public static List<Obtained> among(Collection<Certificate> certificates) {
    List<Obtained> found = new ArrayList<>();
    for (AccountFolder account : AccountFolder.known()) {
      for (Standing one : standings(account)) {
        if (one.certificate().filter(certificates::contains).isPresent()) {
          job(one).ifPresent(job -> found.add(new Obtained(account, one, job)));
        }
      }
    }
    return found;
  }

  /** An account of which nothing can be read has obtained nothing of this, as far as is known. */
  private static List<Standing> standings(AccountFolder account) {
    try {
      return account.standings();
    } catch (SymbolonException e) {
      return List.of();
    }
  }

  private static Optional<RenewalJob> job(Standing standing) {
    try {
      return Optional.of(RenewalText.read(standing.job()));
    } catch (SymbolonException e) {
      return Optional.empty(); // its renewal tells that it is damaged
    }
  }

  /**
   * {@return the files from which its renewals are to be taken: those that were named, where it is
   * written to one of them; else the file that it is written to}
   *
   * @param named the files of a server's credential
   */
  public List<Path> files(List<Path> named) {
    Path into = real(job.path());
    return named.stream().anyMatch(file -> real(file).startsWith(into))
        ? named.stream().map(Obtained::whole).toList()
        : List.of(job.path());
  }

  static Path whole(Path path) {
    return path.toAbsolutePath().normalize();
  }

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (java.io.IOException e) {
      return whole(path);
    }
  }
}
