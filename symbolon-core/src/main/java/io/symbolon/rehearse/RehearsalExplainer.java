// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.explain.ChainExplainer;
import io.symbolon.explain.FailureText;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Side;
import io.symbolon.handshake.RefusalObserver;
import io.symbolon.party.Party;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/** Says why a rehearsal failed: who refused what of whom, and what mends it. */
final class RehearsalExplainer {
  private final Party server;
  private final Party client;
  private final RefusalObserver watched;

  RehearsalExplainer(Party server, Party client, RefusalObserver watched) {
    this.server = server;
    this.client = client;
    this.watched = watched;
  }

  /**
   * Why a handshake failed that did not fail for the certificates.
   *
   * @param refusing the side that gave up first
   * @param text what it gave up with
   */
  Finding explain(Side refusing, String text, ProtocolVersion protocol) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (lower.contains("empty client certificate chain")
        || lower.contains("empty server certificate chain")
        || lower.contains("certificate_required")
        || (watched.keys().isAsked() && !watched.keys().isShown())) {
      return noClientCertificate();
    }
    if (lower.contains("no cipher suites in common")
        || lower.contains("no available authentication scheme")
        || lower.contains("handshake_failure")
        || lower.contains("insufficient_security")) {
      return Finding.of(
          FindingKind.NO_COMMON_CIPHER_SUITE,
          server.where(),
          "Over "
              + protocol.title()
              + " server and client found no cipher suite, or no kind of signature, in common"
              + " for the server's key ("
              + server.chain().get(0).publicKey().description()
              + "). "
              + ChainExplainer.sentence(refusing.title())
              + " says: "
              + text
              + ".",
          "Give the server a key of EC P-256 or RSA 3072 as well, or allow more on the other"
              + " side.");
    }
    if (lower.contains("protocol")) {
      return Finding.of(
          FindingKind.NO_COMMON_PROTOCOL,
          server.where(),
          "Server and client have no protocol version in common. "
              + ChainExplainer.sentence(refusing.title())
              + " says: "
              + text
              + ".",
          "Switch TLS 1.2 or 1.3 on on both sides.");
    }
    return unexplained(refusing, text);
  }

  /**
   * That the judge of certificates refused. What is wrong with them is looked for, and never
   * guessed.
   */
  Attempts.RefusedChain refused(Side refusing, String text) {
    Side shownBy = refusing.other();
    Party shown = shownBy == Side.SERVER ? server : client;
    String lower = text.toLowerCase(Locale.ROOT);
    boolean policy = lower.contains("constraints check") || lower.contains("disabled");
    return new Attempts.RefusedChain(
        shownBy,
        policy
            ? Finding.of(
                FindingKind.REFUSED_BY_POLICY,
                shown.where(),
                "Java's security policy refuses a key or a signature in the chain that "
                    + shownBy.title()
                    + " shows. It says: "
                    + text
                    + ".",
                "Have the certificates issued again with keys and signatures of today.")
            : unexplained(refusing, text));
  }

  private Finding noClientCertificate() {
    if (client.credential().isEmpty()) {
      return Finding.of(
          FindingKind.NO_CLIENT_CERTIFICATE,
          client.where(),
          "The server requires a client's certificate, and the client has none.",
          "Give the client a credential from an authority that the server trusts: "
              + authorities()
              + ".");
    }
    Certificate end = client.chain().get(0);
    return Finding.of(
        FindingKind.CLIENT_AUTHORITY_NOT_NAMED,
        client.where(),
        "The client shows no certificate: that of "
            + end.subject().shortText()
            + " is issued by "
            + end.issuer()
            + ", and the server asks only for certificates of "
            + authorities()
            + ".",
        "Add the client's authority to the server's truststore, or have the client's certificate"
            + " issued by one of those.");
  }

  private String authorities() {
    List<Certificate> trusted = server.trust().orElse(List.of());
    String names =
        trusted.stream()
            .limit(5)
            .map(one -> one.subject().shortText())
            .collect(Collectors.joining(", "));
    return trusted.size() > 5 ? names + " and " + (trusted.size() - 5) + " more" : names;
  }

  private Finding unexplained(Side refusing, String text) {
    Optional<Finding> known =
        FailureText.one(text, refusing == Side.SERVER ? server.where() : client.where());
    // Both sides are here: it would be no help to point to the log of one of them.
    if (known.filter(one -> !one.is(FindingKind.PEER_DOES_NOT_TRUST)).isPresent()) {
      return known.get();
    }
    return Finding.of(
        FindingKind.REFUSED_BY_PLATFORM,
        refusing == Side.SERVER ? server.where() : client.where(),
        ChainExplainer.sentence(refusing.title())
            + " refuses for a reason that is not explained here. Java says: "
            + text
            + ".",
        Remedy.of(
            "Look at what both sides hold, in detail.",
            Action.of(Task.SURVEY).with(Input.DETAILS)));
  }
}
