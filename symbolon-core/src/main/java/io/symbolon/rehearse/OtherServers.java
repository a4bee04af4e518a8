// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.chain.Chain;
import io.symbolon.chain.ChainFinder;
import io.symbolon.chain.SystemRoots;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.party.Party;
import io.symbolon.rehearse.ServerRule.Behaviour;
import io.symbolon.rehearse.ServerRule.Circumstance;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Who else would accept, of the servers that do not judge as Java does: from what is so with the
 * files of a pair, and from rules that say what each kind of server does then.
 */
final class OtherServers {
  private OtherServers() {}

  /** What Java refuses a pair for, where servers are known that do not. */
  private static final Set<FindingKind> REFUSED_BY_JAVA =
      Set.of(FindingKind.NOT_FOR_CLIENTS, FindingKind.ISSUER_NOT_SENT);

  /**
   * The same for a pair that Java refuses: nothing, unless it is for reasons alone in which servers
   * differ.
   */
  static List<OtherServer> ofRefused(
      Party server, Party client, Collection<Finding> findings, Instant now) {
    Set<Circumstance> circumstances = circumstances(server, client, findings, now);
    boolean known =
        findings.stream()
            .filter(finding -> finding.level() == Level.PROBLEM)
            .allMatch(finding -> REFUSED_BY_JAVA.contains(finding.kind()));
    boolean ofServers =
        circumstances.contains(Circumstance.CLIENT_WRONG_USE)
            || circumstances.contains(Circumstance.CHAIN_INCOMPLETE);
    return known && ofServers ? of(server, client, findings, now) : List.of();
  }

  /**
   * What each kind of server would do that is known to do anything.
   *
   * @param findings what is to be said of the pair
   */
  static List<OtherServer> of(
      Party server, Party client, Collection<Finding> findings, Instant now) {
    Set<Circumstance> circumstances = circumstances(server, client, findings, now);
    int depth = intermediates(server, client, now) + 1;
    Map<ServerKind, OtherServer> known = new TreeMap<>();
    Map<ServerKind, Behaviour> worst = new TreeMap<>();
    for (ServerRule rule : ServerRules.SHIPPED.rules()) {
      for (ServerKind kind : rule.servers()) {
        if (!circumstances.contains(rule.circumstance())) {
          known.putIfAbsent(kind, accepting(kind));
        } else if (!worst.containsKey(kind) || worst.get(kind).compareTo(rule.behaviour()) < 0) {
          worst.put(kind, rule.behaviour());
          known.put(kind, told(kind, rule, depth));
        }
      }
    }
    // Of a server that was not tried with something that is so, nothing is said.
    for (Circumstance circumstance : circumstances) {
      Set<ServerKind> tried = tried(circumstance);
      if (!circumstance.passesWithOthers()) {
        known.keySet().removeIf(kind -> !tried.contains(kind));
      }
    }
    return List.copyOf(known.values());
  }

  private static Set<ServerKind> tried(Circumstance circumstance) {
    return ServerRules.SHIPPED.rules().stream()
        .filter(rule -> rule.circumstance() == circumstance)
        .flatMap(rule -> rule.servers().stream())
        .collect(Collectors.toCollection(TreeSet::new));
  }

  private static OtherServer accepting(ServerKind kind) {
    return new OtherServer(kind, true, Optional.empty(), Optional.empty());
  }

  private static OtherServer told(ServerKind kind, ServerRule rule, int depth) {
    String because = rule.circumstance().because();
    String does =
        switch (rule.behaviour()) {
          case ACCEPTS -> "accepted all the same";
          case COMPLETES_CHAIN -> "it adds the intermediate from those that it trusts";
          case REFUSED_BY_CLIENTS -> "clients refuse it";
          case WANTS_SETTING -> "refused with the usual settings";
          case REFUSES -> "this client is refused";
          case REFUSES_EVERYBODY -> "every client is refused";
          case FAILS_EVERYBODY -> "it starts, and every handshake fails";
          case SERVES_NO_TLS -> "it starts without TLS";
          case DOES_NOT_START -> "it does not start";
        };
    return new OtherServer(
        kind,
        rule.behaviour().serves(),
        Optional.of(
            rule.behaviour().serves() ? does + ": " + because : does + ", because " + because),
        rule.behaviour() == Behaviour.WANTS_SETTING
            ? Optional.of(setting(kind, rule.circumstance(), depth)).filter(one -> !one.isEmpty())
            : Optional.empty());
  }

  private static String setting(ServerKind kind, Circumstance circumstance, int depth) {
    return switch (circumstance) {
      case SEALED_KEY, OWN_KEY_PASSWORD -> kind.passwordSetting();
      default -> kind.depthSetting().formatted(depth);
    };
  }

