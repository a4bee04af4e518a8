// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.ChallengeState;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.ProofState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Account;
import io.symbolon.acme.records.Records.Certified;
import io.symbolon.acme.records.Records.Challenge;
import io.symbolon.acme.records.Records.Placed;
import io.symbolon.acme.records.Records.Proving;
import io.symbolon.acme.wire.IdentifierJson;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.acme.wire.ProblemJson;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** Orders and what is to be proven for them (RFC 8555, 7.4 and 7.5). */
final class OrderDesk {
  /** Why an order ended that nobody went on with, as it is put on record. */
  static final String OVER =
      text(Problem.of(ProblemType.MALFORMED, "nobody went on with it in time"));

  private static final int NAMES = 100;
  private static final int NAMES_LENGTH = 60_000;
  private static final Duration HOUR = Duration.ofHours(1);
  private static final Duration OPEN =
      Duration.ofDays(7); // an order can be gone on with for a week
  private static final Duration HOLDS = Duration.ofDays(30); // a proof lets revoke for a month

  private final AnswerPlan plan;
  private final Records records;
  private final Addresses addresses;
  private final NamePolicy policy;
  private final AddressShares shares;
  private final Ids ids;
  private final Clock clock;

  OrderDesk(
      AnswerPlan plan,
      Records records,
      Addresses addresses,
      NamePolicy policy,
      AddressShares shares,
      Ids ids,
      Clock clock) {
    this.plan = plan;
    this.records = records;
    this.addresses = addresses;
    this.policy = policy;
    this.shares = shares;
    this.ids = ids;
    this.clock = clock;
  }

  private Instant now() {
    return clock.instant().truncatedTo(ChronoUnit.SECONDS);
  }

  Reply place(SignedQuestion question) throws Trouble {
    Account account = question.asker();
    ObjectNode wish = question.content();
    if (wish.has("notBefore") || wish.has("notAfter")) {
      throw Trouble.malformed("how long certificates are valid is decided here");
    }
    Set<Identifier> names = names(wish);
    String replaced = replaced(question, account);
    limit(
        account.id(),
        plan.limits().ordersOfAccount(),
        "this account has placed too many orders in the last hour");
    limit("", plan.limits().ordersOfAll(), "too many orders were placed in the last hour");
    shares.order(question.from());
    String id = ids.next();
    List<Proving> provings = new ArrayList<>();
    List<Challenge> challenges = new ArrayList<>();
    List<String> texts = new ArrayList<>();
    for (Identifier name : names) {
      texts.add(name.type() + ":" + name.value());
      String bare = name.isWildcard() ? name.value().substring(2) : name.value();
      Proving proving =
          new Proving(
              ids.next(),
              account.id(),
              id,
              name.type() + ":" + bare,
              name.isWildcard(),
              ProofState.PENDING,
              now().plus(HOLDS));
      provings.add(proving);
      for (String type : ways(name)) {
        challenges.add(
            new Challenge(
                ids.next(),
                proving.id(),
                type,
                ids.token(),
                ChallengeState.PENDING,
                Records.NEVER,
                ""));
      }
    }
    Placed placed =
        new Placed(
            id,
            account.id(),
            OrderState.PENDING,
            now().plus(OPEN),
            String.join(" ", texts),
            replaced,
            "",
            "",
            now());
    records.add(placed, provings, challenges);
    return answer(placed, 201);
  }

  /** What is refused says when to come again. */
  private void limit(String account, int most, String why) throws Trouble {
    Optional<Instant> oldest = records.placedAgain(account, now().minus(HOUR), most);
    if (oldest.isPresent()) {
      throw Trouble.tooMany(why, Duration.between(now(), oldest.get().plus(HOUR)).toSeconds());
    }
  }

  /** A wildcard is proven by a record alone, an address by everything else (RFC 8738, 7). */
  private static List<String> ways(Identifier name) {
    if (name.isWildcard()) {
      return List.of("dns-01");
    }
    return name.type().equals(Identifier.IP)
        ? List.of("http-01", "tls-alpn-01")
        : List.of("http-01", "dns-01", "tls-alpn-01");
  }

  private Set<Identifier> names(ObjectNode wish) throws Trouble {
    Set<Identifier> names = new LinkedHashSet<>();
    List<Problem> refused = new ArrayList<>();
    int length = 0;
    try {
      for (JsonNode one : JsonText.list(wish, "identifiers", NAMES)) {
        Identifier name = IdentifierJson.read(one);
        length += name.value().length() + 5;
        policy.refusal(name).ifPresent(refused::add);
        names.add(name);
      }
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed("'identifiers': " + e.what());
    }
    if (names.isEmpty() || length > NAMES_LENGTH) {
      throw Trouble.malformed("'identifiers' has no names, or too many");
    }
    if (refused.size() == 1) {
      throw new Trouble(refused.get(0));
    }
    if (!refused.isEmpty()) {
      throw new Trouble(
          new Problem(
              Optional.of(ProblemType.COMPOUND),
              ProblemType.COMPOUND.urn(),
              refused.size() + " of the names are refused",
              ProblemType.REJECTED_IDENTIFIER.status(),
              Optional.empty(),
              Optional.empty(),
              refused));
    }
    return names;
  }

