// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.place;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.json.JsonMapper;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;

/**
 * Writes where a certificate is shown as versioned JSON, and reads it. What a newer version wrote
 * is refused: it may say something that would be passed over here.
 */
public final class PlacesText {
  private static final ObjectMapper MAPPER =
      JsonMapper.builder().enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).build();

  private PlacesText() {}

  /** {@return it as JSON} */
  public static String write(PlacesRecord record) {
    try {
      return MAPPER.writeValueAsString(record);
    } catch (JsonProcessingException e) {
      throw new IllegalStateException(e); // it holds texts and numbers alone
    }
  }

  /**
   * {@return what is stored}
   *
   * @throws SymbolonException if it is damaged, or a newer version wrote it
   */
  public static PlacesRecord read(String json) {
    try {
      JsonNode tree = MAPPER.readTree(json);
      int version = tree.path("version").asInt(0);
      if (version > PlacesRecord.VERSION) {
        throw new SymbolonException(
            Reason.UNSUPPORTED,
            "What is stored of where the certificate is shown can't be used.",
            "It has the version " + version + "; this Symbolon knows " + PlacesRecord.VERSION + ".",
            "Use the newer Symbolon that wrote it.");
      }
      return MAPPER.treeToValue(tree, PlacesRecord.class);
    } catch (JsonProcessingException | NullPointerException e) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "What is stored of where the certificate is shown can't be used.",
          "It is damaged.",
          "Give the server its certificate again with symbolon configure.",
          e);
    }
  }
}
