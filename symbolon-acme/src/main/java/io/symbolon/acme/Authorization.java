// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.wire.IdentifierJson;
import io.symbolon.acme.wire.JsonText;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * What an authority wants to see before it believes that a name is under one's control (RFC 8555,
 * 7.1.4).
 *
 * @param url its address
 * @param name the name, without the {@code *.} of a wildcard
 * @param isWildcard whether it is for all hosts of that domain
 * @param status where it stands
 * @param challenges the ways to prove it
 * @param again when it is worth asking again
 */
public record Authorization(
    URI url,
    Identifier name,
    boolean isWildcard,
    Status status,
    List<Challenge> challenges,
    Optional<Instant> again) {
  private static final int CHALLENGES = 50;
  private static final Pattern TOKEN = Pattern.compile("[A-Za-z0-9_-]{22,256}");

  /** Where an authorization stands (RFC 8555, 7.1.6). */
  public enum Status {
    /** Nothing is proven yet. */
    PENDING,
    /** It is proven. */
    VALID,
    /** The proof failed. */
    INVALID,
    /** The account gave it up. */
    DEACTIVATED,
    /** Its time is over. */
    EXPIRED,
    /** The authority took it back. */
    REVOKED
  }

  /**
   * A way to prove control.
   *
   * @param url its address
   * @param type its type, such as {@code http-01}
   * @param status where it stands
   * @param token what must be shown
   * @param error why it failed
   */
  public record Challenge(
      URI url, String type, ChallengeStatus status, String token, Optional<Problem> error) {}

  /** Where a challenge stands (RFC 8555, 7.1.6). */
  public enum ChallengeStatus {
    /** It can be taken on. */
    PENDING,
    /** The authority is looking. */
    PROCESSING,
    /** It is met. */
    VALID,
    /** It failed. */
    INVALID
  }

  /** Copies the challenges. */
  public Authorization {
    challenges = List.copyOf(challenges);
  }

  static Authorization read(URI url, ObjectNode json, Optional<Instant> again)
      throws JsonText.Malformed {
    List<Challenge> challenges = new ArrayList<>();
    for (JsonNode one : JsonText.list(json, "challenges", CHALLENGES)) {
      Optional<String> token = JsonText.find(one, "token");
      // A challenge without a token of the right form is one of another standard.
      if (token.filter(TOKEN.asMatchPredicate()).isPresent()) {
        challenges.add(
            new Challenge(
                JsonText.address(one, "url"),
                JsonText.text(one, "type"),
                Order.status(ChallengeStatus.class, JsonText.text(one, "status")),
                token.get(),
                Order.problem(one)));
      }
    }
    JsonNode name = json.path("identifier");
    return new Authorization(
        url,
        IdentifierJson.read(name),
        JsonText.flag(json, "wildcard"),
        Order.status(Status.class, JsonText.text(json, "status")),
        challenges,
        again);
  }

  /** {@return the name with the {@code *.} of a wildcard} */
  public String fullName() {
    return (isWildcard ? "*." : "") + name.value();
  }

  /** {@return why it failed} */
  public Optional<Problem> error() {
    return challenges.stream().flatMap(one -> one.error().stream()).findFirst();
  }
}
