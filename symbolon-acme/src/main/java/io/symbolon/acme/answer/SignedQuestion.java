// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.protocol.ProblemType;
import io.symbolon.acme.records.AccountState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Account;
import io.symbolon.acme.wire.JsonText;
import java.security.PublicKey;
import java.util.Optional;
import org.jose4j.jwk.PublicJsonWebKey;

/**
 * A signed question whose signature, address and nonce are as they should be.
 *
 * @param account who asks; nothing where the key itself says it
 * @param key the key that the message itself names
 * @param from the part of an address that counts as one client
 */
record SignedQuestion(
    SignedMessage message, Optional<Account> account, Optional<PublicJsonWebKey> key, String from) {
  /** Takes a message in, which was sent to an address (RFC 8555, 6.2 to 6.5). */
  static SignedQuestion read(
      byte[] body, String url, String from, Addresses addresses, Records records, Nonces nonces)
      throws Trouble {
    SignedMessage message = SignedMessage.read(body);
    Optional<String> kid = message.header("kid");
    if (kid.isPresent() == message.hasKey()) {
      throw Trouble.malformed("the header must have either 'kid' or 'jwk'");
    }
    if (!message.header("url").equals(Optional.of(url))) {
      throw Trouble.unauthorized("'url' in the header is not the address that was asked: " + url);
    }
    Optional<Account> account = Optional.empty();
    Optional<PublicJsonWebKey> named = Optional.empty();
    PublicKey key;
    if (kid.isPresent()) {
      account = records.account(addresses.id(Addresses.ACCOUNTS, kid.get()));
      if (account.isEmpty()) {
        throw new Trouble(ProblemType.ACCOUNT_DOES_NOT_EXIST, "there is no account " + kid.get());
      }
      key = SignedMessage.key(account.get().jwk()).getPublicKey();
    } else {
      named = Optional.of(message.key());
      key = named.get().getPublicKey();
    }
    message.verify(key);
    String nonce = message.header("nonce").orElse("");
    if (!nonces.use(nonce)) {
      throw new Trouble(
          ProblemType.BAD_NONCE, "the nonce is not one of mine, too old, or was used");
    }
    if (account.isPresent() && account.get().status() != AccountState.VALID) {
      throw Trouble.unauthorized("the account is " + account.get().status().word());
    }
    return new SignedQuestion(message, account, named, from);
  }

  /** Who asks, with an account. */
  Account asker() throws Trouble {
    return account.orElseThrow(() -> Trouble.malformed("this is asked for with an account: 'kid'"));
  }

  /** Whether something is asked for and nothing said. */
  boolean isAsking() {
    return message.payload().length == 0;
  }

  void mustBeAsking() throws Trouble {
    if (!isAsking()) {
      throw Trouble.malformed("the content must be empty (POST-as-GET)");
    }
  }

  com.fasterxml.jackson.databind.node.ObjectNode content() throws Trouble {
    return message.content();
  }

  Optional<String> text(String name) throws Trouble {
    try {
      return JsonText.find(content(), name);
    } catch (JsonText.Malformed e) {
      throw Trouble.malformed(e.what());
    }
  }
}
