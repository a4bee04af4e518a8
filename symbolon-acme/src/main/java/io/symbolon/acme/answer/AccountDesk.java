// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.AccountState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Account;
import io.symbolon.acme.wire.JsonText;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jose4j.jwk.JsonWebKey;
import org.jose4j.jwk.PublicJsonWebKey;

/** Accounts (RFC 8555, 7.3). */
final class AccountDesk {
  private static final int CONTACTS = 20;
  private static final int CONTACT = 300;
  private static final int PAGE = 100;
  private static final Duration HOUR = Duration.ofHours(1);

  private final AnswerPlan plan;
  private final Records records;
  private final Addresses addresses;
  private final AddressShares shares;
  private final Ids ids;
  private final Clock clock;

  AccountDesk(
      AnswerPlan plan,
      Records records,
      Addresses addresses,
      AddressShares shares,
      Ids ids,
      Clock clock) {
    this.plan = plan;
    this.records = records;
    this.addresses = addresses;
    this.shares = shares;
    this.ids = ids;
    this.clock = clock;
  }

  Reply make(SignedQuestion question) throws Trouble {
    PublicJsonWebKey key =
        question
            .key()
            .orElseThrow(() -> Trouble.malformed("an account is made with its key: 'jwk'"));
    String thumbprint = SignedMessage.thumbprint(key);
    ObjectNode wish = question.content();
    Optional<Account> there = records.accountOfKey(thumbprint);
    if (there.isPresent()) {
      if (there.get().status() != AccountState.VALID) {
        throw Trouble.unauthorized("the account of this key is " + there.get().status().word());
      }
      return answer(there.get(), 200);
    }
    if (flag(wish, "onlyReturnExisting")) {
      throw new Trouble(ProblemType.ACCOUNT_DOES_NOT_EXIST, "this key has no account");
    }
    if (!plan.knownKeys().isEmpty() && !plan.knownKeys().contains(thumbprint)) {
      throw Trouble.unauthorized(
          "only known keys may have an account here; this one has the thumbprint " + thumbprint);
    }
    String contacts = contacts(wish);
    if (plan.terms().isPresent() && !flag(wish, "termsOfServiceAgreed")) {
      throw new Trouble(
          Problem.of(ProblemType.USER_ACTION_REQUIRED, "the terms of service must be agreed to")
              .withInstance(plan.terms().get().toString()));
    }
    String external = external(wish, key);
    Instant now = clock.instant();
    shares.account(question.from());
    if (records.accountsSince(now.minus(HOUR)) >= plan.limits().accounts()) {
      throw Trouble.tooMany("too many accounts were made in the last hour", HOUR.toSeconds() / 4);
    }
    Account made =
        records.add(
            new Account(
                ids.next(),
                thumbprint,
                key.toJson(JsonWebKey.OutputControlLevel.PUBLIC_ONLY),
                contacts,
                AccountState.VALID,
                now,
                external));
    return answer(made, 201);
  }

  private static boolean flag(ObjectNode wish, String name) throws Trouble {
    try {
      return JsonText.flag(wish, name);
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed(e.what());
    }
  }

  private static String contacts(ObjectNode wish) throws Trouble {
    ArrayNode contacts = JsonText.object().putArray("contact");
    if (wish.has("contact")) {
      List<JsonNode> all;
      try {
        all = JsonText.list(wish, "contact", CONTACTS);
      } catch (JsonText.Malformed e) {
        throw Trouble.malformed(e.what());
      }
      for (JsonNode one : all) {
        contacts.add(contact(one.isTextual() ? one.textValue() : ""));
      }
    }
    String text = new String(JsonText.write(contacts), StandardCharsets.UTF_8);
    if (text.length() > 4000) {
      throw new Trouble(ProblemType.INVALID_CONTACT, "the contacts are too long");
    }
    return text;
  }

  private static String contact(String text) throws Trouble {
    if (!text.startsWith("mailto:")) {
      throw new Trouble(
          ProblemType.UNSUPPORTED_CONTACT, "contacts are e-mail addresses: mailto:NAME@DOMAIN");
    }
    // One address and no header fields (RFC 8555, 7.3).
    if (text.length() > CONTACT || !text.matches("mailto:[^\\s@,?;<>]+@[^\\s@,?;<>]+")) {
      throw new Trouble(ProblemType.INVALID_CONTACT, "it is not one e-mail address");
    }
    return text;
  }

