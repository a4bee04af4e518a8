// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.finding.About;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.oid.Oid;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.BasicConstraints;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.KeyUsage;
import io.symbolon.x509.NameConstraints;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The one judge of a path of certificates: for a survey, a join, a rehearsal and a probe alike. It
 * holds what RFC 5280, 6.1 asks, and what the strictest of the common clients ask beyond it. Where
 * Java does not look at something, the sentence says so: Java's own verdict stands beside these,
 * and a client of another kind refuses all the same.
 *
 * <p>Of each certificate alone (validity, strength, what can't be read) {@link CertificateJudge}
 * speaks. Signatures are {@link ChainFinder}'s.
 */
public final class PathJudge {
  /** The extensions that clients understand when they are critical. */
  private static final Set<Oid> UNDERSTOOD =
      Set.of(
          Oids.BASIC_CONSTRAINTS,
          Oids.KEY_USAGE,
          Oids.EXT_KEY_USAGE,
          Oids.SUBJECT_ALT_NAME,
          Oids.NAME_CONSTRAINTS,
          Oids.CERTIFICATE_POLICIES,
          Oids.POLICY_MAPPINGS,
          Oids.POLICY_CONSTRAINTS,
          Oids.INHIBIT_ANY_POLICY,
          Oids.NETSCAPE_TYPE);

  private static final Set<KeyUsage> OF_HANDSHAKES =
      Set.of(KeyUsage.DIGITAL_SIGNATURE, KeyUsage.KEY_ENCIPHERMENT, KeyUsage.KEY_AGREEMENT);
  private static final Set<KeyUsage> OF_HANDSHAKES_BY_SIGNING = Set.of(KeyUsage.DIGITAL_SIGNATURE);

  private final List<Purpose> purposes;
  private final String where;

  /**
   * A judge.
   *
   * @param purposes what the path has to be good for; where there is none, what depends on it is
   *     left out
   * @param where the place to name in the findings
   */
  public PathJudge(List<Purpose> purposes, String where) {
    this.purposes = List.copyOf(purposes);
    this.where = where;
  }

  /**
   * {@return a judge for all that the end-entity certificate says it is for}
   *
   * @param endEntity the end-entity certificate
   * @param where the place to name, such as a file; may be empty
   */
  public static PathJudge of(Certificate endEntity, String where) {
    return new PathJudge(endEntity.isAuthority() ? List.of() : Purpose.of(endEntity), where);
  }

  /**
   * {@return what is wrong with a path}
   *
   * @param path end-entity first, each signed by the next
   */
  public List<Finding> judge(List<Certificate> path) {
    List<Finding> findings = new ArrayList<>();
    endEntity(path.get(0)).ifPresent(findings::add);
    anyUse(path.get(0)).ifPresent(findings::add);
    emptySubject(path.get(0)).ifPresent(findings::add);
    for (int i = 0; i < path.size(); i++) {
      alone(path.get(i), findings);
      if (i > 0) {
        issuer(path, i, findings);
      }
    }
    constraints(path, findings);
    policies(path, findings);
    return findings.stream()
        .map(one -> one.about(it -> it.or(About.nothing().with(path))))
        .toList();
  }

  /** An end-entity certificate whose key may be used for no handshake. */
  private Optional<Finding> endEntity(Certificate end) {
    boolean none =
        !purposes.isEmpty()
            && end.extensions()
                .keyUsage()
                .map(usages -> usages.stream().noneMatch(ofHandshakes(end)::contains))
                .orElse(false);
    return none
        ? Optional.of(
            Finding.of(
                FindingKind.KEY_USAGE_FORBIDS,
                where,
                "The key usage of "
                    + name(end)
                    + " allows no handshake: neither digital signature nor an exchange of keys.",
                "Ask for a certificate whose key usage has digital signature."))
        : Optional.empty();
  }

  /** Only a key that can decipher has a handshake in which it signs nothing. */
  private static Set<KeyUsage> ofHandshakes(Certificate end) {
    return end.publicKey().algorithm().oid().equals(Oids.RSA)
        ? OF_HANDSHAKES
        : OF_HANDSHAKES_BY_SIGNING;
  }

  /** An end-entity certificate for "any use" alone, which not every client takes for its own. */
  private Optional<Finding> anyUse(Certificate end) {
    boolean any =
        purposes.stream().anyMatch(purpose -> purpose.isAllowedBy(end))
            && purposes.stream().noneMatch(purpose -> purpose.isNamedBy(end));
    return any
        ? Optional.of(
            Finding.of(
                FindingKind.ANY_USE_ALONE,
                where,
                "The extended key usage of "
                    + name(end)
                    + " says any use, and does not name "
                    + purposes.stream().map(Purpose::title).collect(Collectors.joining(" and "))
                    + ". Java takes that; clients such as Python refuse it.",
                "Ask for a certificate that names its use."))
        : Optional.empty();
  }

  /** RFC 5280, 4.2.1.6: where there is no subject, the alternative names have to be critical. */
  private Optional<Finding> emptySubject(Certificate end) {
    boolean wrong =
        end.subject().isEmpty()
            && end.extensions()
                .find(Oids.SUBJECT_ALT_NAME)
                .map(names -> !names.critical())
                .orElse(true);
    return wrong
        ? Optional.of(
            Finding.of(
                FindingKind.NAMES_NOT_CRITICAL,
                where,
                "The certificate has no subject, and its alternative names are not marked critical:"
                    + " Java refuses it, some other clients don't.",
                "Have it issued again with a subject, or with the names marked critical."))
        : Optional.empty();
  }

  /** What any certificate of a path must not have, the root's included. */
  private void alone(Certificate certificate, List<Finding> findings) {
    for (Extension extension : certificate.extensions().all()) {
      if (extension.critical() && !UNDERSTOOD.contains(extension.oid())) {
        findings.add(
            Finding.of(
                FindingKind.UNKNOWN_CRITICAL_EXTENSION,
                where,
                "The certificate of "
                    + name(certificate)
                    + " has the critical extension "
                    + Oids.nameOrDotted(extension.oid())
                    + ": whoever does not know it, as Java, has to refuse the certificate.",
                "Have it issued again without that extension, or with one that is not critical."));
      }
    }
    if (certificate.version() < 3 && !certificate.extensions().isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.EXTENSIONS_IN_OLD_VERSION,
              where,
              "The certificate of "
                  + name(certificate)
                  + " is of version "
                  + certificate.version()
                  + " and has extensions, which only version 3 may have: some clients refuse it,"
                  + " others pass over what the extensions forbid.",
              "Have it issued again as version 3."));
    }
  }

  /** Whether an issuer was allowed to issue (RFC 5280, 6.1.4 (k) to (n)). */
  private void issuer(List<Certificate> path, int at, List<Finding> findings) {
    Certificate issuer = path.get(at);
    Certificate below = path.get(at - 1);
    if (!issuer.isAuthority()) {
      findings.add(
          Finding.of(
              FindingKind.ISSUER_IS_NO_AUTHORITY,
              where,
              name(issuer)
                  + " signed the certificate of "
                  + name(below)
                  + " but is not an authority: its basic constraints do not say so.",
              "Ask the authority for a certificate issued by one of its own authorities."));
    }
    boolean maySign =
        issuer
            .extensions()
            .keyUsage()
            .map(usages -> usages.contains(KeyUsage.CERTIFICATE_SIGNING))
            .orElse(true);
    if (!maySign) {
      findings.add(
          Finding.of(
              FindingKind.ISSUER_MAY_NOT_SIGN,
              where,
              name(issuer)
                  + " signed the certificate of "
                  + name(below)
                  + ", but its key usage does not allow it to sign certificates.",
              "Ask the authority for a certificate from an authority that may sign."));
    }
    pathLength(path, at, findings);
    purpose(issuer, findings);
    identifiers(below, issuer, findings);
  }

  private void pathLength(List<Certificate> path, int at, List<Finding> findings) {
    OptionalInt allowed =
        path.get(at)
            .extensions()
            .basicConstraints()
            .map(BasicConstraints::pathLength)
            .orElse(OptionalInt.empty());
    int below = 0; // intermediates; those that an authority issued to itself do not count
    for (int i = 1; i < at; i++) {
      below += path.get(i).isSelfIssued() ? 0 : 1;
    }
    if (allowed.isPresent() && below > allowed.getAsInt()) {
      findings.add(
          Finding.of(
              FindingKind.PATH_TOO_LONG,
              where,
              name(path.get(at))
                  + " allows "
                  + allowed.getAsInt()
                  + " intermediates below it; there are "
                  + below
                  + ".",
              "Ask the authority for a certificate from a higher intermediate."));
    }
  }

  private void purpose(Certificate issuer, List<Finding> findings) {
    List<Purpose> refused =
        purposes.stream().filter(purpose -> !purpose.isNamedBy(issuer)).toList();
    if (refused.isEmpty()) {
      return;
    }
    findings.add(
        Finding.of(
            FindingKind.ISSUER_NOT_FOR_USE,
            where,
            "The extended key usage of the authority "
                + name(issuer)
                + " does not allow certificates for "
                + refused.stream().map(Purpose::title).collect(Collectors.joining(" and "))
                + " below it"
                + (refused.get(0).isAllowedBy(issuer) ? " by name, but any use" : "")
                + ". Java does not mind; clients such as Python, and servers such"
                + " as nginx, refuse the chain.",
            "Ask for a certificate from an authority that is for this use."));
  }

  /** Authority key identifiers that point to another issuer (RFC 5280, 4.2.1.1). */
  private void identifiers(Certificate below, Certificate issuer, List<Finding> findings) {
    Optional<byte[]> wanted = below.extensions().authorityKeyIdentifier();
    Optional<byte[]> offered = issuer.extensions().subjectKeyIdentifier();
    boolean otherKey =
        wanted.isPresent() && offered.isPresent() && !Arrays.equals(wanted.get(), offered.get());
    boolean otherCertificate =
        below
            .extensions()
            .authorityCertificate()
            .filter(
                named ->
                    !named.serial().equals(issuer.serial())
                        || !named.issuer().equals(issuer.issuer()))
            .isPresent();
    if (otherKey || otherCertificate) {
      findings.add(
          Finding.of(
              FindingKind.ISSUER_IDENTIFIER_DIFFERS,
              where,
              "The certificate of "
                  + name(below)
                  + " says that its issuer has another "
                  + (otherKey ? "key identifier" : "serial number or issuer")
                  + " than "
                  + name(issuer)
                  + ", whose key signed it. Clients such as Python look for another issuer and find"
                  + " none; Java does so for some chains.",
              "Ask the authority for its certificate with that identifier, or for a new"
                  + " certificate."));
    }
  }

  /** Names that an authority of the path may not sign for (RFC 5280, 4.2.1.10 and 6.1.4 (g)). */
  private void constraints(List<Certificate> path, List<Finding> findings) {
    for (int i = 1; i < path.size(); i++) {
      Certificate issuer = path.get(i);
      Optional<NameConstraints> constraints = issuer.extensions().nameConstraints();
      if (constraints.isEmpty() || constraints.get().isEmpty()) {
        continue;
      }
      boolean root = i == path.size() - 1 && issuer.isSelfSigned();
      for (int below = 0; below < i; below++) {
        Certificate certificate = path.get(below);
        if (below > 0 && certificate.isSelfIssued()) {
          continue; // RFC 5280, 6.1.3 (b): but for the last certificate
        }
        for (GeneralName one : ConstrainedNames.of(certificate, below == 0)) {
          constraints
              .get()
              .refusal(one, name(issuer))
              .ifPresent(why -> findings.add(notPermitted(one, why, root)));
        }
      }
    }
  }

  private Finding notPermitted(GeneralName one, String why, boolean root) {
    return Finding.of(
        FindingKind.NAME_NOT_PERMITTED,
        where,
        VisibleText.of(one.toString())
            + " "
            + why
            + "."
            + (root
                ? " That stands in the root's own certificate, where Java does not look; clients"
                    + " such as Python, and servers such as nginx, do."
                : ""),
        "Ask for a certificate without that name, or from another authority.");
  }

  private void policies(List<Certificate> path, List<Finding> findings) {
    if (path.size() < 2) {
      return;
    }
    PolicyCheck.firstRefused(path)
        .ifPresent(
            certificate ->
                findings.add(
                    Finding.of(
                        FindingKind.POLICY_NOT_VALID,
                        where,
                        "An authority of the chain requires a certificate policy, and down to "
                            + name(certificate)
                            + " none is left that all certificates name. Java refuses the chain;"
                            + " many other clients do not look at policies.",
                        "Ask the authority for a certificate under one of its policies.")));
  }

  private static String name(Certificate certificate) {
    return certificate.subject().shortText();
  }
}
