// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.configure;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.join.Joined;
import io.symbolon.join.Joiner;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.remedy.Input;
import io.symbolon.server.wish.ClientRole;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/** What is wanted of a server, made of the files that were named. */
final class WishedFiles {
  private final TaskRun run;
  private final NamedFiles job;
  private final List<Finding> findings = new ArrayList<>();
  private final Survey trusted;
  private final Survey survey;
  private final List<Credential> credentials;

  /**
   * Reads them.
   *
   * @param roots that are known besides, such as those of an account that obtained a certificate
   */
  WishedFiles(TaskRun run, NamedFiles job, Collection<Certificate> roots) {
    this.run = run;
    this.job = job;
    this.trusted = survey(job.clientTrust());
    List<Certificate> others = new ArrayList<>(trusted.certificates().keySet());
    others.addAll(roots);
    this.survey = whole(run, job.credential(), job.unlock(), others);
    this.credentials = credentials();
  }

  /** What is to be said of the files that were named. */
  List<Finding> findings() {
    return List.copyOf(findings);
  }

  /** What else is wanted, with what is to be shown and trusted. */
  Wish wish(Wish said) {
    Wish whole =
        said.withCredentials(credentials).withRoles(job.roles().stream().map(this::role).toList());
    return job.clientTrust().isEmpty() ? whole : whole.withTrust(trust());
  }

  /** The one certificate of a file that is no authority's. */
  private ClientRole role(NamedFiles.RoleFile one) {
    List<Certificate> holders =
        survey(List.of(one.file())).files().stream()
            .flatMap(file -> file.holdings().stream())
            .filter(Holding.Cert.class::isInstance)
            .map(holding -> ((Holding.Cert) holding).certificate())
            .filter(certificate -> !certificate.isAuthority())
            .distinct()
            .toList();
    if (holders.size() == 1) {
      return new ClientRole(one.role(), holders.get(0));
    }
    throw new SymbolonException(
        holders.isEmpty() ? Reason.NOT_FOUND : Reason.AMBIGUOUS,
        "It is not clear who is to log in as " + Wording.shown(one.role()) + ".",
        holders.isEmpty()
            ? "No client's certificate is in " + Wording.shown(List.of(one.file())) + "."
            : holders.size()
                + " certificates of clients are in "
                + Wording.shown(List.of(one.file()))
                + ".",
        "Name a file with the certificate of one client: " + Input.ROLE.mention("ROLE=FILE"));
  }

  private Survey survey(List<Path> files) {
    return whole(run, files, job.unlock());
  }

  /** Files that were named for a purpose: each of them must be read. */
  static Survey whole(TaskRun run, List<Path> files, List<PasswordSource> unlock) {
    return whole(run.surveyor(run.unlock(unlock)), files);
  }

  /** The same, with the roots among other certificates at hand. */
  static Survey whole(
      TaskRun run, List<Path> files, List<PasswordSource> unlock, Collection<Certificate> others) {
    return whole(run.surveyor(run.unlock(unlock)).withKnownRoots(others), files);
  }

  private static Survey whole(Surveyor surveyor, List<Path> files) {
    Survey read = surveyor.survey(files);
    if (!read.failures().isEmpty()) {
      throw read.failures().get(0);
    }
    return read;
  }

  /** One credential, or one for each type of key. */
  private List<Credential> credentials() {
    List<Match> matches =
        survey.matches().stream().filter(match -> !match.certificates().isEmpty()).toList();
    long types =
        matches.stream()
            .map(m -> m.certificates().get(0).publicKey().algorithm())
            .distinct()
            .count();
    if (matches.size() < 2) {
      Joined joined = Joiner.join(survey, job.chains());
      findings.addAll(joined.findings());
      return List.of(joined.credential().withoutRoot());
    }
    if (types < matches.size()) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "It is not clear what the server is to show.",
          "The files hold "
              + matches.size()
              + " private keys with their certificates: "
              + String.join(", ", matches.stream().map(m -> Wording.shown(m.name())).toList())
              + ".",
          "Name the files of one, or of one for each type of key (RSA and EC).");
    }
    List<Credential> all = new ArrayList<>();
    for (Match match : matches) {
      Certificate end = match.certificates().get(0);
      all.add(Credential.of(match.key().key().orElseThrow(), survey.chainOf(end).withoutRoot()));
    }
    return all;
  }

  private ClientTrust trust() {
    List<Certificate> authorities =
        PartyFiles.trust(trusted, findings).stream().filter(Certificate::isAuthority).toList();
    if (authorities.isEmpty()) {
      throw new SymbolonException(
          Reason.NOT_FOUND,
          "There is no authority to trust clients by.",
          "No authority's certificate is in " + Wording.shown(job.clientTrust()) + ".",
          "Name the certificate of the authority that issues the clients' certificates.");
    }
    return new ClientTrust(withRoots(trusted, authorities), PartyFiles.lists(trusted));
  }

  /** The roots of the intermediates, where they are at hand in the files of the server. */
  private List<Certificate> withRoots(Survey read, List<Certificate> authorities) {
    List<Certificate> all = new ArrayList<>(authorities);
    if (authorities.stream().noneMatch(Certificate::isSelfSigned)) {
      for (Certificate one : authorities) {
        for (Certificate above : read.chainOf(one).certificates()) {
          if (!all.contains(above)) {
            all.add(above);
          }
        }
      }
    }
    return all;
  }

  /** The clients that are rehearsed: those of the files, and one without a certificate. */
  List<Party> clients() {
    List<Certificate> anchors =
        credentials.stream()
            .map(one -> survey.chainOf(one.certificate()).last())
            .distinct()
            .toList();
    List<Party> clients = new ArrayList<>();
    if (!job.clients().isEmpty()) {
      List<Party> found = PartyFiles.credentials(survey(job.clients()));
      if (found.isEmpty()) {
        throw new SymbolonException(
            Reason.NOT_FOUND,
            "There is no client to rehearse with.",
            "The files of " + Input.CLIENT.mention() + " hold no private key with its certificate.",
            "Name the client's keystore, or leave " + Input.CLIENT.mention() + " out.");
      }
      found.forEach(one -> clients.add(one.withTrust(anchors)));
    }
    clients.add(Party.nobody("a client without a certificate").withTrust(anchors));
    return clients;
  }
}
