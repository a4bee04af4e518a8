// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.acme.wire.JsonText;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * What is answered.
 *
 * @param headers the headers, each once
 * @param links the links, besides that to the directory
 * @param body the content
 */
@SuppressWarnings("ArrayRecordComponent") // an answer is never compared
record Reply(int status, Map<String, String> headers, List<String> links, byte[] body) {
  static Reply json(int status, JsonNode body) {
    return new Reply(
        status, Map.of("Content-Type", "application/json"), List.of(), JsonText.write(body));
  }

  static Reply of(String type, byte[] body) {
    return new Reply(200, Map.of("Content-Type", type), List.of(), body);
  }

  static Reply empty(int status) {
    return new Reply(status, Map.of(), List.of(), new byte[0]);
  }

  Reply with(String name, String value) {
    Map<String, String> all = new LinkedHashMap<>(headers);
    all.put(name, value);
    return new Reply(status, all, links, body);
  }

  Reply linked(String target, String relation) {
    List<String> all = new java.util.ArrayList<>(links);
    all.add("<" + target + ">;rel=\"" + relation + "\"");
    return new Reply(status, headers, all, body);
  }
}