  private static Set<Circumstance> circumstances(
      Party server, Party client, Collection<Finding> findings, Instant now) {
    Set<Circumstance> all = EnumSet.noneOf(Circumstance.class);
    for (Party.Trait trait : server.traits()) {
      all.add(
          switch (trait) {
            case OTHER_CERTIFICATE_FIRST ->
                sameKind(server)
                    ? Circumstance.CHAIN_FIRST_SAME_KEY
                    : Circumstance.CHAIN_FIRST_OTHER_KEY;
            case SEALED_KEY -> Circumstance.SEALED_KEY;
            case OWN_KEY_PASSWORD -> Circumstance.OWN_KEY_PASSWORD;
            case GLUED_CHAIN -> Circumstance.GLUED_CHAIN;
            case GLUED_TRUST -> Circumstance.GLUED_TRUST;
          });
    }
    if (server.trust().isEmpty() || client.credential().isEmpty()) {
      return all;
    }
    List<Finding> withoutList =
        findings.stream()
            .filter(finding -> finding.is(FindingKind.REVOCATION_NOT_CHECKED))
            .filter(finding -> finding.where().equals(client.where()))
            .toList();
    if (!withoutList.isEmpty()) {
      boolean aboveTrust =
          withoutList.stream()
              .allMatch(
                  finding ->
                      !finding.about().certificates().isEmpty()
                          && server.trust().get().containsAll(finding.about().certificates()));
      all.add(
          aboveTrust ? Circumstance.LISTS_INCOMPLETE_ABOVE_TRUST : Circumstance.LISTS_INCOMPLETE);
    }
    ofFinding(findings, FindingKind.NOT_FOR_CLIENTS, client)
        .ifPresent(one -> all.add(Circumstance.CLIENT_WRONG_USE));
    boolean incomplete =
        findings.stream()
            .anyMatch(
                finding ->
                    finding.is(FindingKind.ISSUER_NOT_SENT)
                        && finding.where().equals(server.where()));
    if (incomplete
        && !server.chain().isEmpty()
        && trustsIssuer(server.trust().get(), server.chain().get(server.chain().size() - 1))) {
      all.add(Circumstance.CHAIN_INCOMPLETE);
    }
    ofFinding(findings, FindingKind.REVOCATION_LIST_EXPIRED, client)
        .ifPresent(one -> all.add(Circumstance.LIST_ENDED));
    ofFinding(findings, FindingKind.REVOKED, client)
        .ifPresent(one -> all.add(Circumstance.REVOKED));
    ofFinding(findings, FindingKind.TRUST_WITHOUT_ROOT, client)
        .ifPresent(one -> all.add(Circumstance.TRUST_WITHOUT_ROOT));
    int intermediates = intermediates(server, client, now);
    if (intermediates > 1) {
      all.add(Circumstance.BELOW_SEVERAL_INTERMEDIATES);
    } else if (intermediates == 1) {
      all.add(Circumstance.BELOW_ONE_INTERMEDIATE);
    }
    return all;
  }

  /** How many stand between the client's certificate and the root. */
  private static int intermediates(Party server, Party client, Instant now) {
    if (server.trust().isEmpty() || client.credential().isEmpty()) {
      return 0;
    }
    List<Certificate> pool = new ArrayList<>(client.chain());
    pool.addAll(server.trust().get());
    Chain chain = new ChainFinder(pool, now, SystemRoots.none()).from(client.chain().get(0));
    return Math.max(0, chain.certificates().size() - (chain.endsInRoot() ? 2 : 1));
  }

  /** Whether the issuer of a certificate is itself trusted, and stands below a root. */
  private static boolean trustsIssuer(Collection<Certificate> trust, Certificate certificate) {
    return trust.stream()
        .anyMatch(one -> one.subject().equals(certificate.issuer()) && !one.isSelfSigned());
  }

  /** A finding about what the client shows. */
  private static Optional<Finding> ofFinding(
      Collection<Finding> findings, FindingKind kind, Party client) {
    return findings.stream()
        .filter(finding -> finding.is(kind) && finding.where().equals(client.where()))
        .findFirst();
  }

  private static boolean sameKind(Party server) {
    return server.chain().stream()
        .skip(1)
        .findFirst()
        .map(
            next ->
                next.publicKey()
                    .algorithm()
                    .oid()
                    .equals(server.chain().get(0).publicKey().algorithm().oid()))
        .orElse(false);
  }

  /** What is to be said of a server's own files, whatever the client. */
  static List<Finding> ofFiles(Party server) {
    if (!server.traits().contains(Party.Trait.OTHER_CERTIFICATE_FIRST)) {
      return List.of();
    }
    Circumstance circumstance =
        sameKind(server) ? Circumstance.CHAIN_FIRST_SAME_KEY : Circumstance.CHAIN_FIRST_OTHER_KEY;
    Map<Behaviour, String> does = new TreeMap<>();
    for (ServerRule rule : ServerRules.SHIPPED.rules()) {
      if (rule.circumstance() == circumstance) {
        does.put(
            rule.behaviour(),
            rule.servers().stream().map(ServerKind::title).collect(Collectors.joining(", ")));
      }
    }
    List<String> parts = new ArrayList<>();
    does.forEach(
        (behaviour, servers) ->
            parts.add(
                servers
                    + switch (behaviour) {
                      case FAILS_EVERYBODY -> " start, and fail every handshake";
                      case SERVES_NO_TLS -> ": no TLS";
                      case DOES_NOT_START -> " do not start";
                      case ACCEPTS,
                          COMPLETES_CHAIN,
                          WANTS_SETTING,
                          REFUSES,
                          REFUSED_BY_CLIENTS,
                          REFUSES_EVERYBODY ->
                          "";
                    }));
    return List.of(
        Finding.of(
            FindingKind.OTHER_CERTIFICATE_FIRST,
            server.files().size() > 1
                ? VisibleText.of(server.files().get(1).toString())
                : server.where(),
            "The certificate file does not begin with the certificate of the key, but with one of"
                + " its chain. Servers that read PEM take the first for the server's own: "
                + String.join("; ", parts)
                + ".",
            Remedy.of(
                "Join the chain anew, and configure the server with the result.",
                Action.of(Task.JOIN, server.files()).with(Input.INTO))));
  }
}
