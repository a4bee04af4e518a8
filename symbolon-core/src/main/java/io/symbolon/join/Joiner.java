// SPDX-License-Identifier: Apache-2.0
package io.symbolon.join;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.chain.Credential;
import io.symbolon.chain.PathJudge;
import io.symbolon.chain.Purpose;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.key.Fit;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.survey.CertificateVerdict;
import io.symbolon.survey.Holding;
import io.symbolon.survey.KeyChooser;
import io.symbolon.survey.Match;
import io.symbolon.survey.ReplyComparison;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.Placeholder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Makes one credential out of a survey. Nothing is written; no state is kept. */
public final class Joiner {
  private static final int LISTED = 10; // choices named in a message

  private Joiner() {}

  /**
   * Joins the one private key among the files with its certificate and chain.
   *
   * @param survey the surveyed files
   * @param options what is asked for
   * @return the joined
   * @throws SymbolonException if there is no key or more than one, no certificate that belongs to
   *     it, or no complete chain; the message names the choices or what is missing
   */
  public static Joined join(Survey survey, JoinOptions options) {
    Match match = chosen(survey, options.alias());
    if (match.certificates().isEmpty() || match.isWaiting()) {
      throw withoutCertificate(survey, match);
    }
    Chain chain = match.chain().orElseThrow();
    if (chain.uncheckedLinks() > 0 && options.unchecked() == JoinOptions.Unchecked.REFUSED) {
      throw unchecked(chain);
    }
    boolean refused = options.incomplete() == JoinOptions.Incomplete.REFUSED;
    if (!chain.reachesRoot() && refused && !isAsItWas(survey, match, chain)) {
      throw incomplete(survey, chain);
    }
    List<Certificate> written =
        options.root() == JoinOptions.Root.INCLUDED ? withRoot(chain) : chain.withoutRoot();
    Credential credential = Credential.of(match.key().key().orElseThrow(), written);
    List<Finding> findings = findings(survey, match, chain, credential);
    String alias =
        options
            .alias()
            .or(() -> match.key().alias())
            .orElseGet(() -> Aliases.readable(chain.endEntity()));
    return new Joined(
        alias,
        credential,
        chain,
        match.keys().stream().map(Holding.PrivateKey::place).toList(),
        findings);
  }

  private static List<Certificate> withRoot(Chain chain) {
    if (chain.systemRoot().isEmpty()) {
      return chain.certificates();
    }
    List<Certificate> all = new ArrayList<>(chain.certificates());
    all.add(chain.systemRoot().get());
    return all;
  }

  /**
   * Whether the key lies in a keystore with all of its chain but for the root: then nothing is
   * written that was not there, and a server has been served by it.
   */
  private static boolean isAsItWas(Survey survey, Match match, Chain chain) {
    return chain.last().isAuthority()
        && match.keys().stream()
            .map(key -> key.place().file())
            .anyMatch(file -> isStoreWith(survey, file, chain));
  }

  private static boolean isStoreWith(Survey survey, Path file, Chain chain) {
    boolean store =
        survey.files().stream().anyMatch(one -> one.path().equals(file) && one.format().isStore());
    return store
        && chain.certificates().stream()
            .allMatch(
                certificate ->
                    survey.certificates().getOrDefault(certificate, List.of()).stream()
                        .anyMatch(cert -> cert.place().file().equals(file)));
  }

