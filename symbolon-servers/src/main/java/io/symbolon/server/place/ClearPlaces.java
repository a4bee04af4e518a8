// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.text.VisibleText;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** Ports in clear text beside places with TLS: who uses them shows no certificate. */
public final class ClearPlaces {
  private ClearPlaces() {}

  /**
   * {@return what is to be said of them}
   *
   * @param title the server's name as its makers write it
   * @param places its places
   * @param redirects whether a place in clear text only sends its clients to TLS
   */
  public static List<Finding> findings(
      String title, List<TlsPlace> places, Predicate<TlsPlace> redirects) {
    boolean tls = places.stream().anyMatch(TlsPlace::isTls);
    boolean mutual = places.stream().anyMatch(one -> one.mode() == Mode.MUTUAL);
    return places.stream()
        .filter(place -> tls && place.mode() == Mode.CLEAR && place.notUnderstood().isEmpty())
        .filter(place -> !place.endpoints().isEmpty() && !redirects.test(place))
        .map(place -> open(title, place, mutual))
        .toList();
  }

  private static Finding open(String title, TlsPlace place, boolean mutual) {
    boolean inside = place.endpoints().stream().allMatch(ClearPlaces::isOfThisMachine);
    String ports =
        place.endpoints().stream()
            .map(end -> String.valueOf(end.port()))
            .distinct()
            .collect(Collectors.joining(", "));
    return Finding.of(
        FindingKind.CLEAR_TEXT_OPEN,
        mutual && !inside ? Level.WARNING : Level.NOTE,
        place.origin().toString(),
        VisibleText.of(place.name())
            + " accepts unencrypted connections on port "
            + ports
            + (inside ? ", from this machine alone." : ". It asks for no certificate there."),
        "Let its clients use TLS. Then close port " + ports + " in the settings of " + title + ".");
  }

  private static boolean isOfThisMachine(Endpoint end) {
    return end.host().equals("localhost")
        || end.host().equals("::1")
        || end.host().matches("127(\\.\\d{1,3}){3}");
  }
}
