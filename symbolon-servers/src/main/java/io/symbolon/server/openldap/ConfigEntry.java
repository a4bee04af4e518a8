// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.openldap;

import io.symbolon.lossless.SourceText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * One entry as LDIF has it (RFC 2849).
 *
 * <pre>
 * entry = *( attribute ":" *" " value / attribute "::" *" " base64 ) ; a line that begins with a
 *                                                                    ; blank goes on
 * </pre>
 */
final class ConfigEntry {
  /** An attribute with one value, and the line it begins on. */
  record Value(String name, String text, int line) {}

  private final List<Value> values = new ArrayList<>();

  private ConfigEntry() {}

  static ConfigEntry read(SourceText source) {
    ConfigEntry entry = new ConfigEntry();
    String[] lines = source.text().split("\n", -1);
    StringBuilder whole = new StringBuilder();
    int from = 0;
    for (int i = 0; i <= lines.length; i++) {
      String line = i < lines.length ? lines[i].replaceAll("\r$", "") : "";
      if (line.startsWith(" ")) {
        whole.append(line.substring(1));
        continue;
      }
      entry.add(source, whole.toString(), from + 1);
      whole.setLength(0);
      whole.append(line);
      from = i;
    }
    return entry;
  }

  private void add(SourceText source, String line, int number) {
    int colon = line.indexOf(':');
    if (line.startsWith("#") || colon <= 0) {
      return;
    }
    String name = line.substring(0, colon);
    boolean encoded = line.startsWith(":", colon + 1);
    String value = line.substring(colon + (encoded ? 2 : 1)).strip();
    try {
      values.add(
          new Value(
              name,
              encoded
                  ? new String(Base64.getDecoder().decode(value), StandardCharsets.UTF_8)
                  : value,
              number));
    } catch (IllegalArgumentException e) {
      throw source.malformed(0, "the value of " + name + " is not Base64.");
    }
  }

  /** Attributes are told apart without regard to case. */
  Optional<Value> value(String name) {
    return values.stream()
        .filter(one -> one.name().toLowerCase(Locale.ROOT).equals(name.toLowerCase(Locale.ROOT)))
        .findFirst();
  }

  Optional<String> text(String name) {
    return value(name).map(Value::text).filter(one -> !one.isEmpty());
  }

  /** The lines of a value: as it is where it can be, else encoded. */
  static String line(String name, String value) {
    boolean plain =
        value.chars().allMatch(c -> c >= ' ' && c < 0x7F)
            && !value.startsWith(" ")
            && !value.startsWith(":")
            && !value.startsWith("<")
            && !value.endsWith(" ");
    return plain
        ? name + ": " + value
        : name + ":: " + Base64.getEncoder().encodeToString(value.getBytes(StandardCharsets.UTF_8));
  }

  /** What changes attributes all at once; one without a value is not there any more. */
  static List<String> modification(Map<String, Optional<String>> wanted) {
    List<String> lines = new ArrayList<>(List.of("dn: cn=config", "changetype: modify"));
    wanted.forEach(
        (name, value) -> {
          lines.add("replace: " + name);
          value.ifPresent(one -> lines.add(line(name, one)));
          lines.add("-");
        });
    return lines;
  }

  /** The entry's text with attributes changed, as the server will keep it. */
  static String changed(String text, Map<String, Optional<String>> wanted) {
    StringBuilder kept = new StringBuilder();
    boolean leaves = false;
    for (String line : text.split("(?<=\n)", -1)) {
      if (!line.startsWith(" ")) {
        int colon = line.indexOf(':');
        String name = colon < 0 ? "" : line.substring(0, colon);
        leaves = wanted.keySet().stream().anyMatch(name::equalsIgnoreCase);
      }
      if (!leaves) {
        kept.append(line);
      }
    }
    if (kept.length() > 0 && kept.charAt(kept.length() - 1) != '\n') {
      kept.append('\n');
    }
    wanted.forEach(
        (name, value) -> value.ifPresent(one -> kept.append(line(name, one)).append('\n')));
    return kept.toString();
  }
}
