// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.failure.SymbolonException;
import io.symbolon.probe.Probe;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.time.Clock;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** What a running server shows at a place, asked once and without patience. */
public final class ShownNow {
  private static final Logger LOG = LoggerFactory.getLogger(ShownNow.class);
  private static final Duration EACH = Duration.ofSeconds(10);

  private ShownNow() {}

  /** {@return the address at which it is asked; nothing where none is known} */
  public static Optional<Endpoint> endpoint(TlsPlace place) {
    List<Endpoint> tls = place.endpoints().stream().filter(Endpoint::tls).toList();
    return tls.stream()
        .filter(end -> end.host().indexOf(':') < 0)
        .findFirst()
        .or(() -> tls.stream().findFirst());
  }

  /**
   * {@return the certificate that it shows; nothing where nobody answers with one}
   *
   * @param hosts names by which clients ask for it; otherwise one of the place's own
   */
  public static Optional<Certificate> at(TlsPlace place, Collection<HostName> hosts, Clock clock) {
    Optional<Endpoint> endpoint = endpoint(place);
    if (endpoint.isEmpty()) {
      return Optional.empty();
    }
    Probe probe =
        Probe.of(endpoint.get().reachable(), endpoint.get().port())
            .withLimit(EACH)
            .withClock(clock)
            .withHandshakeAlone();
    Optional<HostName> host =
        hosts.stream()
            .filter(one -> !one.isWildcard())
            .findFirst()
            .or(() -> PlaceJudge.host(place));
    if (host.isPresent()) {
      probe = probe.withHost(host.get());
    }
    if (place.startWith().isPresent()) {
      probe = probe.withStart(place.startWith().get());
    }
    try {
      return probe.run().sent().stream().findFirst();
    } catch (SymbolonException e) {
      LOG.debug("nothing is shown at {}", place.name(), e);
      return Optional.empty();
    }
  }
}