  /** The certificate that an order replaces (RFC 9773, 5). */
  private String replaced(SignedQuestion question, Account account) throws Trouble {
    Optional<String> id = question.text("replaces");
    if (id.isEmpty()) {
      return "";
    }
    Certified before =
        RenewalDesk.certificate(records, id.get())
            .orElseThrow(
                () -> Trouble.malformed("'replaces' names no certificate of this authority"));
    if (!before.account().equals(account.id())) {
      throw Trouble.malformed("'replaces' names a certificate of another account");
    }
    if (before.isReplaced()) {
      throw new Trouble(
          ProblemType.ALREADY_REPLACED, "another order has replaced that certificate");
    }
    return before.serial();
  }

  /** An order of the account that asks; what nobody went on with in time is invalid. */
  Placed own(SignedQuestion question, String id) throws Trouble {
    Account account = question.asker();
    Placed placed = records.placed(id).orElseThrow(Trouble::notFound);
    AccountDesk.own(account, placed.account());
    boolean open = placed.status() == OrderState.PENDING || placed.status() == OrderState.READY;
    if (open && placed.expires().isBefore(now())) {
      boolean unused = records.move(id, placed.status(), OrderState.INVALID, OVER, now());
      return records.placed(id).orElseThrow(Trouble::notFound);
    }
    return placed;
  }

  static String text(Problem problem) {
    String whole = new String(JsonText.write(ProblemJson.of(problem)), StandardCharsets.UTF_8);
    if (whole.length() <= 8_000) {
      return whole;
    }
    Problem cut =
        Problem.of(problem.type().orElse(ProblemType.SERVER_INTERNAL), "too long to be told");
    return new String(JsonText.write(ProblemJson.of(cut)), StandardCharsets.UTF_8);
  }

  Reply ask(SignedQuestion question, String id) throws Trouble {
    question.mustBeAsking();
    return answer(own(question, id), 200);
  }

  Reply answer(Placed placed, int status) throws Trouble {
    ObjectNode json = JsonText.object().put("status", placed.status().word());
    json.put("expires", placed.expires().toString());
    ArrayNode names = json.putArray("identifiers");
    for (Identifier one : names(placed)) {
      names.add(IdentifierJson.of(one));
    }
    ArrayNode proofs = json.putArray("authorizations");
    for (Proving one : records.provings(placed.id())) {
      proofs.add(addresses.of(Addresses.PROOFS, one.id()));
    }
    String url = addresses.of(Addresses.ORDERS, placed.id());
    json.put("finalize", url + "/finalize");
    if (!placed.certificate().isEmpty()) {
      json.put("certificate", addresses.of(Addresses.CERTIFICATES, placed.certificate()));
    }
    set(json, "error", placed.error());
    if (!placed.replaces().isEmpty()) {
      json.put("replaces", placed.replaces());
    }
    Reply reply = Reply.json(status, json).with("Location", url);
    return placed.status() == OrderState.PROCESSING ? reply.with("Retry-After", "1") : reply;
  }

  private static void set(ObjectNode json, String name, String stored) throws Trouble {
    if (!stored.isEmpty()) {
      try {
        json.set(name, JsonText.read(stored.getBytes(StandardCharsets.UTF_8)));
      } catch (JsonText.Malformed e) {
        throw new Trouble(ProblemType.SERVER_INTERNAL, "what is on record is damaged");
      }
    }
  }

  static List<Identifier> names(Placed placed) {
    List<Identifier> all = new ArrayList<>();
    for (String one : placed.names().split(" ", -1)) {
      all.add(name(one));
    }
    return all;
  }

  static Identifier name(String stored) {
    int colon = stored.indexOf(':');
    return new Identifier(stored.substring(0, colon), stored.substring(colon + 1));
  }

  /** What is to be proven for a name is asked for, or given up. */
  Reply proof(SignedQuestion question, String id) throws Trouble {
    Account account = question.asker();
    Proving proving = records.proving(id).orElseThrow(Trouble::notFound);
    AccountDesk.own(account, proving.account());
    if (!question.isAsking()) {
      if (!question.text("status").equals(Optional.of("deactivated"))) {
        throw Trouble.malformed("an authorization can be 'deactivated', and nothing else");
      }
      records.giveUp(proving);
      proving = records.proving(id).orElseThrow(Trouble::notFound);
    }
    Identifier name = name(proving.name());
    boolean over =
        proving.expires().isBefore(now())
            && (proving.status() == ProofState.PENDING || proving.status() == ProofState.VALID);
    ProofState status = over ? ProofState.EXPIRED : proving.status();
    ObjectNode json = JsonText.object().put("status", status.word());
    json.put("expires", proving.expires().toString());
    json.set("identifier", IdentifierJson.of(name));
    if (proving.isWildcard()) {
      json.put("wildcard", true);
    }
    ArrayNode all = json.putArray("challenges");
    boolean processing = false;
    List<Challenge> challenges = records.challenges(id);
    boolean begun = challenges.stream().anyMatch(one -> one.status() != ChallengeState.PENDING);
    for (Challenge one : challenges) {
      processing |= one.status() == ChallengeState.PROCESSING;
      if (!begun || one.status() != ChallengeState.PENDING) {
        all.add(json(one));
      }
    }
    Reply reply = Reply.json(200, json);
    return processing ? reply.with("Retry-After", "1") : reply;
  }

  ObjectNode json(Challenge challenge) throws Trouble {
    ObjectNode json =
        JsonText.object()
            .put("type", challenge.type())
            .put("url", addresses.of(Addresses.CHALLENGES, challenge.id()))
            .put("status", challenge.status().word())
            .put("token", challenge.token());
    if (challenge.validated().isAfter(Records.NEVER)) {
      json.put("validated", challenge.validated().toString());
    }
    set(json, "error", challenge.error());
    return json;
  }
}
