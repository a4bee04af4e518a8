// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;

/**
 * The servers that are known, and the rules of how they judge. Both are data: {@code
 * server-rules.txt}.
 */
record ServerRules(List<ServerKind> servers, List<ServerRule> rules) {
  static final ServerRules SHIPPED = read();

  private static ServerRules read() {
    Map<String, ServerKind> servers = new LinkedHashMap<>();
    List<ServerRule> rules = new ArrayList<>();
    try (BufferedReader lines =
        new BufferedReader(
            new InputStreamReader(
                Objects.requireNonNull(
                    ServerRules.class.getResourceAsStream("server-rules.txt"), "the rules"),
                StandardCharsets.UTF_8))) {
      for (String line = lines.readLine(); line != null; line = lines.readLine()) {
        if (line.startsWith("server ")) {
          ServerKind server = ServerKind.read(servers.size(), line);
          servers.put(server.word(), server);
        } else if (!line.isBlank() && !line.startsWith("#")) {
          rules.add(rule(line.strip().split("\\s+", -1), servers));
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return new ServerRules(List.copyOf(servers.values()), List.copyOf(rules));
  }

  private static ServerRule rule(String[] words, Map<String, ServerKind> servers) {
    return new ServerRule(
        ServerRule.Circumstance.valueOf(constant(words[0])),
        ServerRule.Behaviour.valueOf(constant(words[1])),
        Arrays.stream(words)
            .skip(2)
            .map(word -> Objects.requireNonNull(servers.get(word), word))
            .toList());
  }

  private static String constant(String word) {
    return word.toUpperCase(Locale.ROOT).replace('-', '_');
  }
}
