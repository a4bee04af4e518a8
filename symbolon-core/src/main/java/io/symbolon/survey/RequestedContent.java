// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Extensions;
import io.symbolon.x509.Placeholder;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What was asked for, by a request or by the placeholder with which a key waits in a keystore.
 *
 * @param subject for whom
 * @param extensions the names and uses
 * @param lasts how long it should be valid, where that is known
 */
record RequestedContent(
    Place place, DistinguishedName subject, Extensions extensions, Optional<Duration> lasts) {
  static RequestedContent of(Holding.Request holding) {
    CertificateRequest request = holding.request();
    return new RequestedContent(
        holding.place(), request.subject(), request.extensions(), Optional.empty());
  }

  private static RequestedContent of(Place place, Certificate placeholder) {
    return new RequestedContent(
        place,
        placeholder.subject(),
        placeholder.extensions(),
        Optional.of(Duration.between(placeholder.notBefore(), placeholder.notAfter())));
  }

  /** All that was asked for with the key of a match. */
  static List<RequestedContent> of(Match match, Survey survey) {
    List<RequestedContent> asked = new ArrayList<>();
    match.requests().forEach(request -> asked.add(of(request)));
    for (Certificate certificate : match.certificates()) {
      if (Placeholder.is(certificate)) {
        survey.placeOf(certificate).ifPresent(place -> asked.add(of(place, certificate)));
      }
    }
    return asked;
  }
}
