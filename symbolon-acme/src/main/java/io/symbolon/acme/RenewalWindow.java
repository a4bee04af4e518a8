// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.x509.Certificate;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;
import java.util.random.RandomGenerator;

/**
 * When an authority wants a certificate to be renewed (RFC 9773, 4.2).
 *
 * @param start from when
 * @param end until when
 * @param explanation a page that says why, where there is one
 * @param again when to ask for it again
 */
public record RenewalWindow(Instant start, Instant end, Optional<URI> explanation, Instant again) {
  private static final int PART = 3; // of its life
  private static final Duration USUAL = Duration.ofHours(6);
  private static final Duration LEAST = Duration.ofMinutes(1);
  private static final Duration MOST = Duration.ofDays(1);

  /**
   * {@return by what the authority knows a certificate (RFC 9773, 4.1); nothing for one that does
   * not name its issuer's key}
   */
  public static Optional<String> id(Certificate certificate) {
    Base64.Encoder text = Base64.getUrlEncoder().withoutPadding();
    return certificate
        .extensions()
        .authorityKeyIdentifier()
        .map(
            key ->
                text.encodeToString(key)
                    + '.'
                    + text.encodeToString(certificate.serial().toByteArray()));
  }

  static RenewalWindow read(ObjectNode json, Optional<Instant> again, Instant now)
      throws JsonText.Malformed {
    JsonNode window = json.path("suggestedWindow");
    Optional<Instant> start = JsonText.moment(window, "start");
    Optional<Instant> end = JsonText.moment(window, "end");
    if (start.isEmpty() || end.isEmpty() || !start.get().isBefore(end.get())) {
      throw new JsonText.Malformed("'suggestedWindow' has no end behind its start");
    }
    Optional<String> page = JsonText.find(json, "explanationURL");
    return new RenewalWindow(
        start.get(),
        end.get(),
        page.isEmpty()
            ? Optional.empty()
            : Optional.of(JsonText.address(page.get(), "explanationURL")),
        bounded(again.orElse(now.plus(USUAL)), now));
  }

  /** An authority can't have itself asked all the time, or never again (RFC 9773, 4.3.2). */
  private static Instant bounded(Instant again, Instant now) {
    if (again.isBefore(now.plus(LEAST))) {
      return now.plus(LEAST);
    }
    return again.isAfter(now.plus(MOST)) ? now.plus(MOST) : again;
  }

  /**
   * {@return from when on a certificate is due: with a third of its life left, or when its
   * authority wants it earlier}
   *
   * @param window what the authority says, where it says anything
   */
  public static Instant due(Certificate certificate, Optional<RenewalWindow> window) {
    Duration whole = Duration.between(certificate.notBefore(), certificate.notAfter());
    Instant third = certificate.notAfter().minus(whole.dividedBy(PART));
    return window.map(RenewalWindow::start).filter(one -> one.isBefore(third)).orElse(third);
  }

  /**
   * {@return a moment in the window, so that not all come at once (RFC 9773, 4.2)}
   *
   * @param random where random numbers come from
   */
  public Instant chosen(RandomGenerator random) {
    long length = Math.max(1, Duration.between(start, end).toSeconds());
    return start.plusSeconds(random.nextLong(length));
  }
}
