// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.chain.Chain;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.FindingTopic;
import io.symbolon.finding.Level;
import io.symbolon.finding.Side;
import io.symbolon.party.Party;
import io.symbolon.party.PartyFiles;
import io.symbolon.rehearse.OtherServer;
import io.symbolon.rehearse.Rehearsal;
import io.symbolon.rehearse.RehearsalReport;
import io.symbolon.rehearse.ServerKind;
import io.symbolon.remedy.Input;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Judges a place with the files that it names, as the server of its kind would use them. */
final class PlaceJudge {
  /** What survey says of files that is of no use here: everything here has been named. */
  private static final Set<FindingTopic> HEEDED =
      EnumSet.of(
          FindingTopic.FILES,
          FindingTopic.PROTECTION,
          FindingTopic.CERTIFICATES,
          FindingTopic.CHAINS,
          FindingTopic.FAILURES);

  private static final Set<FindingKind> ROOTS =
      EnumSet.of(FindingKind.ROOT_ABSENT, FindingKind.ROOT_NOT_AT_HAND);

  private final Optional<ServerKind> kind;
  private final FileView files;
  private final ReadableFiles accounts;
  private final Surveyor surveyor;
  private final Instant now;
  private final Optional<HostName> wanted; // the name that clients ask for, where it is told
  private final List<Certificate> roots; // that clients have, as far as that is told
  private final boolean handshakes; // what is only read is judged without: it is faster

  PlaceJudge(
      Optional<ServerKind> kind,
      FileView files,
      ReadableFiles accounts,
      Surveyor surveyor,
      Instant now,
      Optional<HostName> wanted,
      List<Certificate> roots,
      boolean handshakes) {
    this.roots = List.copyOf(roots);
    this.handshakes = handshakes;
    this.kind = kind;
    this.wanted = wanted;
    this.files = files;
    this.accounts = accounts;
    this.surveyor = surveyor;
    this.now = now;
  }

  PlaceReport judge(TlsPlace place) {
    if (place.files().isEmpty()) {
      return new PlaceReport(place, List.of(), List.of(), List.of(), List.of());
    }
    PlaceFiles read = new PlaceFiles(files, surveyor, place, roots);
    Set<Finding> findings = new LinkedHashSet<>(read.findings());
    List<Party> shown = new ArrayList<>();
    try {
      shown.addAll(PartyFiles.credentials(read.server()));
    } catch (SymbolonException e) {
      findings.add(Finding.of(e, Level.PROBLEM));
    }
    List<Certificate> trust = List.of();
    if (place.mode().asksClients() && read.isTrustRead()) {
      List<Finding> aboutTrust = new ArrayList<>();
      trust = PartyFiles.trust(read.trust(), aboutTrust);
      findings.addAll(aboutTrust);
      findings.addAll(trust(place, trust, read.lists()));
    }
    credentials(place, read, shown, findings);
    names(place, shown, findings);
    boolean rooted = true; // whether a root that is known is above each of them
    for (Party party : shown) {
      Chain whole = read.server().chainOf(party.chain().get(0));
      rooted &= whole.reachesRoot();
      handshake(place, party, List.of(whole.systemRoot().orElse(whole.last())), findings);
    }
    boolean chained = rooted || shown.stream().allMatch(party -> party.chain().size() > 1);
    read.server().findings().stream()
        .filter(finding -> HEEDED.contains(finding.kind().topic()))
        .filter(finding -> !finding.is(FindingKind.HOST_NOT_CHECKED) || wanted.isEmpty())
        // A server shows its chain without the root, which its clients have.
        .filter(finding -> !(chained && ROOTS.contains(finding.kind())))
        .forEach(findings::add);
    accounts(place, findings);
    return new PlaceReport(place, shown, trust, read.lists(), List.copyOf(findings));
  }

