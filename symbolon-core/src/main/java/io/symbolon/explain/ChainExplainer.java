// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.chain.BrokenSignature;
import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.PathJudge;
import io.symbolon.chain.Purpose;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Oids;
import io.symbolon.finding.About;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.oid.Oid;
import io.symbolon.party.Party;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.KeyUsage;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Says what is wrong with the certificates that one side of a handshake shows, as the other side,
 * which trusts somebody, has to see it. The one place for it: the rehearsal and the probe ask here.
 */
public final class ChainExplainer {
  private final Side shownBy;
  private final Instant now;
  private final String where;
  private final Map<Certificate, String> places;
  private final List<Path> files;
  private final List<Path> trustFiles;

  /**
   * An explainer.
   *
   * @param shownBy whose certificates they are
   * @param now the moment they are judged at
   * @param where what to name in the findings
   */
  public ChainExplainer(Side shownBy, Instant now, String where) {
    this(shownBy, now, where, List.of(), List.of(), Map.of());
  }

  private ChainExplainer(
      Side shownBy,
      Instant now,
      String where,
      List<Path> files,
      List<Path> trustFiles,
      Map<Certificate, String> places) {
    this.places = places;
    this.shownBy = shownBy;
    this.now = now;
    this.where = where;
    this.files = files;
    this.trustFiles = trustFiles;
  }

  /**
   * {@return one for what {@code shown} shows and {@code judge} judges; remedies name their files}
   *
   * @param shownBy whose certificates they are
   * @param now the moment that counts as now
   * @param shown the certificates that are shown, end-entity first
   * @param judge the side that judges
   */
  public static ChainExplainer of(Side shownBy, Instant now, Party shown, Party judge) {
    return new ChainExplainer(
        shownBy, now, shown.where(), shown.files(), judge.trustFiles(), shown.places());
  }

  /**
   * {@return all that is wrong: with each certificate, with the use, the host, the order and the
   * trust}
   *
   * @param shown the certificates that are shown, end-entity first
   * @param trust whom to trust
   */
  public List<Finding> all(
      List<Certificate> shown, Optional<HostName> host, Optional<List<Certificate>> trust) {
    List<Finding> findings = new ArrayList<>(certificates(shown));
    Certificate end = shown.get(0);
    host.filter(name -> shownBy == Side.SERVER)
        .flatMap(name -> CertificateJudge.host(end, name, where))
        .ifPresent(findings::add);
    use(end).ifPresent(findings::add);
    findings.addAll(order(shown));
    findings.addAll(path(shown, trust.orElse(List.of())));
    trust.ifPresent(trusted -> findings.addAll(reasons(shown, trusted)));
    return findings.stream().map(one -> speaking(one, shown)).toList();
  }

  private Finding speaking(Finding finding, List<Certificate> shown) {
    return finding.about(it -> it.or(About.nothing().with(shown)).of(shownBy));
  }

  /**
   * {@return what is wrong with each certificate alone}
   *
   * @param shown the certificates that are shown, end-entity first
   */
  public List<Finding> certificates(List<Certificate> shown) {
    CertificateJudge judge = new CertificateJudge(now);
    List<Finding> findings = new ArrayList<>();
    for (Certificate certificate : shown) {
      judge.judge(certificate, places.getOrDefault(certificate, where)).stream()
          .filter(finding -> certificate.equals(shown.get(0)) || !isAboutHosts(finding))
          .forEach(findings::add);
    }
    return findings;
  }

  /** A certificate above the first one names no host, whether it is an authority's or should be. */
  private static boolean isAboutHosts(Finding finding) {
    return finding.is(FindingKind.NO_ALTERNATIVE_NAMES);
  }

  /**
   * {@return whether the end-entity certificate is for this side at all}
   *
   * @param end the end-entity certificate
   */
  public Optional<Finding> use(Certificate end) {
    Optional<List<Oid>> purposes = end.extensions().extendedKeyUsage();
    Oid wanted = shownBy == Side.SERVER ? Oids.SERVER_AUTH : Oids.CLIENT_AUTH;
    boolean allowed =
        purposes.map(all -> all.contains(wanted) || all.contains(Oids.ANY_USAGE)).orElse(true);
    if (!allowed) {
      String usages =
          purposes.get().stream().map(Oids::nameOrDotted).collect(Collectors.joining(", "));
      return Optional.of(
          Finding.of(
              shownBy == Side.SERVER ? FindingKind.NOT_FOR_SERVERS : FindingKind.NOT_FOR_CLIENTS,
              where,
              "The certificate of "
                  + end.subject().shortText()
                  + " is not for TLS "
                  + (shownBy == Side.SERVER ? "servers" : "clients")
                  + "; it is for: "
                  + usages
                  + ".",
              "Ask for a certificate for a " + (shownBy == Side.SERVER ? "server." : "client.")));
    }
    boolean signs =
        end.extensions()
            .keyUsage()
            .map(usages -> usages.contains(KeyUsage.DIGITAL_SIGNATURE))
            .orElse(true);
    return signs
        ? Optional.empty()
        : Optional.of(
            Finding.of(
                FindingKind.KEY_USAGE_FORBIDS,
                where,
                "The key usage of "
                    + end.subject().shortText()
                    + " does not allow digital signatures, which every handshake of today needs.",
                "Ask for a certificate whose key usage has digital signature."));
  }

