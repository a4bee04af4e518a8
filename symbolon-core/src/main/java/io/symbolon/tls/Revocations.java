package io.symbolon.tls;

import io.symbolon.Finding;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm.Verdict;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Holds certificates against the revocation lists that lie with the trust of the side that judges
 * them. The platform's handshake does not look at lists; servers that are given some do.
 */
final class Revocations {
  private static final int MOST = 1_000_000; // entries of one list

  private final List<RevocationList> lists;
  private final Instant now;
  private final String where;

  Revocations(List<RevocationList> lists, Instant now, String where) {
    this.lists = lists;
    this.now = now;
    this.where = where;
  }

  /** What the lists say of a chain. */
  List<Finding> of(List<Certificate> chain, Collection<Certificate> trusted) {
    List<Finding> findings = new ArrayList<>();
    for (Certificate certificate : chain) {
      List<Certificate> issuers =
          Stream.concat(chain.stream(), trusted.stream())
              .filter(one -> one.subject().equals(certificate.issuer()))
              .filter(one -> certificate.verify(one) == Verdict.VALID)
              .toList();
      for (RevocationList list : lists) {
        if (list.issuer().equals(certificate.issuer())
            && issuers.stream().anyMatch(one -> list.verify(one) == Verdict.VALID)) {
          said(list, certificate).ifPresent(findings::add);
        }
      }
    }
    return findings;
  }

  private Optional<Finding> said(RevocationList list, Certificate certificate) {
    Optional<RevocationList.Revoked> revoked =
        list.revoked(MOST).stream()
            .filter(one -> one.serial().equals(certificate.serial()))
            .findFirst();
    if (revoked.isPresent()) {
      return Optional.of(
          Finding.problem(
              "revoked",
              where,
              "The certificate of "
                  + certificate.subject().shortText()
                  + " is on the revocation list of "
                  + list.issuer().shortText()
                  + ", since "
                  + revoked.get().when()
                  + ". Java's handshake above does not look at lists; a server that is given this one"
                  + " refuses.",
              "Ask its authority why; if it was meant, have a new certificate issued for a new key."));
    }
    if (list.nextUpdate().filter(now::isAfter).isPresent()) {
      return Optional.of(
          Finding.problem(
              "revocation-list-expired",
              where,
              "The revocation list of "
                  + list.issuer().shortText()
                  + " was to be relied on until "
                  + list.nextUpdate().get()
                  + ": a server that is given it refuses everybody whom "
                  + list.issuer().shortText()
                  + " issued for.",
              "Get the current list from the authority; of one of your own, write it with symbolon"
                  + " authority revoke --fresh."));
    }
    return Optional.empty();
  }
}
