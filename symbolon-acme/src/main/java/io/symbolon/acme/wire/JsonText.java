// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** JSON objects of the protocol, read strictly and within bounds. */
public final class JsonText {
  private static final int DEPTH = 20;
  private static final int NUMBER = 20;

  private static final ObjectMapper MAPPER =
      new ObjectMapper(
              JsonFactory.builder()
                  .streamReadConstraints(
                      StreamReadConstraints.builder()
                          .maxNestingDepth(DEPTH)
                          .maxNumberLength(NUMBER)
                          .build())
                  .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
                  .build())
          .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS);

  private JsonText() {}

  /** Something is not as the standard wants it; its message names what. */
  public static final class Malformed extends Exception {
    private static final long serialVersionUID = 1L;

    /**
     * Says what.
     *
     * @param message what is wrong
     */
    public Malformed(String message) {
      super(message);
    }

    /** {@return what is wrong} */
    public String what() {
      return String.valueOf(getMessage());
    }
  }

  /** {@return an object with nothing in it} */
  public static ObjectNode object() {
    return MAPPER.createObjectNode();
  }

  /** {@return the object that a text of our own is} */
  public static ObjectNode parsed(String text) {
    try {
      return read(text.getBytes(StandardCharsets.UTF_8));
    } catch (Malformed e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * {@return the object that a text is}
   *
   * @param text the text in UTF-8
   * @throws Malformed if it is no JSON, or another value than an object
   */
  public static ObjectNode read(byte[] text) throws Malformed {
    try {
      if (MAPPER.readTree(text) instanceof ObjectNode object) {
        return object;
      }
      throw new Malformed("it is no JSON object");
    } catch (JsonProcessingException e) {
      throw new Malformed("it is no JSON: " + e.getOriginalMessage());
    } catch (IOException e) {
      throw new Malformed("it is no JSON in UTF-8");
    }
  }

  /**
   * {@return a value as text}
   *
   * @param node the value
   */
  public static byte[] write(JsonNode node) {
    try {
      return MAPPER.writeValueAsBytes(node);
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException("no JSON: " + e.getOriginalMessage(), e);
    }
  }

  /**
   * {@return a text that must be there}
   *
   * @param name the name of the member
   * @throws Malformed if it is not there or no text
   */
  public static String text(JsonNode object, String name) throws Malformed {
    return find(object, name).orElseThrow(() -> new Malformed("it has no '" + name + "'"));
  }

  /**
   * {@return a text that may be there}
   *
   * @param name the name of the member
   * @throws Malformed if it is no text
   */
  public static Optional<String> find(JsonNode object, String name) throws Malformed {
    JsonNode value = object.get(name);
    if (value == null || value.isNull()) {
      return Optional.empty();
    }
    if (!value.isTextual()) {
      throw new Malformed("'" + name + "' is no text");
    }
    return Optional.of(value.textValue());
  }

  /**
   * {@return an address that must be there}
   *
   * @param name the name of the member
   * @throws Malformed if it is not there or no absolute address
   */
  public static URI address(JsonNode object, String name) throws Malformed {
    return address(text(object, name), name);
  }

  /**
   * {@return an address}
   *
   * @param text the address
   * @param name what it is
   * @throws Malformed if it is no absolute address with a host
   */
  public static URI address(String text, String name) throws Malformed {
    try {
      URI address = new URI(text);
      if (address.isAbsolute() && address.getHost() != null) {
        return address;
      }
    } catch (URISyntaxException e) {
      // told below, as what is no address with a host
    }
    throw new Malformed("'" + name + "' is no address");
  }

  /**
   * {@return addresses}
   *
   * @param name the name of the member
   * @param most how many there may be
   * @throws Malformed if it is not there, too long, or no list of addresses
   */
  public static List<URI> addresses(JsonNode object, String name, int most) throws Malformed {
    List<URI> all = new ArrayList<>();
    for (JsonNode one : list(object, name, most)) {
      all.add(address(one.isTextual() ? one.textValue() : "", name));
    }
    return all;
  }

  /**
   * {@return a list that must be there}
   *
   * @param name the name of the member
   * @param most how many values there may be
   * @throws Malformed if it is not there, too long, or no list
   */
  public static List<JsonNode> list(JsonNode object, String name, int most) throws Malformed {
    JsonNode value = object.get(name);
    if (value == null || !value.isArray()) {
      throw new Malformed("'" + name + "' is no list");
    }
    if (value.size() > most) {
      throw new Malformed("'" + name + "' has more than " + most + " values");
    }
    List<JsonNode> all = new ArrayList<>();
    value.forEach(all::add);
    return all;
  }

  /**
   * {@return a moment that may be there (RFC 3339)}
   *
   * @param name the name of the member
   * @throws Malformed if it is no moment
   */
  public static Optional<Instant> moment(JsonNode object, String name) throws Malformed {
    Optional<String> text = find(object, name);
    try {
      return text.map(one -> OffsetDateTime.parse(one).toInstant());
    } catch (DateTimeParseException e) {
      throw new Malformed("'" + name + "' is no moment");
    }
  }

  /**
   * {@return whether a member is true; false where it is not there}
   *
   * @param name the name of the member
   * @throws Malformed if it is neither true nor false
   */
  public static boolean flag(JsonNode object, String name) throws Malformed {
    JsonNode value = object.get(name);
    if (value != null && !value.isBoolean() && !value.isNull()) {
      throw new Malformed("'" + name + "' is neither true nor false");
    }
    return value != null && value.booleanValue();
  }
}
