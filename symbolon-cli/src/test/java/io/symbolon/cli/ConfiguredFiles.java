// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * The files of a folder, octet for octet, but for what is kept for undoing and what servers write.
 */
final class ConfiguredFiles {
  private static final Pattern OF_SERVER =
      Pattern.compile("(.*/)?((run|logs?|work|temp)/.*|[^/]*\\.(log|pid)|pid|log|\\.symbolon.*)");

  private ConfiguredFiles() {}

  static Map<String, String> of(Path folder) throws IOException {
    Map<String, String> content = new TreeMap<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path path : all.filter(Files::isRegularFile).toList()) {
        String name = folder.relativize(path).toString();
        if (!OF_SERVER.matcher(name).matches()) {
          content.put(
              name,
              new String(Files.readAllBytes(path), StandardCharsets.ISO_8859_1)
                  + Files.getPosixFilePermissions(path));
        }
      }
    }
    return content;
  }

  static List<String> difference(Map<String, String> one, Map<String, String> other) {
    TreeSet<String> names = new TreeSet<>(one.keySet());
    names.addAll(other.keySet());
    return names.stream()
        .filter(name -> !one.getOrDefault(name, "").equals(other.getOrDefault(name, "")))
        .toList();
  }
}
