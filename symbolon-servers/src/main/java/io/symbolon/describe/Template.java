// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A text with places for values, such as <code>listener {port}</code>. A brace that is meant as a
 * character is written twice.
 */
final class Template {
  private static final Pattern PLACE =
      Pattern.compile(
          "\\{\\{|\\}\\}|\\{([a-z][a-z0-9-]*(?:\\.[a-z-]+)?(?: by [a-z][a-z0-9-]*)?)\\}");

  private final String text;
  private final List<String> literals = new ArrayList<>(); // one more than names
  private final List<String> names = new ArrayList<>();
  private final Pattern reading;

  private Template(String text) {
    this.text = text;
    StringBuilder literal = new StringBuilder();
    Matcher places = PLACE.matcher(text);
    int at = 0;
    while (places.find()) {
      literal.append(text, at, places.start());
      if (places.group(1) == null) {
        literal.append(places.group().charAt(0));
      } else {
        literals.add(literal.toString());
        literal.setLength(0);
        names.add(places.group(1));
      }
      at = places.end();
    }
    literals.add(literal.append(text.substring(at)).toString());
    StringBuilder regex = new StringBuilder();
    for (int i = 0; i < names.size(); i++) {
      regex.append(Pattern.quote(literals.get(i))).append(i + 1 < names.size() ? "(.*?)" : "(.*)");
    }
    reading = Pattern.compile(regex + Pattern.quote(literals.get(names.size())), Pattern.DOTALL);
  }

  static Template of(String text) {
    return new Template(text);
  }

  /** What is wrong with it, as a template. */
  static Optional<String> mistake(String text) {
    String rest = PLACE.matcher(text).replaceAll("");
    return rest.indexOf('{') >= 0 || rest.indexOf('}') >= 0
        ? Optional.of("A brace that is no placeholder is written twice: {{ or }}.")
        : Optional.empty();
  }

  List<String> names() {
    return List.copyOf(names);
  }

  boolean isConstant() {
    return names.isEmpty();
  }

  /** Whether it is one placeholder and nothing else. */
  boolean isOnly(String name) {
    return names.equals(List.of(name)) && literals.stream().allMatch(String::isEmpty);
  }

  boolean has(String name) {
    return names.contains(name);
  }

  /** The text of a constant. */
  String constant() {
    return literals.get(0);
  }

  /** The text with values; nothing where one is not known. */
  Optional<String> fill(Function<String, Optional<String>> values) {
    StringBuilder filled = new StringBuilder(literals.get(0));
    for (int i = 0; i < names.size(); i++) {
      Optional<String> value = values.apply(names.get(i));
      if (value.isEmpty()) {
        return Optional.empty();
      }
      filled.append(value.get()).append(literals.get(i + 1));
    }
    return Optional.of(filled.toString());
  }

  /** The values in a text of this form; nothing where it is of another. */
  Optional<Map<String, String>> values(String filled) {
    Matcher matcher = reading.matcher(filled);
    if (!matcher.matches()) {
      return Optional.empty();
    }
    Map<String, String> values = new LinkedHashMap<>();
    for (int i = 0; i < names.size(); i++) {
      values.put(names.get(i), matcher.group(i + 1));
    }
    return Optional.of(values);
  }

  @Override
  public String toString() {
    return text;
  }
}
