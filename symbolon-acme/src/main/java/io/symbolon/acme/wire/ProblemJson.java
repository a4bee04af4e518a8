// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.symbolon.acme.protocol.Identifier;
import io.symbolon.acme.protocol.Problem;
import io.symbolon.acme.protocol.ProblemType;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Problem documents (RFC 7807, RFC 8555, 6.7). */
public final class ProblemJson {
  private static final int PARTS = 100; // of one problem; the rest is left out

  private ProblemJson() {}

  /**
   * {@return the problem that a document tells; what is not as it should be is left out}
   *
   * @param status the status of the answer
   */
  public static Problem read(JsonNode document, int status) {
    String name = text(document, "type").orElse("");
    List<Problem> parts = new ArrayList<>();
    JsonNode all = document.path("subproblems");
    for (int i = 0; i < Math.min(all.size(), PARTS); i++) {
      parts.add(read(all.get(i), status));
    }
    return new Problem(
        ProblemType.of(name),
        name,
        text(document, "detail").orElse(""),
        document.path("status").asInt(status),
        text(document.path("identifier"), "value"),
        text(document, "instance"),
        parts);
  }

  private static Optional<String> text(JsonNode node, String name) {
    JsonNode value = node.path(name);
    return value.isTextual() ? Optional.of(value.textValue()) : Optional.empty();
  }

  /** {@return a problem as a document} */
  public static ObjectNode of(Problem problem) {
    ObjectNode json = JsonText.object().put("type", problem.name()).put("detail", problem.detail());
    json.put("status", problem.status());
    problem
        .identifier()
        .ifPresent(one -> json.set("identifier", IdentifierJson.of(Identifier.of(one))));
    problem.instance().ifPresent(one -> json.put("instance", one));
    if (!problem.parts().isEmpty()) {
      ArrayNode all = json.putArray("subproblems");
      problem.parts().forEach(one -> all.add(of(one)));
    }
    return json;
  }
}
