// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.server.ProposedPlace;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The places of a server before and after a change, each beside what becomes of it. Places of one
 * file keep their order; which of them are the same is found by what they have in common, since
 * lines move and names can be twice there.
 */
final class PlacePairs {
  /** More places of one file than this are not aligned, but paired by their order. */
  private static final int MOST = 1_000;

  private final Map<TlsPlace, TlsPlace> pairs = new LinkedHashMap<>(); // before, after
  private final List<TlsPlace> gone = new ArrayList<>();
  private final List<TlsPlace> made = new ArrayList<>();
  private final List<TlsPlace> after;

  PlacePairs(List<TlsPlace> before, List<TlsPlace> after) {
    this.after = after;
    Set<Path> files = new LinkedHashSet<>();
    before.forEach(place -> files.add(place.id().file()));
    after.forEach(place -> files.add(place.id().file()));
    for (Path file : files) {
      parts(of(before, file), of(after, file));
      align(standing(before, file), standing(after, file));
    }
  }

  private static List<TlsPlace> of(List<TlsPlace> all, Path file) {
    return all.stream()
        .filter(one -> one.id().file().equals(file) && !one.id().part().isEmpty())
        .toList();
  }

  private static List<TlsPlace> standing(List<TlsPlace> all, Path file) {
    return all.stream()
        .filter(one -> one.id().file().equals(file) && one.id().part().isEmpty())
        .sorted(Comparator.comparingInt(one -> one.id().position()))
        .toList();
  }

  private void parts(List<TlsPlace> before, List<TlsPlace> now) {
    for (TlsPlace one : before) {
      Optional<TlsPlace> other =
          now.stream().filter(two -> two.id().part().equals(one.id().part())).findFirst();
      other.ifPresentOrElse(two -> pairs.put(one, two), () -> gone.add(one));
    }
    now.stream().filter(one -> !pairs.containsValue(one)).forEach(made::add);
  }

  /** Pairs two lists in order, so that as much as possible is the same. */
  private void align(List<TlsPlace> before, List<TlsPlace> now) {
    if (isSameRow(before, now) || before.size() > MOST || now.size() > MOST) {
      for (int i = 0; i < Math.max(before.size(), now.size()); i++) {
        if (i < before.size() && i < now.size()) {
          pairs.put(before.get(i), now.get(i));
        } else if (i < before.size()) {
          gone.add(before.get(i));
        } else {
          made.add(now.get(i));
        }
      }
      return;
    }
    int[][] best = new int[before.size() + 1][now.size() + 1];
    for (int i = before.size() - 1; i >= 0; i--) {
      for (int j = now.size() - 1; j >= 0; j--) {
        int both = best[i + 1][j + 1] + likeness(before.get(i), now.get(j));
        best[i][j] = Math.max(both, Math.max(best[i + 1][j], best[i][j + 1]));
      }
    }
    int i = 0;
    int j = 0;
    while (i < before.size() && j < now.size()) {
      if (best[i][j] == best[i + 1][j + 1] + likeness(before.get(i), now.get(j))) {
        pairs.put(before.get(i++), now.get(j++));
      } else if (best[i][j] == best[i + 1][j]) {
        gone.add(before.get(i++));
      } else {
        made.add(now.get(j++));
      }
    }
    gone.addAll(before.subList(i, before.size()));
    made.addAll(now.subList(j, now.size()));
  }

  /** Whether they are the same places in the same order, as mostly. */
  private static boolean isSameRow(List<TlsPlace> before, List<TlsPlace> now) {
    boolean same = before.size() == now.size();
    for (int i = 0; same && i < now.size(); i++) {
      same =
          before.get(i).name().equals(now.get(i).name())
              && before.get(i).kind().equals(now.get(i).kind());
    }
    return same;
  }

  /** How much two places have in common; being there at all counts a little. */
  private static int likeness(TlsPlace one, TlsPlace other) {
    if (!one.kind().equals(other.kind())) {
      return -1;
    }
    int likeness = 1;
    if (one.name().equals(other.name())) {
      likeness += 4;
    }
    if (one.hosts().equals(other.hosts())) {
      likeness += 2;
    }
    if (addresses(one).equals(addresses(other))) {
      likeness += 4;
    } else if (addresses(one).stream().anyMatch(addresses(other)::contains)) {
      likeness += 2;
    }
    if (one.isTls() == other.isTls()) {
      likeness += 1;
    }
    return likeness;
  }

  private static Set<String> addresses(TlsPlace place) {
    Set<String> addresses = new HashSet<>();
    place.endpoints().stream().map(Endpoint::written).forEach(addresses::add);
    return addresses;
  }

  /** Each place that stays, beside what becomes of it. */
  Map<TlsPlace, TlsPlace> stay() {
    return pairs;
  }

  /** Places that would not be there any more. */
  List<TlsPlace> gone() {
    return gone;
  }

  /** Places that were not there before. */
  List<TlsPlace> made() {
    return made;
  }

  /** The place that a proposal is about, as it was; nothing where it is made. */
  Optional<TlsPlace> before(ProposedPlace place) {
    return place.id().flatMap(this::before);
  }

  private Optional<TlsPlace> before(PlaceId id) {
    return pairs.keySet().stream().filter(one -> one.id().equals(id)).findFirst();
  }

  /** The place that a proposal is about, as it would be; nothing where it would not speak TLS. */
  Optional<TlsPlace> after(ProposedPlace place, Optional<Integer> port) {
    Optional<TlsPlace> same = before(place).map(pairs::get).filter(TlsPlace::isTls);
    if (same.isPresent()) {
      return same;
    }
    // It is made, or stands beside what goes on in clear text where it was.
    Optional<Path> file = place.file().or(() -> place.id().map(PlaceId::file));
    List<TlsPlace> named =
        after.stream()
            .filter(one -> one.isTls() && one.name().equals(place.name()))
            .filter(one -> file.isEmpty() || file.get().equals(one.origin().file()))
            .sorted(Comparator.comparing(one -> !made.contains(one)))
            .toList();
    return named.stream()
        .filter(one -> port.isEmpty() || isOn(one, port.get()))
        .findFirst()
        .or(() -> named.stream().findFirst());
  }

  private static boolean isOn(TlsPlace place, int port) {
    return place.endpoints().stream().anyMatch(end -> end.port() == port);
  }
}
