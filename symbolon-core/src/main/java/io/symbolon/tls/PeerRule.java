// SPDX-License-Identifier: Apache-2.0
package io.symbolon.tls;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Which of the peers that are trusted are accepted: those with some subject, some alternative name,
 * some fingerprint. A rule never makes anybody trusted; it is asked after the path to an authority
 * was found, about the end-entity certificate alone. Immutable.
 */
public final class PeerRule {
  private final String text;
  private final Predicate<Certificate> accepts;

  private PeerRule(String text, Predicate<Certificate> accepts) {
    this.text = text;
    this.accepts = accepts;
  }

  /**
   * Peers whose subject has all of these parts, wherever they stand in it. Values are compared as
   * RFC 5280, 7.1 says: without case and needless spaces.
   *
   * @param parts as RFC 4514 text, such as {@code OU=buoys} or {@code OU=buoys,O=Lanternfish
   *     Observatory}
   * @return the peer rule
   * @throws SymbolonException if it is no such text, or empty
   */
  public static PeerRule subject(String parts) {
    DistinguishedName wanted = DistinguishedName.parse(parts);
    if (wanted.isEmpty()) {
      throw wrong("A rule for the subject needs at least one part.", "Write it like OU=buoys.");
    }
    return new PeerRule("subject has " + wanted, peer -> peer.subject().hasAll(wanted));
  }

  /**
   * Peers with this host among their subject alternative names. A leading {@code *.} stands for
   * exactly one label; a wildcard in the peer's certificate is taken as a name like any other and
   * fits only a rule of the same text, because whoever holds it could call himself anything.
   *
   * @return the peer rule
   * @throws SymbolonException if it is no host name
   */
  public static PeerRule host(String host) {
    HostName wanted = HostName.parse(host);
    return new PeerRule(
        "an alternative name is " + wanted,
        peer ->
            peer.extensions().subjectAlternativeNames().stream().anyMatch(n -> fits(wanted, n)));
  }

  private static boolean fits(HostName wanted, GeneralName name) {
    if (!name.isHost()) {
      return false;
    }
    if (!wanted.isWildcard()) {
      return GeneralName.ofHost(wanted.toString()).equals(lower(name));
    }
    String own = name.value().toLowerCase(Locale.ROOT);
    int dot = own.indexOf('.');
    return name.kind() == GeneralName.NameForm.DNS
        && dot > 0
        && own.substring(dot).equals(wanted.toString().substring(1));
  }

  private static GeneralName lower(GeneralName name) {
    return new GeneralName(name.kind(), name.value().toLowerCase(Locale.ROOT));
  }

  /**
   * Peers with exactly this subject alternative name, such as a URI or an e-mail address.
   *
   * @param wanted what is wanted
   * @return the peer rule
   */
  public static PeerRule alternativeName(GeneralName wanted) {
    return new PeerRule(
        "an alternative name is " + VisibleText.of(wanted.toString()),
        peer -> peer.extensions().subjectAlternativeNames().contains(wanted));
  }

  /**
   * {@return the peer with exactly this certificate}
   *
   * @param sha256 the fingerprint, 64 hexadecimal digits; colons, spaces and case do not matter
   * @throws SymbolonException if it is no fingerprint
   */
  public static PeerRule fingerprint(String sha256) {
    String wanted = sha256.replaceAll("[:\\s]", "").toLowerCase(Locale.ROOT);
    if (!wanted.matches("[0-9a-f]{64}")) {
      throw wrong(
          "'" + VisibleText.of(sha256) + "' is not a SHA-256 fingerprint.",
          "Write its 64 hexadecimal digits, with or without colons.");
    }
    return new PeerRule("its SHA-256 fingerprint is " + wanted, p -> p.sha256().equals(wanted));
  }

  /**
   * Peers that at least one of the rules accepts.
   *
   * @return the peer rule
   * @throws SymbolonException if there are no rules
   */
  public static PeerRule anyOf(List<PeerRule> rules) {
    return joined(rules, " or ", peer -> rules.stream().anyMatch(r -> r.accepts.test(peer)));
  }

  /**
   * Peers that all of the rules accept.
   *
   * @return the peer rule
   * @throws SymbolonException if there are no rules
   */
  public static PeerRule allOf(List<PeerRule> rules) {
    return joined(rules, " and ", peer -> rules.stream().allMatch(r -> r.accepts.test(peer)));
  }

  private static PeerRule joined(List<PeerRule> rules, String by, Predicate<Certificate> accepts) {
    if (rules.isEmpty()) {
      throw wrong("There is no rule to be followed.", "Give at least one.");
    }
    List<PeerRule> copy = List.copyOf(rules);
    return copy.size() == 1
        ? copy.get(0)
        : new PeerRule(
            copy.stream().map(PeerRule::toString).collect(Collectors.joining(by, "(", ")")),
            accepts);
  }

  /**
   * Why a peer is refused, in one sentence that names the rule and what the peer shows instead.
   *
   * @param peer its end-entity certificate
   * @return empty where it is accepted
   */
  public Optional<String> refusal(Certificate peer) {
    if (accepts.test(peer)) {
      return Optional.empty();
    }
    String names =
        peer.extensions().subjectAlternativeNames().stream()
            .limit(10)
            .map(GeneralName::toString)
            .collect(Collectors.joining(", "));
    return Optional.of(
        "The certificate of "
            + peer.subject()
            + " is refused by the rule: "
            + text
            + ". Its alternative names are: "
            + (names.isEmpty() ? "none" : VisibleText.of(names))
            + "; its SHA-256 fingerprint is "
            + peer.sha256());
  }

  private static SymbolonException wrong(String seen, String remedy) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT, "The rule for peers can't be used.", seen, remedy);
  }

  /** The rule in words. */
  @Override
  public String toString() {
    return text;
  }
}