  /**
   * {@return whether each certificate is signed by the one shown after it (RFC 8446, 4.4.2)}
   *
   * @param shown the certificates that are shown, end-entity first
   */
  public List<Finding> order(List<Certificate> shown) {
    List<Certificate> chain =
        new ChainFinder(shown, now, SystemRoots.none()).from(shown.get(0)).certificates();
    List<Certificate> superfluous = new ArrayList<>(shown);
    chain.forEach(superfluous::remove); // one of each: what is sent twice is left over
    List<Finding> findings = new ArrayList<>();
    if (!superfluous.isEmpty()) {
      findings.add(superfluous(superfluous, chain));
    }
    List<Certificate> needed = shown.stream().filter(chain::contains).distinct().toList();
    if (!needed.equals(chain)) {
      int at = 0;
      while (needed.get(at).equals(chain.get(at))) {
        at++;
      }
      findings.add(
          Finding.of(
              FindingKind.CHAIN_ORDER,
              Level.WARNING,
              where,
              sentence(shownBy.title())
                  + " sends its certificates in the wrong order: "
                  + needed.get(at).subject().shortText()
                  + " did not sign "
                  + needed.get(at - 1).subject().shortText()
                  + ".",
              Remedy.of(
                  "Put the chain in order, and configure " + shownBy.title() + " with the result.",
                  join())));
    }
    return findings.isEmpty() ? rootSent(shown) : findings;
  }

  private Finding superfluous(List<Certificate> superfluous, List<Certificate> chain) {
    String names =
        superfluous.stream()
            .limit(4)
            .map(one -> one.subject().shortText() + (chain.contains(one) ? " (a second time)" : ""))
            .collect(Collectors.joining(", "));
    return Finding.of(
        FindingKind.CHAIN_SUPERFLUOUS,
        where,
        sentence(shownBy.title())
            + " sends "
            + superfluous.size()
            + (superfluous.size() == 1 ? " certificate" : " certificates")
            + " that are no part of its chain: "
            + names
            + (superfluous.size() > 4 ? " and " + (superfluous.size() - 4) + " more" : "")
            + ". Some clients refuse a chain with strangers in it.",
        Remedy.of(
            "Join the chain anew, and configure " + shownBy.title() + " with the result.", join()));
  }

  private List<Finding> rootSent(List<Certificate> shown) {
    Certificate last = shown.get(shown.size() - 1);
    if (shown.size() > 1 && last.isSelfSigned()) {
      return List.of(
          Finding.of(
              FindingKind.ROOT_SENT,
              where,
              sentence(shownBy.title())
                  + " sends the root "
                  + last.subject().shortText()
                  + " as well, which "
                  + shownBy.other().title().replace("the ", "")
                  + "s ignore.",
              ""));
    }
    return List.of();
  }

  /**
   * {@return what is wrong with the path that leads from the certificates to the trust, or upwards}
   *
   * @param shown the certificates that are shown, end-entity first
   * @param trusted whom to trust
   */
  public List<Finding> path(List<Certificate> shown, Collection<Certificate> trusted) {
    List<Certificate> all = new ArrayList<>(shown);
    all.addAll(trusted);
    Chain chain = new ChainFinder(all, now, SystemRoots.none()).from(shown.get(0));
    List<Finding> findings =
        new ArrayList<>(
            new PathJudge(List.of(shownBy == Side.SERVER ? Purpose.SERVER : Purpose.CLIENT), where)
                .judge(chain.certificates()));
    CertificateJudge judge = new CertificateJudge(now);
    for (Certificate link : chain.certificates()) {
      if (!shown.contains(link)) {
        judge.judge(link, where).stream()
            .filter(finding -> !isAboutHosts(finding))
            .forEach(findings::add);
      }
    }
    withoutRoot(chain, trusted).ifPresent(findings::add);
    // Both say it of the end-entity; that of the side is the more precise one.
    findings.removeIf(finding -> finding.is(FindingKind.KEY_USAGE_FORBIDS));
    if (chain.uncheckedLinks() > 0) {
      findings.add(
          Finding.of(
              FindingKind.SIGNATURE_NOT_CHECKED,
              where,
              chain.uncheckedLinks()
                  + " of the signatures in the chain that "
                  + shownBy.title()
                  + " shows could not be checked: this Java lacks the algorithm, or the key that"
                  + " should have made it proves nothing.",
              "Have the certificates issued again with keys and signatures that are known."));
    }
    return findings;
  }

