// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;

/** Which question goes to which desk. */
final class Router implements AutoCloseable {
  private static final String MESSAGE = "application/jose+json";

  private final AnswerPlan plan;
  private final SigningAuthority signing;
  private final Records records;
  private final Addresses addresses;
  private final Nonces nonces;
  private final CurrentList list;
  private final AccountDesk accounts;
  private final OrderDesk orders;
  private final ChallengeDesk challenges;
  private final Settling settling;
  private final CertificateDesk certificates;
  private final RenewalDesk renewals;
  private final AuthorityPage page;

  private Router(
      AnswerPlan plan,
      SigningAuthority signing,
      Records records,
      Addresses addresses,
      Nonces nonces,
      CurrentList list,
      Ids ids,
      Clock clock) {
    this.plan = plan;
    this.signing = signing;
    this.records = records;
    this.addresses = addresses;
    this.nonces = nonces;
    this.list = list;
    AddressShares shares =
        new AddressShares(
            plan.limits().accountsOfAddress(), plan.limits().ordersOfAddress(), clock);
    this.accounts = new AccountDesk(plan, records, addresses, shares, ids, clock);
    this.orders =
        new OrderDesk(
            plan,
            records,
            addresses,
            new NamePolicy(plan.allowed(), signing.authority()),
            shares,
            ids,
            clock);
    RevokedView revoked = new RevokedView(signing.folder());
    this.challenges =
        new ChallengeDesk(records, addresses, orders, new ProofCheck(plan.lookup()), clock);
    this.certificates =
        new CertificateDesk(plan, signing, revoked, list, records, orders, ids, clock);
    this.renewals = new RenewalDesk(revoked, records, clock);
    this.settling = new Settling(records, challenges, clock);
    this.page = new AuthorityPage(plan, signing.folder().chain(), records, addresses);
  }

  static Router of(
      SigningAuthority signing,
      Records records,
      AnswerPlan plan,
      Addresses addresses,
      Nonces nonces,
      CurrentList list,
      SecureRandom random,
      Clock clock) {
    return new Router(plan, signing, records, addresses, nonces, list, new Ids(random), clock);
  }

  void resume() {
    settling.start();
  }

  Reply route(String method, String path, String type, byte[] body, String from) throws Trouble {
    boolean reads = method.equals("GET") || method.equals("HEAD");
    if (records.isAway()) {
      throw Trouble.away();
    }
    if (reads) {
      return read(method, path);
    }
    if (!method.equals("POST")) {
      throw wrongMethod();
    }
    String plain = type.contains(";") ? type.substring(0, type.indexOf(';')) : type;
    if (!plain.strip().toLowerCase(Locale.ROOT).equals(MESSAGE)) {
      throw new Trouble(
          Problem.of(ProblemType.MALFORMED, "messages are of the type " + MESSAGE).withStatus(415));
    }
    return signed(path, body, from);
  }

  private static Trouble wrongMethod() {
    return new Trouble(
        Problem.of(ProblemType.MALFORMED, "this is not asked for in this way").withStatus(405));
  }

  private Reply read(String method, String path) throws Trouble {
    List<Certificate> chain = signing.folder().chain();
    return switch (path) {
      case "/" -> page.page();
      case Addresses.DIRECTORY -> Reply.json(200, directory());
      case Addresses.NONCE -> Reply.empty(method.equals("HEAD") ? 200 : 204);
      case "/authority.pem" -> Reply.of("application/x-pem-file", pem(chain));
      case "/root.pem" ->
          Reply.of("application/x-pem-file", pem(chain.subList(chain.size() - 1, chain.size())));
      case "/revocations.crl" ->
          Reply.of("application/pkix-crl", list.der().orElseThrow(Trouble::notFound));
      default -> readOne(path);
    };
  }

