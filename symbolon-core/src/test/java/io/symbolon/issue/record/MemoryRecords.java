// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.issue.Authority;
import io.symbolon.issue.Lifetime;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Records of an authority that are in no file: what a database does, as plainly as it goes. */
final class MemoryRecords implements IssueRecords {
  final List<Certificate> issued = new ArrayList<>();
  final List<Authority.Revocation> revoked = new ArrayList<>();
  final List<Integer> pages = new ArrayList<>();
  Optional<RevocationList> list = Optional.empty();
  RecordsState state = RecordsState.empty();
  boolean shared;
  boolean closed;

  @Override
  public String place() {
    return "memory";
  }

  @Override
  public RecordsState state() {
    return state;
  }

  @Override
  public void add(Collection<Certificate> certificates, Authority authority) {
    for (Certificate one : certificates) {
      if (issued(one.serial()).isPresent()) {
        throw IssueRecords.taken(one);
      }
    }
    for (Certificate one : certificates) {
      issued.add(one);
      state = state.with(one);
    }
    state = state.signed(authority);
  }

  @Override
  public RevocationList revoke(
      Collection<Authority.Revocation> all, Authority authority, Instant now, Lifetime lasts) {
    for (Authority.Revocation one : all) {
      if (revocation(one.serial()).isEmpty()) {
        revoked.add(one);
        state = state.with(one);
      }
    }
    state = state.signed(authority);
    RevocationList next =
        authority.revocationList(revoked, IssueRecords.numberAfter(list, now), now, lasts);
    list = Optional.of(next);
    return next;
  }

  @Override
  public void keep(RevocationList made) {
    boolean newer =
        list.map(IssueRecords::number).orElse(BigInteger.ZERO).compareTo(IssueRecords.number(made))
            < 0;
    list = newer ? Optional.of(made) : list;
  }

  @Override
  public Optional<RevocationList> list() {
    return list;
  }

  @Override
  public Optional<Certificate> issued(BigInteger serial) {
    return issued.stream().filter(one -> one.serial().equals(serial)).findFirst();
  }

  @Override
  public List<Certificate> page(long from, int most) {
    pages.add(most);
    int start = (int) Math.min(from, issued.size());
    return issued.subList(start, Math.min(start + most, issued.size()));
  }

  @Override
  public List<Certificate> find(String text, int most) {
    return issued.stream()
        .filter(
            one ->
                one.subject()
                    .commonName()
                    .filter(name -> name.equalsIgnoreCase(text.toLowerCase(Locale.ROOT)))
                    .isPresent())
        .limit(most)
        .toList();
  }

  @Override
  public List<Certificate> ending(Instant from, Instant until, int most) {
    return issued.stream()
        .filter(one -> !one.notAfter().isBefore(from) && !one.notAfter().isAfter(until))
        .sorted(Comparator.comparing(Certificate::notAfter))
        .limit(most)
        .toList();
  }

  @Override
  public Optional<Authority.Revocation> revocation(BigInteger serial) {
    return revoked.stream().filter(one -> one.serial().equals(serial)).findFirst();
  }

  @Override
  public List<Authority.Revocation> revoked() {
    return List.copyOf(revoked);
  }

  @Override
  public boolean isShared() {
    return shared;
  }

  @Override
  public void close() {
    closed = true;
  }
}