  private static Match chosen(Survey survey, Optional<String> alias) {
    Optional<Match> chosen = KeyChooser.choose(survey, alias);
    if (chosen.isPresent()) {
      return chosen.get();
    }
    throwFailureOf(survey);
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "There is nothing to join.",
        "No private key is among the files; they hold "
            + survey.certificates().size()
            + (survey.certificates().size() == 1 ? " certificate." : " certificates."),
        "Add the file of the private key. The authority does not have it: it was made where the"
            + " certificate was requested.");
  }

  /** What could not be read may be what is missing: then that is the thing to say. */
  private static void throwFailureOf(Survey survey) {
    if (!survey.failures().isEmpty()) {
      throw survey.failures().get(0);
    }
  }

  private static SymbolonException withoutCertificate(Survey survey, Match match) {
    throwFailureOf(survey);
    List<Certificate> others = survey.repliesForOtherKeys(match);
    if (!others.isEmpty()) {
      Certificate other = others.get(0);
      return new SymbolonException(
          Reason.DOES_NOT_FIT,
          "No certificate belongs to the private key " + match.description() + ".",
          "The reply is for another key: the certificate of "
              + other.subject().shortText()
              + " with the serial number "
              + other.serialHex()
              + " answers another request than that of the key that waits.",
          "Ask the authority for the reply to this request, or join the certificate with the key that"
              + " it is for.");
    }
    List<Certificate> ends =
        survey.certificates().keySet().stream()
            .filter(c -> !c.isAuthority() && !Placeholder.is(c))
            .toList();
    String seen =
        ends.isEmpty()
            ? "The files hold no end-entity certificate."
            : "The certificate of "
                + ends.stream()
                    .limit(LISTED)
                    .map(c -> c.subject().shortText())
                    .collect(Collectors.joining(", "))
                + " belongs to another key.";
    return new SymbolonException(
        Reason.DOES_NOT_FIT,
        "No certificate belongs to the private key " + match.description() + ".",
        seen,
        match.isWaiting()
            ? "It waits for its reply: add the reply of the authority to the files."
            : "Look for the certificate that was issued for this key, or for the key this certificate"
                + " was requested with.");
  }

  private static SymbolonException incomplete(Survey survey, Chain chain) {
    throwFailureOf(survey);
    Optional<Finding> broken = CertificateVerdict.brokenSignature(survey, chain);
    if (broken.isPresent()) {
      return new SymbolonException(
          Reason.DOES_NOT_FIT,
          "A signature in the chain of " + chain.endEntity().subject().shortText() + " is wrong.",
          broken.get().statement(),
          broken.get().remedy());
    }
    return new SymbolonException(
        Reason.INCOMPLETE,
        "The chain of " + chain.endEntity().subject().shortText() + " is incomplete.",
        "It ends at "
            + chain.last().subject().shortText()
            + "; its issuer is not among the files: "
            + chain.last().issuer()
            + "."
            + namesake(survey, chain.last()),
        chain.last().isAuthority()
            ? Remedy.of(
                "Add the certificate of that issuer. If it is the root and only not at hand, go on"
                    + " without it: the root would be left out anyway.",
                Action.again(Input.INCOMPLETE_CHAIN))
            : Remedy.of(
                "Add the certificate of that issuer. If it is left out on purpose, go on without it;"
                    + " some clients will then refuse the server.",
                Action.again(Input.INCOMPLETE_CHAIN)));
  }

  private static SymbolonException unchecked(Chain chain) {
    return new SymbolonException(
        Reason.INCOMPLETE,
        "The chain of " + chain.endEntity().subject().shortText() + " is not proven.",
        chain.uncheckedLinks()
            + (chain.uncheckedLinks() == 1 ? " signature" : " signatures")
            + " in it could not be checked: this Java lacks the algorithm, or the key that should"
            + " have made it proves nothing.",
        Remedy.of(
            "Check that the certificates are the authority's own, or use a newer Java. If you are sure,"
                + " accept them unchecked.",
            Action.again(Input.UNCHECKED_CHAIN)));
  }

  private static String namesake(Survey survey, Certificate last) {
    return survey.authoritiesNamed(last.issuer()).isEmpty()
        ? ""
        : " An authority of that name is here, but its key did not sign.";
  }

  private static List<Finding> findings(
      Survey survey, Match match, Chain chain, Credential credential) {
    CertificateJudge judge = survey.judge();
    List<Finding> findings = new ArrayList<>();
    String where = match.key().place().toString();
    for (Certificate certificate : chain.certificates()) {
      findings.addAll(judge.judge(certificate, placeOf(survey, certificate)));
      findings.addAll(CertificateVerdict.revocation(survey, certificate));
    }
    List<Certificate> path = new ArrayList<>(chain.certificates());
    chain.systemRoot().ifPresent(path::add);
    findings.addAll(new PathJudge(Purpose.of(chain.endEntity()), where).judge(path));
    CertificateVerdict.brokenSignature(survey, chain).ifPresent(findings::add);
    if (chain.uncheckedLinks() > 0) {
      findings.add(
          Finding.of(
              FindingKind.SIGNATURE_NOT_CHECKED,
              where,
              chain.uncheckedLinks()
                  + " of the signatures in the chain could not be checked. It was joined all the"
                  + " same, as you asked.",
              "Have the chain checked by a program that knows the algorithm before you rely on it."));
    }
    if (credential.fit() == Fit.NOT_CHECKED) {
      findings.add(CertificateJudge.fitNotChecked(credential.certificate(), where));
    }
    if (!chain.reachesRoot() && isAsItWas(survey, match, chain)) {
      findings.add(
          Finding.of(
              FindingKind.ROOT_NOT_AT_HAND,
              where,
              "The root was not among the files: "
                  + chain.last().issuer()
                  + ". The chain is written as it lies in the keystore; whether it ends at that root"
                  + " was not checked.",
              "Its clients have the root in their truststores. Name its file as well to have it checked."));
    } else if (!chain.reachesRoot()) {
      findings.add(
          Finding.of(
              FindingKind.INCOMPLETE_CHAIN,
              where,
              "The chain ends at "
                  + chain.last().subject().shortText()
                  + ", whose issuer was not among the files: "
                  + chain.last().issuer()
                  + ".",
              "Clients that do not know that issuer refuse the server."));
    }
    if (match.issued().size() > 1) {
      findings.add(
          Finding.of(
              FindingKind.SEVERAL_CERTIFICATES,
              where,
              match.issued().size()
                  + " certificates belong to this key; the one valid until "
                  + match.certificates().get(0).notAfter()
                  + " was taken.",
              "Name fewer files to take another."));
    }
    findings.addAll(ReplyComparison.compare(survey, match));
    survey.failures().forEach(failure -> findings.add(Finding.of(failure, Level.WARNING)));
    return findings;
  }

  private static String placeOf(Survey survey, Certificate certificate) {
    return survey.certificates().getOrDefault(certificate, List.of()).stream()
        .findFirst()
        .map(p -> p.place().toString())
        .orElse("");
  }
}
