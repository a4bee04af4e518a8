// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Account;
import io.symbolon.acme.records.Records.Certified;
import io.symbolon.acme.records.Records.Placed;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Level;
import io.symbolon.issue.ReceivedRequest;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Certificates: made, handed out, revoked (RFC 8555, 7.4, 7.4.2 and 7.6). */
final class CertificateDesk {
  private static final Logger LOG = LoggerFactory.getLogger(CertificateDesk.class);
  private static final int COMMON_NAME = 64;

  private final AnswerPlan plan;
  private final SigningAuthority signing;
  private final RevokedView revoked;
  private final CurrentList list;
  private final Records records;
  private final OrderDesk orders;
  private final Ids ids;
  private final Clock clock;

  CertificateDesk(
      AnswerPlan plan,
      SigningAuthority signing,
      RevokedView revoked,
      CurrentList list,
      Records records,
      OrderDesk orders,
      Ids ids,
      Clock clock) {
    this.plan = plan;
    this.signing = signing;
    this.revoked = revoked;
    this.list = list;
    this.records = records;
    this.orders = orders;
    this.ids = ids;
    this.clock = clock;
  }

  Reply finalizing(SignedQuestion question, String id) throws Trouble {
    Placed placed = orders.own(question, id);
    if (placed.status() != OrderState.READY) {
      throw new Trouble(ProblemType.ORDER_NOT_READY, "the order is " + placed.status().word());
    }
    CertificateRequest request = request(question);
    List<Identifier> names = OrderDesk.names(placed);
    SigningOrder order = check(request, names, question.asker());
    if (!records.move(id, OrderState.READY, OrderState.PROCESSING, "", now())) {
      throw new Trouble(ProblemType.ORDER_NOT_READY, "somebody else is finalizing this order");
    }
    try {
      // On record in the authority's folder first, then with the order; handed out after both.
      Certificate certificate = signing.sign(order, request.publicKey());
      boolean unused =
          records.certify(
              new Certified(
                  ids.next(),
                  placed.account(),
                  id,
                  certificate.serialHex(),
                  chain(certificate),
                  now(),
                  false),
              placed.replaces());
    } catch (SymbolonException e) {
      LOG.warn("an order could not be finished: {} {}", e.statement(), e.seen());
      boolean unused = records.move(id, OrderState.PROCESSING, OrderState.READY, "", now());
      throw new Trouble(ProblemType.SERVER_INTERNAL, "the certificate could not be made");
    }
    return orders.answer(records.placed(id).orElseThrow(Trouble::notFound), 200);
  }

  private Instant now() {
    return clock.instant();
  }

  private static CertificateRequest request(SignedQuestion question) throws Trouble {
    byte[] der =
        SignedMessage.decoded(
            question.text("csr").orElseThrow(() -> Trouble.malformed("there is no 'csr'")), "csr");
    try {
      CertificateRequest request = CertificateRequest.read(der);
      var unused = request.extensions().subjectAlternativeNames();
      return request;
    } catch (SymbolonException e) {
      throw bad("it is no request in DER");
    }
  }

  private static Trouble bad(String why) {
    return new Trouble(ProblemType.BAD_CSR, why);
  }

  private SigningOrder check(CertificateRequest request, List<Identifier> names, Account account)
      throws Trouble {
    ReceivedRequest received;
    try {
      received = ReceivedRequest.of(request, Optional.of(Use.SERVER), List.of(), "the request");
    } catch (SymbolonException e) {
      throw bad(e.seen());
    }
    var problem =
        received.findings().stream().filter(one -> one.level() == Level.PROBLEM).findFirst();
    if (problem.isPresent()) {
      throw bad(problem.get().statement());
    }
    Set<String> ordered = names.stream().map(Identifier::value).collect(Collectors.toSet());
    Set<String> asked = new HashSet<>();
    for (GeneralName one : request.extensions().subjectAlternativeNames()) {
      if (!one.isHost()) {
        throw bad("it asks for a name that is no host: " + one);
      }
      asked.add(one.value());
    }
    Optional<String> common = request.subject().commonName();
    common.ifPresent(asked::add);
    if (!asked.equals(ordered)) {
      throw bad("it asks for other names than were ordered");
    }
    if (isKeyOf(account, request.publicKey())) {
      throw bad("its key is the key of the account");
    }
    List<GeneralName> all = names.stream().map(Identifier::generalName).toList();
    // The first host that fits into a common name; the alternative names are what counts.
    DistinguishedName subject =
        names.stream()
            .filter(one -> one.type().equals(Identifier.DNS))
            .map(Identifier::value)
            .filter(one -> one.length() <= COMMON_NAME)
            .findFirst()
            .map(one -> DistinguishedName.parse("CN=" + one))
            .orElseGet(() -> DistinguishedName.parse(""));
    return new SigningOrder(new RequestDraft(subject, all, Use.SERVER), plan.lasts());
  }

