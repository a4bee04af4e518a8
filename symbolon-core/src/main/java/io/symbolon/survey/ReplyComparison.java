// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.Chain;
import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.oid.Oid;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Compares what came back from an authority with what it was asked for, and with what was before.
 */
public final class ReplyComparison {
  /** An authority counts from its own start and to its own end: so much is not worth a word. */
  private static final Duration TOLERANCE = Duration.ofDays(3);

  private ReplyComparison() {}

  /**
   * {@return what differs in the certificate of a key, for each thing asked for with the key}
   *
   * @param survey the files
   * @param match the key; its best certificate is what came back
   */
  public static List<Finding> compare(Survey survey, Match match) {
    Optional<Certificate> reply =
        match.certificates().stream().filter(one -> !one.isSelfSigned()).findFirst();
    List<Finding> findings = new ArrayList<>();
    if (reply.isPresent()) {
      List<RequestedContent> asked = RequestedContent.of(match, survey);
      asked.forEach(one -> compare(one, reply.get(), findings));
      if (!asked.isEmpty()) {
        compareWithEarlier(survey, reply.get(), findings);
      }
    }
    return findings.stream().distinct().toList();
  }

  static List<Finding> compare(Survey survey, Holding.Request request, Certificate reply) {
    List<Finding> findings = new ArrayList<>();
    compare(RequestedContent.of(request), reply, findings);
    compareWithEarlier(survey, reply, findings);
    return findings;
  }

  private static void compare(RequestedContent asked, Certificate reply, List<Finding> findings) {
    String where = asked.place().toString();
    String of = "The certificate of " + reply.subject().shortText();
    if (!asked.subject().equals(reply.subject())) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_SUBJECT_CHANGED,
              where,
              of
                  + " has another subject than was asked for: "
                  + asked.subject()
                  + " has become "
                  + reply.subject()
                  + ".",
              "Ask the authority if that was meant; who looks at the subject has to know."));
    }
    List<GeneralName> wanted = asked.extensions().subjectAlternativeNames();
    List<GeneralName> got = reply.extensions().subjectAlternativeNames();
    List<String> dropped =
        wanted.stream().filter(name -> !has(got, name)).map(ReplyComparison::shown).toList();
    if (!dropped.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_NAMES_DROPPED,
              where,
              of + " lacks names that were asked for: " + SurveyFindings.listed(dropped) + ".",
              "Have it issued again with them, or use it only where they are not needed."));
    }
    List<String> added =
        got.stream().filter(name -> !has(wanted, name)).map(ReplyComparison::shown).toList();
    if (!added.isEmpty() && !wanted.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_NAMES_ADDED,
              where,
              of + " has names that were not asked for: " + SurveyFindings.listed(added) + ".",
              ""));
    }
    use(asked, reply, of, where, findings);
    if (reply.isAuthority()) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_IS_AN_AUTHORITY,
              where,
              of + " may sign others: it is an authority's.",
              "Have it issued again as an end-entity certificate."));
    }
    Duration lasts = Duration.between(reply.notBefore(), reply.notAfter());
    if (asked.lasts().filter(d -> lasts.plus(TOLERANCE).compareTo(d) < 0).isPresent()) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_SHORTER_VALIDITY,
              where,
              of
                  + " is valid for "
                  + lasts.toDays()
                  + " days; "
                  + asked.lasts().get().toDays()
                  + " were asked for.",
              "Note that it has to be renewed earlier."));
    }
  }

  private static boolean has(List<GeneralName> names, GeneralName wanted) {
    return names.stream()
        .anyMatch(
            name ->
                name.kind() == wanted.kind()
                    && (name.value().equals(wanted.value())
                        || (name.isHost()
                            && name.value()
                                .toLowerCase(Locale.ROOT)
                                .equals(wanted.value().toLowerCase(Locale.ROOT)))));
  }

  private static String shown(GeneralName name) {
    return VisibleText.of(name.toString());
  }

  private static void use(
      RequestedContent asked, Certificate reply, String of, String where, List<Finding> findings) {
    Optional<List<Oid>> got = reply.extensions().extendedKeyUsage();
    if (got.isEmpty() || got.get().contains(Oids.ANY_USAGE)) {
      return; // without the extension every use is allowed
    }
    List<String> missing =
        asked.extensions().extendedKeyUsage().orElse(List.of()).stream()
            .filter(use -> !got.get().contains(use))
            .map(Oids::nameOrDotted)
            .toList();
    if (!missing.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_USE_MISSING,
              where,
              of + " is not for what was asked for: " + String.join(", ", missing) + ".",
              "Have it issued again for that; peers refuse it otherwise."));
    }
  }

  /** The certificate that was in use before, where it is here too. */
  private static void compareWithEarlier(Survey survey, Certificate reply, List<Finding> findings) {
    Optional<Certificate> earlier =
        survey.index().ofSubject(reply.subject()).stream()
            .filter(one -> !one.isAuthority() && !one.equals(reply))
            .filter(one -> one.notBefore().isBefore(reply.notBefore()))
            .max(Comparator.comparing(Certificate::notBefore));
    if (earlier.isEmpty()) {
      return;
    }
    String where = survey.placeOf(reply).map(Place::toString).orElse("");
    Duration before = Duration.between(earlier.get().notBefore(), earlier.get().notAfter());
    Duration now = Duration.between(reply.notBefore(), reply.notAfter());
    if (now.plus(TOLERANCE).compareTo(before) < 0) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_SHORTER_VALIDITY,
              where,
              "The new certificate of "
                  + reply.subject().shortText()
                  + " is valid for "
                  + now.toDays()
                  + " days; the one before was for "
                  + before.toDays()
                  + ".",
              "Note that it has to be renewed earlier."));
    }
    Chain newChain = survey.chainOf(reply);
    Chain oldChain = survey.chainOf(earlier.get());
    if (newChain.isComplete()
        && oldChain.isComplete()
        && !newChain.last().keyId().equals(oldChain.last().keyId())) {
      findings.add(
          Finding.of(
              FindingKind.REPLY_LEADS_ELSEWHERE,
              where,
              "The new certificate of "
                  + reply.subject().shortText()
                  + " leads to "
                  + newChain.last().subject()
                  + ", the one before to "
                  + oldChain.last().subject()
                  + ".",
              "Add the new root to the truststores of its peers before it is used."));
    }
  }
}
