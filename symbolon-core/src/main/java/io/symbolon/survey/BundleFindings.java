// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.Chain;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;

/** What is to be said of a file that holds several certificates, as authorities send them. */
final class BundleFindings {
  private static final int LARGEST = 30; // beyond that a file is a collection, not a chain

  private final Survey survey;
  private final FileSurvey file;
  private final List<Certificate> certificates;

  BundleFindings(Survey survey, FileSurvey file) {
    this.survey = survey;
    this.file = file;
    List<Certificate> all = new ArrayList<>();
    for (Holding holding : file.holdings()) {
      if (holding instanceof Holding.Cert cert) {
        all.add(cert.certificate());
      }
    }
    this.certificates = all;
  }

  void addTo(List<Finding> findings) {
    boolean store = file.format().isStore();
    if (store || certificates.size() < 2 || certificates.size() > LARGEST) {
      return;
    }
    ownCertificate().ifPresent(findings::add);
    order().ifPresent(findings::add);
  }

  private Optional<Finding> ownCertificate() {
    boolean authorities = certificates.stream().anyMatch(Certificate::isAuthority);
    for (Certificate certificate : certificates) {
      boolean elsewhere =
          survey.certificates().getOrDefault(certificate, List.of()).stream()
              .anyMatch(place -> !place.place().file().equals(file.path()));
      if (authorities && !certificate.isAuthority() && elsewhere) {
        return Optional.of(
            Finding.of(
                FindingKind.END_ENTITY_IN_BUNDLE,
                VisibleText.of(file.path().toString()),
                "Among the authorities' certificates in this bundle is once more the certificate of "
                    + certificate.subject().shortText()
                    + " itself. It does not belong into a truststore.",
                Remedy.of(
                    "Make a truststore of it: that leaves it out.",
                    Action.of(Task.TRUSTSTORE, file.path()))));
      }
    }
    return Optional.empty();
  }

  private Optional<Finding> order() {
    List<Certificate> distinct = List.copyOf(new LinkedHashSet<>(certificates));
    for (Certificate certificate : distinct) {
      if (certificate.isAuthority()) {
        continue;
      }
      Chain chain = survey.chainOf(certificate);
      List<Integer> positions = new ArrayList<>();
      for (Certificate link : chain.certificates()) {
        int position = distinct.indexOf(link);
        if (position >= 0) {
          positions.add(position);
        }
      }
      List<Integer> sorted = positions.stream().sorted().toList();
      if (!positions.equals(sorted)) {
        return Optional.of(
            Finding.of(
                FindingKind.CHAIN_ORDER,
                Level.NOTE,
                VisibleText.of(file.path().toString()),
                "The certificates do not stand in the order of the chain, the end-entity first. A"
                    + " server that is given this file as it is sends them in the wrong order.",
                Remedy.of(
                    "Join them with their key: that puts them in order.", Action.of(Task.JOIN))));
      }
    }
    return Optional.empty();
  }
}
