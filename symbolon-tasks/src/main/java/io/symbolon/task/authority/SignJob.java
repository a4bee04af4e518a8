// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.ReceivedRequest;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.remedy.Input;
import io.symbolon.survey.RequestStatus;
import io.symbolon.survey.Survey;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Signs a request, and writes the certificate with its chain.
 *
 * @param request the file with the request
 * @param by the folder of the authority
 * @param use what the certificate is for, where the request is not followed
 * @param hosts the hosts that it covers, where the request is not followed
 * @param lasts how long it is valid
 * @param destination where the certificate and its chain go
 * @param withoutRoot whether the root is left out
 * @param unlock the sources of passwords to try on the authority's key
 * @param result how the files are written
 * @param published where the authority publishes its list
 */
public record SignJob(
    Path request,
    Path by,
    Optional<Use> use,
    List<HostName> hosts,
    Lifetime lasts,
    Destination destination,
    boolean withoutRoot,
    List<PasswordSource> unlock,
    ResultOptions result,
    Published published) {
  /**
   * Reads the request and judges it. Nothing is signed.
   *
   * @param run what it is done in
   * @return what would be signed, with what keeps it from being signed
   * @throws SymbolonException if there is no such request, or the key of the authority is locked
   */
  public SignPlan plan(TaskRun run) {
    if (destination.folder() || destination.target().isStore()) {
      throw new WrongJob(
          destination.shown() + " is not a file for a certificate.",
          "A reply has no private key: write PEM, DER or PKCS#7, such as "
              + Input.INTO.mention("reply.pem")
              + ".");
    }
    AuthorityFolder folder = run.authority(by);
    destination.check(result.existing());
    CertificateRequest asked = asked(run);
    ReceivedRequest received = ReceivedRequest.of(asked, use, hosts, Wording.shown(request));
    SigningOrder order = new SigningOrder(received.draft(), lasts);
    SigningAuthority authority = OpenedAuthority.of(run, folder, unlock).publishing(published);
    Instant now = run.around().clock().instant();
    List<Finding> findings = new ArrayList<>(received.findings());
    findings.addAll(authority.authority().judge(order, now, Wording.shown(request)));
    findings.addAll(authority.findings());
    return new SignPlan(this, asked, order, authority, received.unusual(), findings);
  }

  private CertificateRequest asked(TaskRun run) {
    Survey survey = run.survey(List.of(request), List.of());
    List<RequestStatus> requests = survey.requests();
    if (requests.size() == 1) {
      return requests.get(0).request().request();
    }
    throw survey.failures().stream()
        .findFirst()
        .orElseGet(
            () ->
                new SymbolonException(
                    requests.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
                    "Nothing was signed.",
                    Wording.shown(request)
                        + " holds "
                        + (requests.isEmpty() ? "no request." : requests.size() + " requests."),
                    "Name a file with one certificate signing request."));
  }
}
