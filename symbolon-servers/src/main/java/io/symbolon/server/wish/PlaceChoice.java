// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/** Which place of a server's settings a wish is about: told, or the only one; never guessed. */
public final class PlaceChoice {
  private PlaceChoice() {}

  /**
   * {@return the one place that is meant}
   *
   * @param server the name of the server
   * @param places the places, in order
   * @param wish what is wanted
   * @throws SymbolonException if no place, or more than one, may be meant
   */
  public static TlsPlace of(String server, List<TlsPlace> places, Wish wish) {
    List<TlsPlace> meant = places;
    if (wish.site().isPresent()) {
      String site = wish.site().get();
      meant = places.stream().filter(place -> isNamed(place, site)).toList();
      if (meant.isEmpty()) {
        throw noPlace(server, places, site);
      }
    } else {
      List<TlsPlace> byHost = places.stream().filter(place -> serves(place, wish.hosts())).toList();
      meant = byHost.isEmpty() ? places : byHost;
    }
    meant = narrowed(meant, wish);
    if (meant.size() == 1) {
      return meant.get(0);
    }
    throw new SymbolonException(
        meant.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "Nothing was changed.",
        meant.isEmpty()
            ? "The settings of " + server + " have no place that could speak TLS."
            : "The settings of "
                + server
                + " have "
                + meant.size()
                + " places: "
                + listed(meant)
                + ".",
        meant.isEmpty()
            ? "Write one first, in clear text if need be, and give the command again."
            : "Say which one is meant: "
                + Input.SITE.mention("NAME")
                + ", where NAME may be FILE:LINE as well.");
  }

  /**
   * {@return the failure of a name that no place has}
   *
   * @param server the name of the server
   * @param places the places that there are
   * @param site the name that was told
   */
  public static SymbolonException noPlace(String server, List<TlsPlace> places, String site) {
    return new SymbolonException(
        Reason.NOT_FOUND,
        "Nothing was changed.",
        server + " has no place that is called " + VisibleText.of(site) + ".",
        places.isEmpty() ? "It has none." : "Its places are: " + listed(places) + ".");
  }

  /**
   * {@return whether a place is called so: by its name, one of its hosts, or where it stands}
   *
   * @param site the name that was told
   */
  public static boolean isNamed(TlsPlace place, String site) {
    return place.name().equalsIgnoreCase(site)
        || place.hosts().stream().anyMatch(site::equalsIgnoreCase)
        || place.origin().toString().equals(site)
        || (place.origin().file().getFileName() + ":" + place.origin().line()).equals(site);
  }

  private static boolean serves(TlsPlace place, List<HostName> hosts) {
    return hosts.stream()
        .map(host -> host.typed().toLowerCase(Locale.ROOT))
        .anyMatch(host -> place.hosts().stream().anyMatch(host::equalsIgnoreCase));
  }

  /** The one on the port that is wanted, else the only one that speaks TLS already. */
  private static List<TlsPlace> narrowed(List<TlsPlace> places, Wish wish) {
    if (places.size() < 2) {
      return places;
    }
    if (wish.port().isPresent()) {
      List<TlsPlace> there =
          places.stream()
              .filter(p -> p.endpoints().stream().anyMatch(e -> e.port() == wish.port().get()))
              .toList();
      if (there.size() == 1) {
        return there;
      }
    }
    List<TlsPlace> tls = places.stream().filter(TlsPlace::isTls).toList();
    return tls.size() == 1 ? tls : places;
  }

  private static String listed(List<TlsPlace> places) {
    List<String> names = new ArrayList<>();
    for (TlsPlace place : places) {
      boolean twice = places.stream().filter(one -> one.name().equals(place.name())).count() > 1;
      names.add(
          VisibleText.of(place.name())
              + (twice ? " (" + place.origin() + ")" : "")
              + (place.isTls() ? "" : ", in clear text"));
    }
    return names.stream().collect(Collectors.joining("; "));
  }
}