  private static void credentials(
      TlsPlace place, PlaceFiles read, List<Party> shown, Set<Finding> findings) {
    List<UsedFile> keys = new ArrayList<>(place.files(FileRole.KEY));
    keys.addAll(place.files(FileRole.KEYSTORE));
    boolean known = read.server().failures().isEmpty() && read.findings().isEmpty();
    boolean locked = read.server().files().stream().anyMatch(file -> file.locked());
    long keyFiles = keys.stream().map(UsedFile::path).distinct().count();
    if (keys.isEmpty() || !known || locked || shown.size() >= keyFiles) {
      return;
    }
    UsedFile key = keys.get(0);
    List<String> others =
        place.files(FileRole.CERTIFICATE).stream()
            .map(file -> VisibleText.of(file.path().toString()))
            .distinct()
            .toList();
    findings.add(
        Finding.of(
            FindingKind.DOES_NOT_FIT,
            Level.PROBLEM,
            key.origin().toString(),
            others.isEmpty()
                ? VisibleText.of(key.path().toString())
                    + " holds no private key with its certificate."
                : "The private key in "
                    + VisibleText.of(key.path().toString())
                    + " does not belong to the certificate in "
                    + String.join(", ", others)
                    + ".",
            io.symbolon.remedy.Remedy.of("Find the key that does: symbolon survey FOLDER.")));
  }

