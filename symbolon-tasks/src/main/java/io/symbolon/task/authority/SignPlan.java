// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.format.Ability;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.record.Signed;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyForm;
import io.symbolon.task.TaskRun;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What would be signed.
 *
 * @param job what was asked for
 * @param order what the certificate says
 * @param authority who signs it
 * @param unusual what should be signed only after a yes
 * @param findings what is to be said
 */
public record SignPlan(
    SignJob job,
    CertificateRequest request,
    SigningOrder order,
    SigningAuthority authority,
    Optional<Finding> unusual,
    List<Finding> findings) {
  /** {@return the certificate of who signs it} */
  public Certificate signer() {
    return authority.authority().certificate();
  }

  /** {@return the problem that keeps it from being signed} */
  public Optional<Finding> refusal() {
    return findings.stream()
        .filter(one -> one.level() == Level.PROBLEM)
        .filter(one -> !one.is(FindingKind.REGISTER_CHANGED)) // told, and no fault of the request
        .findFirst();
  }

  /**
   * Signs and writes. The certificate is recorded when its file is ready, and gets its name then.
   *
   * @param run what it is done in
   * @return what was signed
   * @throws SymbolonException if it can't be written
   */
  public SignReport sign(TaskRun run) {
    Signed<Certificate> signed = authority.signUnrecorded(order, request.publicKey());
    WrittenResult result = write(run, signed);
    List<Finding> all = new ArrayList<>(findings);
    all.addAll(result.findings());
    all.addAll(run.notices());
    return new SignReport(signed.value(), authority.folder(), result, all);
  }

  private WrittenResult write(TaskRun run, Signed<Certificate> signed) {
    Destination destination = job.destination();
    List<Certificate> chain = new ArrayList<>(authority.authority().chainOf(signed.value()));
    if (job.withoutRoot()) {
      chain.removeIf(Certificate::isSelfSigned);
    }
    List<Certificate> written =
        destination.target().can(Ability.CHAINS) ? chain : List.of(signed.value());
    List<StoreEntry.Plain> entries =
        written.stream()
            .map(one -> new StoreEntry.Plain(Optional.empty(), one, Optional.empty()))
            .toList();
    try {
      return WrittenResult.write(
          run,
          destination,
          Conversion.of(
              Bundle.of(entries), destination.target(), KeyForm.PKCS8, destination.shown()),
          job.result().existing(),
          OutputProtection.none(),
          List.of(),
          signed::record);
    } catch (SymbolonException e) {
      throw NotHandedOut.reply(signed, authority.folder(), e);
    }
  }
}
