// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.wire.IdentifierJson;
import io.symbolon.acme.wire.JsonText;
import io.symbolon.acme.wire.ProblemJson;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * An order as it was when the authority was last asked (RFC 8555, 7.1.3).
 *
 * @param url its address
 * @param status where it stands
 * @param expires until when it can be gone on with
 * @param names the names that the certificate is for
 * @param authorizations where control of each name is proven
 * @param finalizing where the request for the certificate goes
 * @param certificate where the certificate is, once it is there
 * @param error why it failed
 * @param again when it is worth asking again
 */
public record Order(
    URI url,
    Status status,
    Optional<Instant> expires,
    List<Identifier> names,
    List<URI> authorizations,
    URI finalizing,
    Optional<URI> certificate,
    Optional<Problem> error,
    Optional<Instant> again) {
  static final int MOST_NAMES = 500;

  /** Where an order stands (RFC 8555, 7.1.6). */
  public enum Status {
    /** Control of the names is not proven yet. */
    PENDING,
    /** The request for the certificate is awaited. */
    READY,
    /** The certificate is being made. */
    PROCESSING,
    /** The certificate is there. */
    VALID,
    /** It failed. */
    INVALID
  }

  /** Copies the lists. */
  public Order {
    names = List.copyOf(names);
    authorizations = List.copyOf(authorizations);
  }

  static Order read(URI url, ObjectNode json, Optional<Instant> again) throws JsonText.Malformed {
    List<Identifier> names = new ArrayList<>();
    for (JsonNode one : JsonText.list(json, "identifiers", MOST_NAMES)) {
      names.add(IdentifierJson.read(one));
    }
    Optional<String> certificate = JsonText.find(json, "certificate");
    return new Order(
        url,
        status(Status.class, JsonText.text(json, "status")),
        JsonText.moment(json, "expires"),
        names,
        JsonText.addresses(json, "authorizations", MOST_NAMES),
        JsonText.address(json, "finalize"),
        certificate.isEmpty()
            ? Optional.empty()
            : Optional.of(JsonText.address(certificate.get(), "certificate")),
        problem(json),
        again);
  }

  static Optional<Problem> problem(JsonNode json) {
    return json.path("error").isObject()
        ? Optional.of(ProblemJson.read(json.path("error"), 0))
        : Optional.empty();
  }

  /** The status with a word; a word that the standard does not have is told. */
  static <T extends Enum<T>> T status(Class<T> type, String word) throws JsonText.Malformed {
    for (T one : type.getEnumConstants()) {
      if (one.name().toLowerCase(Locale.ROOT).equals(word)) {
        return one;
      }
    }
    throw new JsonText.Malformed("'status' is " + word + ", which the standard does not have");
  }
}
