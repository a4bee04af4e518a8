// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.seal.ProtectionWorth.Strength;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/** What is to be said of how a file's private keys are protected. Public parts need no secrecy. */
final class ProtectionFindings {
  private ProtectionFindings() {}

  static List<Finding> of(
      String where, Collection<Holding> holdings, Collection<ProtectionWorth> protections) {
    boolean key = holdings.stream().anyMatch(h -> h instanceof Holding.PrivateKey);
    if (!key) {
      return List.of();
    }
    List<Finding> findings = new ArrayList<>();
    List<ProtectionWorth> weak =
        protections.stream().filter(p -> isKeys(p, Strength.WEAK)).toList();
    List<ProtectionWorth> few =
        protections.stream().filter(p -> p.strength() == Strength.FEW_ROUNDS).toList();
    if (!weak.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.WEAK_PROTECTION,
              where,
              "The private key is protected in an outdated way ("
                  + weak.get(0)
                  + "): with this file at hand its password can be guessed fast.",
              Remedy.of(
                  "Write it anew, as PKCS#12 or PEM, and destroy this file.",
                  Action.of(Task.CONVERT))));
    } else if (!few.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.FEW_ROUNDS,
              where,
              "The password is protected by few derivation rounds ("
                  + few.get(0)
                  + "): it should be long and random.",
              Remedy.of("Write it anew to have more of them.", Action.of(Task.CONVERT))));
    }
    return findings;
  }

  private static boolean isKeys(ProtectionWorth sealing, Strength strength) {
    return sealing.what().equals("keys") && sealing.strength() == strength;
  }
}