  /** What binds the account to one that is known from elsewhere (RFC 8555, 7.3.4). */
  private String external(ObjectNode wish, PublicJsonWebKey key) throws Trouble {
    if (plan.externalKeys().isEmpty()) {
      return "";
    }
    if (!(wish.get("externalAccountBinding") instanceof ObjectNode binding)) {
      throw new Trouble(
          ProblemType.EXTERNAL_ACCOUNT_REQUIRED, "an account must be bound to one that is known");
    }
    SignedMessage message = SignedMessage.read(binding);
    String keyId = message.header("kid").orElse("");
    byte[] shared = plan.externalKeys().get(keyId);
    if (shared == null) {
      throw Trouble.unauthorized("there is no key " + keyId + " to bind an account to");
    }
    message.verifyShared(shared);
    if (message.header("nonce").isPresent()
        || !message.header("url").equals(Optional.of(addresses.of(Addresses.ACCOUNTS)))) {
      throw Trouble.malformed("the binding has a nonce or another 'url'");
    }
    PublicJsonWebKey bound =
        SignedMessage.key(new String(message.payload(), StandardCharsets.UTF_8));
    if (!SignedMessage.thumbprint(bound).equals(SignedMessage.thumbprint(key))) {
      throw Trouble.malformed("the binding is for another key");
    }
    return keyId;
  }

  /** An account is asked for or changed by itself. */
  Reply change(SignedQuestion question, String id) throws Trouble {
    Account account = question.asker();
    own(account, id);
    if (question.isAsking()) {
      return answer(account, 200);
    }
    ObjectNode wish = question.content();
    Optional<String> status = question.text("status");
    if (status.isPresent()) {
      if (!status.get().equals("deactivated")) {
        throw Trouble.malformed("an account can be 'deactivated', and nothing else");
      }
      boolean unused = records.deactivate(id);
      return answer(records.account(id).orElseThrow(Trouble::notFound), 200);
    }
    if (wish.has("contact")) {
      boolean unused = records.changeContacts(id, contacts(wish));
    }
    return answer(records.account(id).orElseThrow(Trouble::notFound), 200);
  }

  static void own(Account account, String id) throws Trouble {
    if (!account.id().equals(id)) {
      throw Trouble.unauthorized("this is another account's");
    }
  }

  Reply orders(SignedQuestion question, String id, int from) throws Trouble {
    own(question.asker(), id);
    question.mustBeAsking();
    List<Records.Placed> all = records.placedBy(id, from, PAGE + 1);
    ObjectNode json = JsonText.object();
    ArrayNode list = json.putArray("orders");
    all.stream().limit(PAGE).forEach(one -> list.add(addresses.of(Addresses.ORDERS, one.id())));
    Reply reply = Reply.json(200, json);
    return all.size() > PAGE
        ? reply.linked(addresses.of(Addresses.ACCOUNTS, id) + "/orders/" + (from + PAGE), "next")
        : reply;
  }

  /** Another key takes the place of an account's (RFC 8555, 7.3.5). */
  Reply changeKey(SignedQuestion question) throws Trouble {
    Account account = question.asker();
    SignedMessage inside = SignedMessage.read(question.message().payload());
    if (!inside.hasKey() || inside.header("kid").isPresent()) {
      throw Trouble.malformed("the message inside is signed with the new key: 'jwk'");
    }
    PublicJsonWebKey fresh = inside.key();
    inside.verify(fresh.getPublicKey());
    if (!inside.header("url").equals(Optional.of(addresses.of(Addresses.KEY)))) {
      throw Trouble.malformed("'url' inside is not the address that was asked");
    }
    ObjectNode content = inside.content();
    String url = addresses.of(Addresses.ACCOUNTS, account.id());
    if (!url.equals(content.path("account").asText())) {
      throw Trouble.malformed("'account' inside is another one");
    }
    PublicJsonWebKey old =
        SignedMessage.key(
            new String(JsonText.write(content.path("oldKey")), StandardCharsets.UTF_8));
    if (!SignedMessage.thumbprint(old).equals(account.thumbprint())) {
      throw Trouble.malformed("'oldKey' inside is not the key of the account");
    }
    Optional<Account> other =
        records.changeKey(
            account.id(),
            account.thumbprint(),
            SignedMessage.thumbprint(fresh),
            fresh.toJson(JsonWebKey.OutputControlLevel.PUBLIC_ONLY));
    if (other.isPresent()) {
      Problem taken =
          Problem.of(ProblemType.MALFORMED, "the new key has an account").withStatus(409);
      throw new Trouble(taken);
    }
    return answer(records.account(account.id()).orElseThrow(Trouble::notFound), 200);
  }

  private Reply answer(Account account, int status) throws Trouble {
    String url = addresses.of(Addresses.ACCOUNTS, account.id());
    ObjectNode json = JsonText.object().put("status", account.status().word());
    try {
      json.set(
          "contact",
          JsonText.read(("{\"all\":" + account.contacts() + "}").getBytes(StandardCharsets.UTF_8))
              .get("all"));
    } catch (JsonText.Malformed e) {
      throw new Trouble(ProblemType.SERVER_INTERNAL, "the contacts on record are damaged");
    }
    if (plan.terms().isPresent()) {
      json.put("termsOfServiceAgreed", true);
    }
    json.put("orders", url + "/orders");
    return Reply.json(status, json).with("Location", url);
  }
}