  private Reply readOne(String path) throws Trouble {
    if (path.startsWith(Addresses.RENEWAL + "/")) {
      return renewals.tell(path.substring(Addresses.RENEWAL.length() + 1));
    }
    if (path.startsWith(AuthorityPage.PUBLIC_CERTIFICATES)) {
      return page.certificate(path.substring(AuthorityPage.PUBLIC_CERTIFICATES.length()));
    }
    boolean signedOnly =
        Stream.of(
                Addresses.ACCOUNTS,
                Addresses.ORDERS,
                Addresses.PROOFS,
                Addresses.CHALLENGES,
                Addresses.CERTIFICATES,
                Addresses.REVOKE,
                Addresses.KEY)
            .anyMatch(kind -> path.equals(kind) || path.startsWith(kind + "/"));
    throw signedOnly ? wrongMethod() : Trouble.notFound();
  }

  private static byte[] pem(List<Certificate> chain) {
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    chain.forEach(one -> pem.writeBytes(PemWriter.write("CERTIFICATE", one.encoding())));
    return pem.toByteArray();
  }

  private ObjectNode directory() {
    ObjectNode json =
        JsonText.object()
            .put("newNonce", addresses.of(Addresses.NONCE))
            .put("newAccount", addresses.of(Addresses.ACCOUNTS))
            .put("newOrder", addresses.of(Addresses.ORDERS))
            .put("revokeCert", addresses.of(Addresses.REVOKE))
            .put("keyChange", addresses.of(Addresses.KEY))
            .put("renewalInfo", addresses.of(Addresses.RENEWAL));
    ObjectNode meta = json.putObject("meta").put("website", addresses.of("/"));
    plan.terms().ifPresent(terms -> meta.put("termsOfService", terms.toString()));
    if (!plan.externalKeys().isEmpty()) {
      meta.put("externalAccountRequired", true);
    }
    return json;
  }

  private Reply signed(String path, byte[] body, String from) throws Trouble {
    String url = addresses.of(path);
    SignedQuestion question = SignedQuestion.read(body, url, from, addresses, records, nonces);
    String[] parts = path.substring(1).split("/", -1);
    String kind = "/" + parts[0];
    String id = parts.length > 1 ? parts[1] : "";
    boolean one = parts.length == 2 && !id.isEmpty();
    boolean needsAccount = !path.equals(Addresses.ACCOUNTS) && !path.equals(Addresses.REVOKE);
    if (needsAccount) {
      var unused = question.asker();
    }
    boolean whole = parts.length == 1;
    return switch (kind) {
      case Addresses.ACCOUNTS -> account(question, parts);
      case Addresses.ORDERS -> order(question, parts);
      case Addresses.PROOFS -> orders.proof(question, known(one, id));
      case Addresses.CHALLENGES -> challenges.take(question, known(one, id));
      case Addresses.CERTIFICATES -> certificates.download(question, known(one, id));
      case Addresses.REVOKE -> whole ? certificates.revoke(question) : nothing();
      case Addresses.KEY -> whole ? accounts.changeKey(question) : nothing();
      default -> nothing();
    };
  }

  private Reply account(SignedQuestion question, String[] parts) throws Trouble {
    if (parts.length == 1) {
      return accounts.make(question);
    }
    if (parts.length == 2) {
      return accounts.change(question, parts[1]);
    }
    return parts[2].equals("orders") && parts.length <= 4
        ? accounts.orders(question, parts[1], parts.length > 3 ? number(parts[3]) : 0)
        : nothing();
  }

  private Reply order(SignedQuestion question, String[] parts) throws Trouble {
    if (parts.length == 1) {
      return orders.place(question);
    }
    if (parts.length == 2) {
      return orders.ask(question, parts[1]);
    }
    return parts.length == 3 && parts[2].equals("finalize")
        ? certificates.finalizing(question, parts[1])
        : nothing();
  }

  private static String known(boolean one, String id) throws Trouble {
    if (!one) {
      throw Trouble.notFound();
    }
    return id;
  }

  private static Reply nothing() throws Trouble {
    throw Trouble.notFound();
  }

  private static int number(String text) throws Trouble {
    if (!text.matches("[0-9]{1,6}")) {
      throw Trouble.notFound();
    }
    return Integer.parseInt(text);
  }

  @Override
  public void close() {
    settling.close();
    challenges.close();
  }
}
