// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;

/** Turns records into JSON. What is empty in an Optional is left out. */
public final class JsonDocuments {
  private JsonDocuments() {}

  /** The mapper, which the schemas are made from as well. */
  public static ObjectMapper mapper() {
    return JsonMapper.builder()
        .addModule(new Jdk8Module())
        .enable(SerializationFeature.INDENT_OUTPUT)
        .defaultPropertyInclusion(
            JsonInclude.Value.construct(JsonInclude.Include.NON_ABSENT, JsonInclude.Include.ALWAYS))
        .build();
  }

  static String text(Record document) {
    try {
      return mapper().writeValueAsString(document);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException("a document that can't be written", e);
    }
  }
}
