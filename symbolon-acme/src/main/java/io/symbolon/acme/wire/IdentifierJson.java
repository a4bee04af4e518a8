// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;

/** An identifier in documents (RFC 8555, 7.1.3). */
public final class IdentifierJson {
  private IdentifierJson() {}

  /**
   * {@return the identifier in a document}
   *
   * @param json the part of the document
   * @throws JsonText.Malformed if it is none
   */
  public static Identifier read(JsonNode json) throws JsonText.Malformed {
    return new Identifier(JsonText.text(json, "type"), JsonText.text(json, "value"));
  }

  /**
   * {@return an identifier as a part of a document}
   *
   * @param name the identifier
   */
  public static ObjectNode of(Identifier name) {
    return JsonText.object().put("type", name.type()).put("value", name.value());
  }
}
