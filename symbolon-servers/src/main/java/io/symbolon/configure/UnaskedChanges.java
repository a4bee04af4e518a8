// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.place.Aspect;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a change would do to a server besides what is wanted: the whole server as it is and as it
 * would be, compared place by place and fact by fact. What differs must be what was wished for at
 * the place that is meant.
 */
final class UnaskedChanges {
  private static final Set<FileRole> OF_CLIENTS = EnumSet.of(FileRole.TRUST, FileRole.LISTS);

  private static final Pattern ONE_WORD = Pattern.compile("[\\w./:@+-]+");

  private final Wish wish;
  private final PlacePairs pairs;
  private final FileView now;
  private final FileView then;
  private final List<Party> shown; // at the place that is meant, as it was
  private final PlaceReport report;
  private final Function<TlsPlace, List<Party>> shownNow;
  private final Function<TlsPlace, List<Party>> shownThen;
  private final TlsPlace becomes;
  private final List<Finding> findings = new ArrayList<>();

  /**
   * Compares.
   *
   * @param now the files as they are
   * @param then the files as they would be
   * @param shown what the place that is meant shows now; nothing where it is made, or not known
   * @param report that place as it would be
   * @param shownNow what a place shows now
   * @param shownThen what a place would show
   */
  UnaskedChanges(
      Wish wish,
      PlacePairs pairs,
      FileView now,
      FileView then,
      List<Party> shown,
      PlaceReport report,
      Function<TlsPlace, List<Party>> shownNow,
      Function<TlsPlace, List<Party>> shownThen) {
    this.wish = wish;
    this.pairs = pairs;
    this.now = now;
    this.then = then;
    this.shown = List.copyOf(shown);
    this.report = report;
    this.shownNow = shownNow;
    this.shownThen = shownThen;
    this.becomes = report.place();
  }

  List<Finding> findings() {
    pairs
        .stay()
        .forEach(
            (before, after) -> {
              if (isAsked(before)) {
                return;
              }
              if (after == becomes) {
                meant(before, after);
              } else {
                other(before, after);
              }
            });
    for (TlsPlace place : pairs.gone()) {
      if (!isAsked(place) && !isTakenOver(place.endpoints())) {
        find(place, "it would not be there any more", "");
      }
    }
    for (TlsPlace place : pairs.made()) {
      if (place != becomes && !isRedirect(place) && !isAsked(place)) {
        find(place, "it would be new, at " + addresses(place), "");
      }
    }
    return findings;
  }

  /** Whether it was said by name that this place is to change as well. */
  private boolean isAsked(TlsPlace place) {
    return wish.mayChange().stream().anyMatch(name -> PlaceChoice.isNamed(place, name));
  }

  /** Whether the place that is meant answers there, where nothing of its own did before. */
  private boolean isTakenOver(List<Endpoint> endpoints) {
    return endpoints.stream()
        .allMatch(end -> becomes.endpoints().stream().anyMatch(one -> one.port() == end.port()));
  }

  private boolean isRedirect(TlsPlace place) {
    return wish.redirectFrom().isPresent()
        && place.endpoints().stream()
            .allMatch(end -> !end.tls() && end.port() == wish.redirectFrom().get());
  }

  // --- the place that is meant

  private void meant(TlsPlace before, TlsPlace after) {
    List<Endpoint> opened =
        after.endpoints().stream()
            .filter(end -> before.endpoints().stream().noneMatch(one -> isSameAddress(one, end)))
            .filter(end -> !wish.port().equals(Optional.of(end.port())))
            .filter(end -> !wish.redirectFrom().equals(Optional.of(end.port())))
            .toList();
    if (before.isTls() && !opened.isEmpty()) {
      find(after, "it would listen at " + written(opened), "");
    }
    List<String> lost =
        before.hosts().stream()
            .filter(host -> after.hosts().stream().noneMatch(host::equalsIgnoreCase))
            .toList();
    if (!lost.isEmpty()) {
      find(
          after, "it would not answer any more for " + VisibleText.of(String.join(", ", lost)), "");
    }
    if (!before.isTls()) {
      return;
    }
    // Where no setting said anything, the usual versions raise what is there.
    boolean raises =
        before.protocols().isEmpty() && Wish.USUAL_PROTOCOLS.containsAll(after.versions());
    if (wish.protocols().isEmpty() && !raises) {
      versions(before, after);
    }
    if (wish.ciphers().isEmpty() && !before.ciphers().equals(after.ciphers())) {
      differs(after, Aspect.CIPHERS, before.ciphers(), after.ciphers());
    }
    shown(after);
    boolean sameClients = wish.mode().isEmpty() && wish.trust().isEmpty();
    if (sameClients && before.mode() != after.mode()) {
      differs(
          after, Aspect.MODE, Optional.of(before.mode().word()), Optional.of(after.mode().word()));
    }
    if (sameClients) {
      contents(before, after, OF_CLIENTS, after);
    }
  }

