// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.RequestFlags;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What an authority takes from a request: the subject, the names that its use allows, and nothing
 * else. Never the right to sign others.
 *
 * @param draft what would be signed
 * @param findings what was left out or changed, and what keeps it from being signed
 */
public record ReceivedRequest(RequestDraft draft, List<Finding> findings) {
  /** What every certificate gets anyway, by its use. */
  private static final Set<Oid> DECIDED_HERE =
      Set.of(
          Oids.SUBJECT_ALT_NAME,
          Oids.KEY_USAGE,
          Oids.EXT_KEY_USAGE,
          Oids.BASIC_CONSTRAINTS,
          Oids.SUBJECT_KEY_ID);

  /** Copies the findings. */
  public ReceivedRequest {
    findings = List.copyOf(findings);
  }

  /**
   * Takes a request in.
   *
   * @param use what it is signed for; what it asks for where none is said
   * @param hosts the hosts it is signed for; those it asks for where there are none
   * @param where what to name in the findings
   * @return the received request
   * @throws SymbolonException if the request is not signed by its own key, or that can't be told
   */
  public static ReceivedRequest of(
      CertificateRequest request, Optional<Use> use, List<HostName> hosts, String where) {
    checkSignature(request, where);
    List<Finding> findings = new ArrayList<>();
    RequestDraft asked = RequestDraft.of(request);
    Use chosen = use.orElse(asked.use());
    if (RequestFlags.asksForAuthority(request)) {
      findings.add(
          Finding.of(
              FindingKind.AUTHORITY_FLAG_NOT_GRANTED,
              where,
              "The request asks for an authority's certificate; an end-entity certificate is"
                  + " signed.",
              Remedy.of(
                  "Ask who made it why. An intermediate is founded, not signed.",
                  Action.of(Task.FOUND_AUTHORITY).with(Input.ABOVE))));
    }
    for (Extension extension : request.extensions().all()) {
      if (!DECIDED_HERE.contains(extension.oid())) {
        findings.add(
            Finding.of(
                FindingKind.EXTENSION_NOT_COPIED,
                where,
                "The request asks for the extension "
                    + Oids.nameOrDotted(extension.oid())
                    + ", which is not copied.",
                ""));
      }
    }
    if (use.isPresent() && use.get() != asked.use() && Use.of(request.extensions()).isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.USE_OVERRIDDEN,
              where,
              "The request asks for "
                  + asked.use().title()
                  + "; it is signed for "
                  + use.get().title()
                  + ".",
              ""));
    }
    List<GeneralName> names = new ArrayList<>();
    if (!hosts.isEmpty()) {
      hosts.forEach(host -> names.add(GeneralName.ofHost(host.toString())));
    }
    for (GeneralName name : asked.names()) {
      if (!allowed(name, chosen)) {
        findings.add(
            Finding.of(
                FindingKind.NAME_NOT_COPIED,
                where,
                "The name "
                    + VisibleText.of(name.toString())
                    + " is not copied: certificates for "
                    + chosen.title()
                    + " have none of its kind here.",
                ""));
      } else if (hosts.isEmpty() || !name.isHost()) {
        names.add(name);
      }
    }
    findings.addAll(RequestedKey.judge(request, where));
    return new ReceivedRequest(RequestDraft.of(request.subject(), names, chosen), findings);
  }

  private static boolean allowed(GeneralName name, Use use) {
    return switch (name.kind()) {
      case DNS -> isHost(name);
      case IP, URI -> true;
      case EMAIL -> use.isForClients();
      case DIRECTORY, REGISTERED_ID, OTHER -> false;
    };
  }

  private static boolean isHost(GeneralName name) {
    try {
      return HostName.parse(name.value()).toString().equalsIgnoreCase(name.value());
    } catch (SymbolonException e) {
      return false;
    }
  }

  private static void checkSignature(CertificateRequest request, String where) {
    switch (request.verify()) {
      case VALID -> {
        return;
      }
      case INVALID ->
          throw new SymbolonException(
              Reason.DOES_NOT_FIT,
              "The request in " + where + " was not signed.",
              "Its own signature does not verify: it was changed or damaged, or whoever sent it does"
                  + " not have the key.",
              "Have it made and sent again.");
      case NOT_CHECKED ->
          throw new SymbolonException(
              Reason.UNSUPPORTED,
              "The request in " + where + " was not signed.",
              "Whether it was made by its own key can't be told: this Java lacks "
                  + request.signatureAlgorithm().name()
                  + " or its key.",
              "Use a newer Java, or have it made with another key.");
    }
  }

  /** {@return what is unusual about the request, so that somebody has to say yes to it} */
  public Optional<Finding> unusual() {
    return findings.stream()
        .filter(finding -> finding.level() == io.symbolon.finding.Level.WARNING)
        .filter(finding -> RequestedKey.UNUSUAL.contains(finding.kind()))
        .findFirst();
  }
}