  /** Each certificate is held against each name of the place; the first one is rehearsed. */
  private void names(TlsPlace place, List<Party> shown, Set<Finding> findings) {
    Optional<String> first = host(place).map(HostName::typed);
    for (Party party : shown) {
      Certificate certificate = party.credential().orElseThrow().certificate();
      List<String> missing =
          place.hosts().stream()
              .filter(host -> !first.equals(Optional.of(host)) || wanted.isPresent())
              .filter(host -> isName(host) && !covers(certificate, host))
              .toList();
      if (!missing.isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.HOST_NOT_COVERED,
                Level.WARNING,
                place.origin().toString(),
                VisibleText.of(place.name())
                    + " answers for "
                    + VisibleText.of(String.join(", ", missing))
                    + ", and its certificate ("
                    + certificate.publicKey().algorithm()
                    + ") is not for "
                    + (missing.size() > 1 ? "these names" : "this name")
                    + ": clients that ask so refuse it.",
                "Get a certificate with these names, or take them out of the settings."));
      }
    }
  }

  private static boolean isName(String text) {
    try {
      return !HostName.parse(text).isWildcard();
    } catch (SymbolonException e) {
      return false; // a pattern of the server's own
    }
  }

  private static boolean covers(Certificate certificate, String host) {
    return HostName.parse(host).isCoveredBy(certificate.alternativeNames());
  }

  /** What a client that trusts the top of the chain says, and what this kind of server says. */
  private void handshake(
      TlsPlace place, Party party, List<Certificate> anchors, Set<Finding> findings) {
    Party client = Party.nobody("client").withTrust(anchors);
    Rehearsal rehearsal = rehearsal(place);
    RehearsalReport report =
        handshakes ? rehearsal.run(party, client) : rehearsal.judge(party, client);
    findings.addAll(problems(report, place, anchors));
  }

  /** What speaks against a pair: in this Java, and on this kind of server. */
  private List<Finding> problems(
      RehearsalReport report, TlsPlace place, List<Certificate> anchors) {
    boolean rooted = anchors.stream().anyMatch(Certificate::isSelfSigned);
    List<Finding> problems = new ArrayList<>();
    report.findings().stream()
        .filter(finding -> finding.level() == Level.PROBLEM)
        // Where the root is not at hand, the top of the chain stands for it.
        .filter(finding -> rooted || !finding.is(FindingKind.TRUST_WITHOUT_ROOT))
        .forEach(problems::add);
    problems.addAll(ofKind(report, place));
    return problems;
  }

  /** A rehearsal with the name that the place is for. */
  Rehearsal rehearsal(TlsPlace place) {
    Rehearsal rehearsal = Rehearsal.create().at(now);
    Optional<HostName> host = wanted.or(() -> host(place));
    return host.isPresent() ? rehearsal.withHost(host.get()) : rehearsal;
  }

  /** The first name of a place that is one, and no pattern. */
  static Optional<HostName> host(TlsPlace place) {
    for (String text : place.hosts()) {
      try {
        HostName host = HostName.parse(text);
        if (!host.isWildcard()) {
          return Optional.of(host);
        }
      } catch (SymbolonException e) {
        // a pattern of the server's own
      }
    }
    return Optional.empty();
  }

  /** What this kind of server does with files with which Java does something else. */
  List<Finding> ofKind(RehearsalReport report, TlsPlace place) {
    List<Finding> findings = new ArrayList<>();
    for (OtherServer other : report.others()) {
      boolean meant = kind.equals(Optional.of(other.kind()));
      // Where a setting helps, whether it is set is judged by itself.
      if (meant && !other.accepts() && other.setting().isEmpty()) {
        findings.add(
            Finding.of(
                FindingKind.SERVER_REFUSES,
                place.origin().toString(),
                other.kind().title() + ": " + other.why().orElse("it refuses these files") + ".",
                "Make the files anew: symbolon configure with "
                    + Input.CREDENTIAL.mention("FILE")
                    + "."));
      }
    }
    return findings;
  }

  private boolean isJava() {
    return kind.filter(ServerKind::isJava).isPresent();
  }

  private List<Finding> trust(TlsPlace place, List<Certificate> trust, List<RevocationList> lists) {
    List<Finding> findings = new ArrayList<>();
    UsedFile file = place.files(FileRole.TRUST).get(0);
    String where = file.origin().toString();
    String shownPath = VisibleText.of(file.path().toString());
    if (trust.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.VERIFY_WITHOUT_TRUST,
              where,
              "There is no authority in " + shownPath + ": every client is refused.",
              "Put the root of the clients into it."));
      return findings;
    }
    if (!isJava() && trust.stream().noneMatch(Certificate::isSelfSigned)) {
      findings.add(
          Finding.of(
              FindingKind.TRUST_WITHOUT_ROOT,
              where,
              shownPath + " holds no root: this server refuses every client.",
              "Add the root of the clients' authority to it."));
    }
    int intermediates = (int) trust.stream().filter(one -> !one.isSelfSigned()).count();
    if (place.depth().isPresent() && place.depth().get() < intermediates) {
      findings.add(
          Finding.of(
              FindingKind.DEPTH_TOO_SMALL,
              where,
              shownPath
                  + " holds "
                  + intermediates
                  + " intermediates, and the settings allow "
                  + place.depth().get()
                  + " above a client.",
              "Allow more, if they stand one above the other."));
    }
    findings.addAll(lists(place, trust, lists));
    return findings;
  }

  /** With any list, an authority without a current one refuses all of its clients. */
  private List<Finding> lists(TlsPlace place, List<Certificate> trust, List<RevocationList> lists) {
    List<Finding> findings = new ArrayList<>();
    if (lists.isEmpty()) {
      return findings;
    }
    UsedFile file = place.files(FileRole.LISTS).get(0);
    for (Certificate authority : trust) {
      Optional<RevocationList> own =
          lists.stream().filter(list -> list.issuer().equals(authority.subject())).findFirst();
      boolean current =
          own.flatMap(RevocationList::nextUpdate).map(next -> next.isAfter(now)).orElse(true);
      if (own.isEmpty() || !current) {
        String who = VisibleText.of(authority.subject().toString());
        findings.add(
            Finding.of(
                FindingKind.SERVER_REFUSES,
                file.origin().toString(),
                own.isEmpty()
                    ? "There is no revocation list of "
                        + who
                        + ": with lists of others, every client of it is refused."
                    : "The revocation list of "
                        + who
                        + " ended on "
                        + own.get().nextUpdate().orElseThrow()
                        + ": every client of it is refused.",
                "Put its current list into "
                    + VisibleText.of(file.path().toString())
                    + ", or take the setting away."));
      }
    }
    return findings;
  }

  /** New files that would belong to somebody whom the server's account can't read them from. */
  List<Finding> newFiles(TlsPlace place, List<FileChange> changes) {
    List<Finding> findings = new ArrayList<>();
    for (FileChange change : changes) {
      boolean read =
          place.files().stream()
              .anyMatch(file -> !file.byRoot() && file.path().equals(change.path()));
      if (read && place.account().isPresent()) {
        accounts
            .whyNotReached(place.account().get(), change.path())
            .ifPresent(
                why ->
                    findings.add(
                        Finding.of(
                            FindingKind.ACCOUNT_CANNOT_READ,
                            VisibleText.of(change.path().toString()),
                            "The account "
                                + VisibleText.of(place.account().get())
                                + " could not read it: "
                                + why
                                + ".",
                            "Choose a folder that it may enter: "
                                + Input.PLACE.mention("FOLDER")
                                + ".")));
      }
      if (read && change.owner().isPresent() && place.account().isPresent()) {
        Owner owner = change.owner().get();
        if (!accounts.mayRead(place.account().get(), owner)) {
          findings.add(
              Finding.of(
                  FindingKind.ACCOUNT_CANNOT_READ,
                  VisibleText.of(change.path().toString()),
                  "The account "
                      + VisibleText.of(place.account().get())
                      + " could not read it: it would be "
                      + VisibleText.of(owner.user())
                      + "'s.",
                  "Give it to that account, or let its group read it: "
                      + Input.OWNER.mention("USER:GROUP")
                      + "."));
        }
      }
    }
    return findings;
  }

  private void accounts(TlsPlace place, Set<Finding> findings) {
    if (!accounts.areKnown() && !place.files().isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.RIGHTS_NOT_CHECKED,
              place.origin().toString(),
              "Whether the account of the service can read the files was not checked: here rights"
                  + " are access lists.",
              "Let the account of the service read the folder of the files."));
    }
    if (place.account().isEmpty()) {
      return;
    }
    Set<Path> done = new LinkedHashSet<>();
    for (UsedFile file : place.files()) {
      if (!file.byRoot() && done.add(file.path())) {
        accounts.whyNotReadable(place.account().get(), file.path()).stream()
            .map(
                why ->
                    Finding.of(
                        FindingKind.ACCOUNT_CANNOT_READ,
                        file.origin().toString(),
                        "The account "
                            + VisibleText.of(place.account().get())
                            + " can't read "
                            + VisibleText.of(file.path().toString())
                            + ": "
                            + why
                            + ".",
                        "Let it read the file: symbolon configure with "
                            + Input.OWNER.mention("USER:GROUP")
                            + "."))
            .forEach(findings::add);
      }
    }
  }

  /** Clients of the files that were given, against what a place shows and trusts. */
  List<RehearsedClient> clients(PlaceReport report, List<Party> clients) {
    List<RehearsedClient> reports = new ArrayList<>();
    for (Party shown : report.shown()) {
      for (Party client : clients) {
        boolean asks = report.place().mode().asksClients();
        Party server = asks ? shown.withTrust(report.trust()) : shown;
        Rehearsal rehearsal =
            rehearsal(report.place()).withRevocationLists(Side.SERVER, report.lists());
        if (report.place().mode() == Mode.OPTIONAL) {
          rehearsal = rehearsal.withOptionalClients();
        }
        RehearsalReport done = rehearsal.run(server, client);
        List<Finding> problems = problems(done, report.place(), client.trust().orElse(List.of()));
        boolean accepted = problems.isEmpty() && done.verdict() != RehearsalReport.Verdict.REFUSED;
        reports.add(new RehearsedClient(client.name(), accepted, problems));
      }
    }
    return reports;
  }
}