  /** Certificates of other kinds, and names, that clients would not be shown any more. */
  private void shown(TlsPlace after) {
    List<Party> then = report.shown();
    if (shown.size() > then.size() && !then.isEmpty()) {
      String lost =
          shown.stream()
              .filter(one -> then.stream().noneMatch(two -> isSameKind(one, two)))
              .map(one -> certificate(one))
              .map(one -> one.subject() + " (" + one.publicKey().algorithm() + ")")
              .collect(Collectors.joining("; "));
      find(
          after,
          "it shows "
              + shown.size()
              + " certificates, and would show "
              + then.size()
              + (lost.isEmpty() ? "" : "; without " + VisibleText.of(lost)),
          "Give the files of all of them: " + Input.CREDENTIAL.mention("FILE...") + ". ");
    }
    List<String> names =
        after.hosts().stream()
            .filter(host -> !then.isEmpty() && covers(shown, host) && !covers(then, host))
            .toList();
    if (!names.isEmpty()) {
      find(
          after,
          "its certificate would not be for "
              + VisibleText.of(String.join(", ", names))
              + " any more",
          "Get a certificate with all names. ");
    }
  }

  private static Certificate certificate(Party party) {
    return party.credential().orElseThrow().certificate();
  }

  private static boolean isSameKind(Party one, Party other) {
    return certificate(one)
        .publicKey()
        .algorithm()
        .oid()
        .equals(certificate(other).publicKey().algorithm().oid());
  }

  private static boolean covers(List<Party> parties, String host) {
    try {
      HostName name = HostName.parse(host);
      return parties.stream()
          .anyMatch(one -> name.isCoveredBy(certificate(one).alternativeNames()));
    } catch (SymbolonException e) {
      return false; // a pattern of the server's own
    }
  }

  private static boolean isSameAddress(Endpoint one, Endpoint other) {
    return one.port() == other.port() && one.host().equals(other.host());
  }

  private void versions(TlsPlace before, TlsPlace after) {
    if (!before.versions().equals(after.versions())
        || (before.versions().isEmpty() && !before.protocols().equals(after.protocols()))) {
      differs(after, Aspect.VERSIONS, versions(before), versions(after));
    }
  }

  private static Optional<String> versions(TlsPlace place) {
    return place.versions().isEmpty()
        ? place.protocols()
        : Optional.of(
            place.versions().stream()
                .sorted()
                .map(ProtocolVersion::title)
                .collect(Collectors.joining(", ")));
  }

  // --- the others

  private void other(TlsPlace before, TlsPlace after) {
    List<Endpoint> lost =
        before.endpoints().stream().filter(end -> !after.endpoints().contains(end)).toList();
    boolean onlyLoses = before.endpoints().containsAll(after.endpoints()) && isTakenOver(lost);
    if (!addresses(before).equals(addresses(after)) && !onlyLoses) {
      differs(
          before, Aspect.ADDRESSES, Optional.of(addresses(before)), Optional.of(addresses(after)));
    }
    if (before.mode() != after.mode()) {
      differs(
          before, Aspect.MODE, Optional.of(before.mode().word()), Optional.of(after.mode().word()));
    }
    if (!before.hosts().equals(after.hosts())) {
      differs(
          before,
          Aspect.NAMES,
          Optional.of(String.join(", ", before.hosts())),
          Optional.of(String.join(", ", after.hosts())));
    }
    if (!before.isTls() && !after.isTls()) {
      return;
    }
    versions(before, after);
    if (!before.ciphers().equals(after.ciphers())) {
      differs(before, Aspect.CIPHERS, before.ciphers(), after.ciphers());
    }
    contents(before, after, EnumSet.allOf(FileRole.class), before);
  }

