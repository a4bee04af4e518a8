// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.artemis;

import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The address of an acceptor with its parameters, which keep their order and their spelling.
 *
 * <pre>
 * address   = "tcp://" host ":" port [ "?" parameter *( ( ";" / "&amp;" ) parameter ) ]
 * parameter = name "=" value      ; percent-encoded
 * </pre>
 */
record AcceptorAddress(String scheme, String host, String port, List<Parameter> parameters) {
  private static final Pattern FORM =
      Pattern.compile(
          "(?s)\\s*([A-Za-z][\\w+.-]*)://(\\[[^\\]]*\\]|\\$\\{[^}]*\\}|[^:/?\\[]*)"
              + "(?::(\\$\\{[^}]*\\}|\\d+))?(?:\\?(.*?))?\\s*");

  /** One parameter, as it is written; its separator stands before it. */
  record Parameter(String name, String written, String separator) {
    String value() {
      try {
        return URLDecoder.decode(written, StandardCharsets.UTF_8);
      } catch (IllegalArgumentException e) {
        return written; // a percent sign that begins nothing
      }
    }
  }

  AcceptorAddress {
    parameters = List.copyOf(parameters);
  }

  /** The address in a text; nothing where it is of another form. */
  static Optional<AcceptorAddress> of(String text) {
    Matcher form = FORM.matcher(text);
    if (!form.matches()) {
      return Optional.empty();
    }
    List<Parameter> parameters = new ArrayList<>();
    String query = Optional.ofNullable(form.group(4)).orElse("");
    int at = 0;
    String separator = "";
    while (at < query.length()) {
      int end = at;
      while (end < query.length() && query.charAt(end) != ';' && query.charAt(end) != '&') {
        end++;
      }
      String one = query.substring(at, end);
      int equals = one.indexOf('=');
      String name = equals < 0 ? one : one.substring(0, equals);
      if (!one.isBlank()) {
        parameters.add(
            new Parameter(name.strip(), equals < 0 ? "" : one.substring(equals + 1), separator));
      }
      separator = end < query.length() ? query.substring(end, end + 1) : "";
      at = end + 1;
    }
    return Optional.of(
        new AcceptorAddress(
            form.group(1),
            form.group(2),
            Optional.ofNullable(form.group(3)).orElse(""),
            parameters));
  }

  Optional<String> value(String name) {
    return parameters.stream()
        .filter(one -> one.name().equals(name))
        .reduce((first, last) -> last)
        .map(Parameter::value);
  }

  boolean is(String name) {
    return value(name).filter(word -> word.strip().equalsIgnoreCase("true")).isPresent();
  }

  /** The same with a parameter; where it is there, in its place. */
  AcceptorAddress with(String name, String value) {
    if (value(name).equals(Optional.of(value))) {
      return this;
    }
    List<Parameter> all = new ArrayList<>();
    boolean done = false;
    for (Parameter one : parameters) {
      if (!one.name().equals(name)) {
        all.add(one);
      } else if (!done) {
        all.add(new Parameter(name, encoded(value), one.separator()));
        done = true;
      }
    }
    if (!done) {
      all.add(new Parameter(name, encoded(value), ";"));
    }
    return new AcceptorAddress(scheme, host, port, all);
  }

  AcceptorAddress without(String name) {
    return new AcceptorAddress(
        scheme, host, port, parameters.stream().filter(one -> !one.name().equals(name)).toList());
  }

  AcceptorAddress at(int other) {
    return new AcceptorAddress(scheme, host, String.valueOf(other), parameters);
  }

  private static String encoded(String value) {
    return URLEncoder.encode(value, StandardCharsets.UTF_8)
        .replace("+", "%20")
        .replace("%2F", "/")
        .replace("%3A", ":")
        .replace("%2C", ",");
  }

  @Override
  public String toString() {
    StringBuilder text = new StringBuilder(scheme).append("://").append(host);
    if (!port.isEmpty()) {
      text.append(':').append(port);
    }
    for (int i = 0; i < parameters.size(); i++) {
      Parameter one = parameters.get(i);
      text.append(i == 0 ? "?" : one.separator().isEmpty() ? ";" : one.separator());
      text.append(one.name()).append('=').append(one.written());
    }
    return text.toString();
  }
}
