// SPDX-License-Identifier: Apache-2.0
package io.symbolon.compare;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.survey.Holding;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.util.List;

/** What a renewed certificate lacks that the one before had, and somebody may miss. */
final class RenewalCheck {
  private RenewalCheck() {}

  static void check(Compared pair, List<Finding> findings) {
    if (!(pair.one().get(0) instanceof Holding.Cert before
        && pair.other().get(0) instanceof Holding.Cert after)) {
      return;
    }
    List<GeneralName> now = after.certificate().alternativeNames();
    List<String> gone =
        before.certificate().alternativeNames().stream()
            .filter(host -> host.isHost() && !now.contains(host))
            .map(host -> VisibleText.of(host.value()))
            .toList();
    if (!gone.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.RENEWED_WITHOUT_HOSTS,
              after.place().toString(),
              "The new certificate of "
                  + after.certificate().subject().shortText()
                  + " no longer covers "
                  + String.join(", ", gone)
                  + ".",
              "Have it issued again with all hosts, or make sure that no client uses these."));
    }
    if (endsEarlier(before.certificate(), after.certificate())) {
      findings.add(
          Finding.of(
              FindingKind.RENEWED_AND_ENDS_EARLIER,
              after.place().toString(),
              "The new certificate of "
                  + after.certificate().subject().shortText()
                  + " ends before the old one.",
              "Note the date. Ask the authority if that was meant."));
    }
  }

  private static boolean endsEarlier(Certificate before, Certificate after) {
    return after.notAfter().isBefore(before.notAfter());
  }
}