  /** Whether files of these roles hold what they held before, wherever they are. */
  private void contents(TlsPlace before, TlsPlace after, Set<FileRole> roles, TlsPlace shown) {
    boolean renewed = false;
    for (FileRole role : roles) {
      List<UsedFile> first = before.files(role);
      List<UsedFile> second = after.files(role);
      boolean same = first.size() == second.size();
      for (int i = 0; same && i < first.size(); i++) {
        same = Arrays.equals(octets(now, first.get(i).path()), octets(then, second.get(i).path()));
      }
      if (!same && role.isOfServer() && isRenewal(before, after)) {
        renewed = true;
        continue;
      }
      if (!same && role != FileRole.PASSWORD) {
        String files =
            second.stream()
                .map(file -> VisibleText.of(file.path().toString()))
                .distinct()
                .collect(Collectors.joining(", "));
        find(
            shown,
            (OF_CLIENTS.contains(role)
                    ? "whose clients it trusts would change"
                    : "what it shows would change")
                + (files.isEmpty() ? "" : ", in " + files),
            "Give the place that is meant files of its own, in another folder: "
                + Input.PLACE.mention("FOLDER")
                + ". ");
        return;
      }
    }
    if (renewed) {
      findings.add(
          Finding.of(
              FindingKind.RENEWED_ELSEWHERE,
              shown.origin().toString(),
              VisibleText.of(shown.name())
                  + ", another place of this server, shows the renewed certificate as well: for the"
                  + " same names, with a key of the same kind, from the same authority.",
              "Nothing, if that is meant."));
    }
  }

  /** Whether what a place would show takes the place of what it shows, for its clients too. */
  private boolean isRenewal(TlsPlace before, TlsPlace after) {
    List<Party> old = shownNow.apply(before);
    List<Party> fresh = shownThen.apply(after);
    return !old.isEmpty()
        && old.stream().allMatch(one -> fresh.stream().anyMatch(two -> renews(one, two)));
  }

  private static boolean renews(Party old, Party fresh) {
    Certificate last = old.chain().get(old.chain().size() - 1);
    return isSameKind(old, fresh)
        && certificate(fresh).alternativeNames().containsAll(certificate(old).alternativeNames())
        && (certificate(old).issuer().equals(certificate(fresh).issuer())
            || last.issuer().equals(fresh.chain().get(fresh.chain().size() - 1).issuer()));
  }

  private static byte[] octets(FileView files, Path path) {
    try {
      return files.read(path, Limits.FILE_BYTES).map(FileView.ReadFile::octets).orElse(new byte[0]);
    } catch (SymbolonException e) {
      return new byte[0]; // it can't be read: neither as it is nor as it would be
    }
  }

  // --- words

  private static String addresses(TlsPlace place) {
    return written(place.endpoints());
  }

  private static String written(List<Endpoint> endpoints) {
    return endpoints.stream()
        .map(end -> end.written() + (end.tls() ? " with TLS" : " in clear text"))
        .collect(Collectors.joining(", "));
  }

  private void differs(
      TlsPlace place, Aspect aspect, Optional<String> before, Optional<String> after) {
    find(
        place,
        aspect.title()
            + " would change from "
            + VisibleText.of(before.filter(one -> !one.isEmpty()).orElse("the default"))
            + " to "
            + VisibleText.of(after.filter(one -> !one.isEmpty()).orElse("the default")),
        "");
  }

  /** A word that means this place alone, and is one word where it is pasted. */
  private String called(TlsPlace place) {
    long named =
        Stream.concat(pairs.stay().keySet().stream(), pairs.made().stream())
            .filter(one -> one.name().equals(place.name()))
            .count();
    return named < 2 && ONE_WORD.matcher(place.name()).matches()
        ? place.name()
        : VisibleText.of(String.valueOf(place.origin().file().getFileName()))
            + ":"
            + place.origin().line();
  }

  private void find(TlsPlace place, String what, String first) {
    boolean own = place == becomes;
    boolean named = own && !first.isEmpty();
    findings.add(
        Finding.of(
            FindingKind.CHANGES_MORE,
            place.origin().toString(),
            VisibleText.of(place.name())
                + (own ? "" : ", another place of this server")
                + ": "
                + what
                + ". That was not asked for.",
            own && !named
                ? "Say what this place is to have, or change the settings by hand."
                : first
                    + "If that is meant, say so: "
                    + Input.MAY_CHANGE.mention(called(place))
                    + "."));
  }
}