  private static boolean isKeyOf(Account account, SubjectPublicKeyInfo key) throws Trouble {
    return SubjectPublicKeyInfo.of(SignedMessage.key(account.jwk()).getPublicKey()).equals(key);
  }

  /** The certificate and those above it, without the root, which nobody needs to be sent. */
  private String chain(Certificate certificate) {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    for (Certificate one : signing.authority().chainOf(certificate)) {
      if (!one.isSelfSigned()) {
        pem.writeBytes(PemWriter.write("CERTIFICATE", one.encoding()));
      }
    }
    return pem.toString(StandardCharsets.US_ASCII);
  }

  Reply download(SignedQuestion question, String id) throws Trouble {
    question.mustBeAsking();
    Account account = question.asker();
    Certified certified = records.certified(id).orElseThrow(Trouble::notFound);
    AccountDesk.own(account, certified.account());
    return Reply.of(
        "application/pem-certificate-chain", certified.chain().getBytes(StandardCharsets.US_ASCII));
  }

  Reply revoke(SignedQuestion question) throws Trouble {
    ObjectNode wish = question.content();
    Certificate certificate = named(question);
    RevocationReason reason = reason(wish.path("reason"));
    Certified known = records.certifiedAs(certificate.serialHex()).orElse(null);
    boolean ours =
        known != null
            && known
                .chain()
                .startsWith(
                    new String(
                        PemWriter.write("CERTIFICATE", certificate.encoding()),
                        StandardCharsets.US_ASCII));
    if (known == null || !ours) {
      throw Trouble.unauthorized("no order here led to this certificate");
    }
    if (!may(question, certificate, known)) {
      throw Trouble.unauthorized(
          "whoever revokes it has its key, ordered it, or has proven control of all its names");
    }
    if (revoked.has(certificate.serial())) {
      throw new Trouble(ProblemType.ALREADY_REVOKED, "it is revoked already");
    }
    try {
      var unused = signing.revoke(List.of(certificate), reason, AuthorityFolder.LIST_LASTS);
      list.forget();
    } catch (SymbolonException e) {
      LOG.warn("a certificate could not be revoked: {} {}", e.statement(), e.seen());
      throw new Trouble(
          ProblemType.SERVER_INTERNAL,
          e.reason() == Reason.NOT_WRITABLE ? "the list could not be written" : "it failed");
    }
    return Reply.empty(200);
  }

  private static Certificate named(SignedQuestion question) throws Trouble {
    String text =
        question
            .text("certificate")
            .orElseThrow(() -> Trouble.malformed("there is no 'certificate'"));
    try {
      return Certificate.readWhole(SignedMessage.decoded(text, "certificate"));
    } catch (SymbolonException e) {
      throw Trouble.malformed("'certificate' is no certificate in DER");
    }
  }

  private static RevocationReason reason(JsonNode code) throws Trouble {
    if (code.isMissingNode()) {
      return RevocationReason.UNSPECIFIED;
    }
    for (RevocationReason one : RevocationReason.values()) {
      // A certificate of a host is not put on hold, and is no authority's.
      boolean usual =
          switch (one) {
            case UNSPECIFIED,
                KEY_COMPROMISE,
                AFFILIATION_CHANGED,
                SUPERSEDED,
                CESSATION_OF_OPERATION ->
                true;
            default -> false;
          };
      if (usual && code.isInt() && code.intValue() == one.code()) {
        return one;
      }
    }
    throw new Trouble(ProblemType.BAD_REVOCATION_REASON, "taken are 0, 1, 3, 4 and 5");
  }

  private boolean may(SignedQuestion question, Certificate certificate, Certified known)
      throws Trouble {
    if (question.key().isPresent()) {
      return SubjectPublicKeyInfo.of(question.key().get().getPublicKey())
          .equals(certificate.publicKey());
    }
    Account account = question.asker();
    if (known.account().equals(account.id())) {
      return true;
    }
    List<String> names =
        certificate.alternativeNames().stream()
            .map(one -> Identifier.of(one.value()))
            .map(one -> one.type() + ":" + one.value())
            .toList();
    return records.hasProven(account.id(), names, now());
  }
}
