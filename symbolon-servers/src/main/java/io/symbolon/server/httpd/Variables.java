// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.server.machine.FileView;
import io.symbolon.server.text.Placeholders;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What stands for <code>${NAME}</code> in the settings: defined there, or in the environment. */
final class Variables {
  private static final Pattern EXPORT =
      Pattern.compile("(?m)^\\s*export\\s+([A-Za-z_]\\w*)=[\"']?([^\"'\\n]*?)[\"']?\\s*$");
  private static final Pattern SHELL = Pattern.compile("\\$\\{?([A-Za-z_]\\w*)\\}?");

  private final Map<String, String> values = new HashMap<>();
  private final Placeholders names =
      Placeholders.of(Placeholders.Syntax.PLAIN, name -> Optional.ofNullable(values.get(name)));
  private final Set<String> defined = new HashSet<>();

  /** Takes in what a file of shell exports gives the server, as Debian has it. */
  void environment(FileView files, Path file) {
    files
        .read(file)
        .map(read -> new String(read.octets(), StandardCharsets.ISO_8859_1))
        .ifPresent(
            text -> {
              Matcher matcher = EXPORT.matcher(text);
              while (matcher.find()) {
                values.put(matcher.group(1), shell(matcher.group(2)));
              }
            });
  }

  private String shell(String text) {
    return SHELL
        .matcher(text)
        .replaceAll(found -> Matcher.quoteReplacement(values.getOrDefault(found.group(1), "")));
  }

  void define(String name, String value) {
    values.put(name, value);
    defined.add(name);
  }

  void undefine(String name) {
    values.remove(name);
    defined.remove(name);
  }

  boolean isDefined(String name) {
    return defined.contains(name);
  }

  /** A text with the values in it; a variable without one stays as it is, as the server has it. */
  String resolved(String text) {
    return text.contains("${") ? names.known(text) : text;
  }

  /** All of them, for a copy of the server. */
  Map<String, String> all() {
    return Map.copyOf(values);
  }
}
