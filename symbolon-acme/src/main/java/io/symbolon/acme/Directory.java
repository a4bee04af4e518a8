// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.wire.JsonText;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What an authority offers (RFC 8555, 7.1.1).
 *
 * @param newNonce where nonces come from
 * @param newAccount where accounts are made
 * @param newOrder where orders are placed
 * @param revokeCert where certificates are revoked, if it takes that
 * @param keyChange where an account gets another key, if it takes that
 * @param renewalInfo where it says when a certificate should be renewed (RFC 9773), if it does
 * @param terms its terms of service, if it has any
 * @param website its page for people
 * @param caaIdentities the names by which CAA records name it
 * @param externalAccountRequired whether an account must be bound to one that it knows
 */
public record Directory(
    URI newNonce,
    URI newAccount,
    URI newOrder,
    Optional<URI> revokeCert,
    Optional<URI> keyChange,
    Optional<URI> renewalInfo,
    Optional<URI> terms,
    Optional<URI> website,
    List<String> caaIdentities,
    boolean externalAccountRequired) {
  private static final int NAMES = 100;

  /** Copies the lists. */
  public Directory {
    caaIdentities = List.copyOf(caaIdentities);
  }

  static Directory read(ObjectNode json) throws JsonText.Malformed {
    JsonNode meta = json.path("meta");
    List<String> names = new ArrayList<>();
    if (meta.has("caaIdentities")) {
      for (JsonNode name : JsonText.list(meta, "caaIdentities", NAMES)) {
        names.add(name.asText());
      }
    }
    return new Directory(
        JsonText.address(json, "newNonce"),
        JsonText.address(json, "newAccount"),
        JsonText.address(json, "newOrder"),
        maybe(json, "revokeCert"),
        maybe(json, "keyChange"),
        maybe(json, "renewalInfo"),
        maybe(meta, "termsOfService"),
        maybe(meta, "website"),
        names,
        JsonText.flag(meta, "externalAccountRequired"));
  }

  private static Optional<URI> maybe(JsonNode json, String name) throws JsonText.Malformed {
    Optional<String> text = JsonText.find(json, name);
    return text.isEmpty() ? Optional.empty() : Optional.of(JsonText.address(text.get(), name));
  }
}