  /** Trust that holds an intermediate of the chain and no root above it. */
  private Optional<Finding> withoutRoot(Chain chain, Collection<Certificate> trusted) {
    Optional<Certificate> anchor =
        chain.certificates().stream().filter(trusted::contains).findFirst();
    return anchor
        .filter(one -> !chain.endsInRoot() || !trusted.contains(chain.last()))
        .map(
            one ->
                Finding.of(
                    FindingKind.TRUST_WITHOUT_ROOT,
                    where,
                    "The trust holds "
                        + one.subject().shortText()
                        + " and not the root above it. Java takes that; clients such as Python, and"
                        + " servers such as nginx, want the root and refuse everybody.",
                    "Put the root "
                        + (chain.endsInRoot() ? chain.last().subject() : chain.last().issuer())
                        + " into the trust as well."));
  }

  /**
   * {@return why no acceptable way leads from the certificates to somebody who is trusted}
   *
   * @param shown the certificates that are shown, end-entity first
   * @param trusted whom to trust
   */
  public List<Finding> reasons(List<Certificate> shown, Collection<Certificate> trusted) {
    Certificate end = shown.get(0);
    List<Certificate> all = new ArrayList<>(shown);
    all.addAll(trusted);
    Chain withTrust = new ChainFinder(all, now, SystemRoots.none()).from(end);
    if (withTrust.certificates().stream().anyMatch(trusted::contains)) {
      return List.of();
    }
    // A root that was sent signed itself: another of its name is a namesake.
    Optional<Finding> broken =
        withTrust.endsInRoot()
            ? Optional.empty()
            : BrokenSignature.of(withTrust.last(), all, true, where);
    if (broken.isPresent()) {
      return List.of(broken.get());
    }
    String trustNames =
        trusted.stream()
            .limit(4)
            .map(c -> c.subject().shortText())
            .collect(Collectors.joining(", "));
    Chain asShown = new ChainFinder(shown, now, SystemRoots.none()).from(end);
    boolean namesake =
        trusted.stream().anyMatch(one -> one.subject().equals(asShown.last().issuer()));
    boolean alone = end.isSelfSigned() && !end.isAuthority();
    return List.of(
        !alone && (asShown.endsInRoot() || asShown.last().isAuthority() || namesake)
            ? rootNotTrusted(asShown, trusted, trustNames)
            : issuerNotSent(end, asShown, trustNames));
  }

  private Finding rootNotTrusted(
      Chain asShown, Collection<Certificate> trusted, String trustNames) {
    var root = asShown.endsInRoot() ? asShown.last().subject() : asShown.last().issuer();
    boolean namesake = trusted.stream().anyMatch(one -> one.subject().equals(root));
    return Finding.of(
        FindingKind.ROOT_NOT_TRUSTED,
        where,
        "The chain leads to "
            + root
            + ", which is not in the trust given ("
            + trustNames
            + ")."
            + (namesake
                ? " One of that name is, but with another key: it did not sign this chain."
                : ""),
        Remedy.of(
            "If you trust it, get its certificate from the authority, and add it to the trust of "
                + shownBy.other().title()
                + ".",
            trusting()));
  }

  private Finding issuerNotSent(Certificate end, Chain asShown, String trustNames) {
    if (end.isSelfSigned()) {
      return Finding.of(
          FindingKind.SELF_SIGNED_NOT_TRUSTED,
          where,
          sentence(shownBy.title())
              + " shows the self-signed certificate of "
              + end.subject().shortText()
              + ", which is not itself in the trust given ("
              + trustNames
              + ").",
          Remedy.of(
              "Trust it itself, or have a certificate issued by an authority that is trusted.",
              trusting().with(Input.THEMSELVES)));
    }
    return Finding.of(
        FindingKind.ISSUER_NOT_SENT,
        where,
        sentence(shownBy.title())
            + " sends the certificate of "
            + end.subject().shortText()
            + " without the one that issued it: "
            + asShown.last().issuer()
            + "; from it no way leads to the trust given ("
            + trustNames
            + ").",
        Remedy.of(
            "Join the key, the certificate and that intermediate, and configure "
                + shownBy.title()
                + " with the result. If it is a root that you trust, add it to the trust of "
                + shownBy.other().title()
                + ".",
            join(),
            trusting()));
  }

  /** The files of the side that shows the chain, joined anew. */
  private Action join() {
    return Action.of(Task.JOIN, files).with(Input.INTO);
  }

  /** A certificate of an authority added to what the other side trusts. */
  private Action trusting() {
    Action action = Action.of(Task.TRUSTSTORE).with(Input.ADD);
    return trustFiles.size() == 1
        ? action.with(Input.INTO, trustFiles.get(0).toString())
        : action.with(Input.INTO);
  }

  /**
   * {@return the beginning of a sentence}
   *
   * @param title a noun with its article, such as {@code the server}
   */
  public static String sentence(String title) {
    return Character.toUpperCase(title.charAt(0)) + title.substring(1);
  }
}
