// SPDX-License-Identifier: Apache-2.0
package io.symbolon.probe;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * One of the addresses of a server's name.
 *
 * @param ip the address
 * @param answers whether somebody answers there
 * @param shown the certificate that is shown there
 * @param seen what went wrong there, as one sentence; empty where nothing did
 */
public record AddressSeen(String ip, boolean answers, Optional<Certificate> shown, String seen) {
  static AddressSeen of(Connector.Reached reached, List<ObservedHandshake> all) {
    Optional<ObservedHandshake> own =
        all.stream().filter(one -> one.reached().equals(reached)).findFirst();
    if (own.isEmpty()) {
      return new AddressSeen(
          reached.ip(),
          false,
          Optional.empty(),
          reached.failure().orElse("Something accepts the connection, but does not come to TLS."));
    }
    String wrong =
        own.get().findings().stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .map(Finding::statement)
            .findFirst()
            .orElse("");
    return new AddressSeen(
        reached.ip(), true, own.get().observer().read(e -> {}).stream().findFirst(), wrong);
  }

  /** Whether all do the same, and which do not. */
  static List<Finding> findings(List<AddressSeen> all, String where) {
    List<Finding> findings = new ArrayList<>();
    AddressSeen first = all.stream().filter(AddressSeen::answers).findFirst().orElseThrow();
    for (AddressSeen one : all) {
      if (!one.answers()) {
        findings.add(
            Finding.of(
                FindingKind.ADDRESS_WITHOUT_ANSWER,
                where,
                "The name has "
                    + all.size()
                    + " addresses, and nobody answers at "
                    + one.ip()
                    + ". "
                    + one.seen(),
                "Clients try that address, too: let the server listen there, or take the address"
                    + " out of the name service."));
      } else if (!one.shown()
              .map(Certificate::sha256)
              .equals(first.shown().map(Certificate::sha256))
          || one.seen().isEmpty() != first.seen().isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.ADDRESSES_DIFFER,
                where,
                "At "
                    + one.ip()
                    + " another server answers than at "
                    + first.ip()
                    + ": "
                    + shown(one)
                    + ", and not "
                    + shown(first)
                    + ".",
                Remedy.of(
                    "Configure the machine that was forgotten, and probe each at its own address, with the name to"
                        + " ask for.",
                    Action.of(Task.PROBE).with(Input.HOST))));
      }
    }
    return findings;
  }

  private static String shown(AddressSeen one) {
    if (one.shown().isEmpty()) {
      return one.seen().isEmpty() ? "it shows no certificate" : "\"" + one.seen() + "\"";
    }
    Certificate certificate = one.shown().get();
    return "the certificate of "
        + certificate.subject().shortText()
        + " with the serial number "
        + certificate.serialHex()
        + (one.seen().isEmpty() ? "" : " (\"" + one.seen() + "\")");
  }
}
