// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/**
 * The document lists what the code says. With {@code -Dsymbolon.documents.write=true} it is written
 * anew.
 */
class FindingsDocumentTest {
  private static final Path DOCUMENT = Path.of("..", "docs", "findings.md");

  private static String document() {
    StringBuilder text =
        new StringBuilder(
            """
            # Findings

            What Symbolon may say, by id. Levels: a *problem* will not work or is unsafe as it stands; a *warning* works, but
            not everywhere or not for long; a *note* is worth knowing. This document is made from the code's own table,
            `FindingKind`.
            """);
    for (FindingTopic topic : FindingTopic.values()) {
      text.append("\n## ").append(topic.title()).append("\n\n");
      text.append("| id | level | what it means |\n|---|---|---|\n");
      for (FindingKind kind : FindingKind.values()) {
        if (kind.topic() == topic) {
          String levels = kind.levels().stream().map(Level::word).collect(Collectors.joining(", "));
          text.append("| `%s` | %s | %s |\n".formatted(kind.id(), levels, kind.meaning()));
        }
      }
    }
    return text.toString();
  }

  @Test
  void theDocumentListsEveryKind() throws IOException {
    if (Boolean.getBoolean("symbolon.documents.write")) {
      Files.writeString(DOCUMENT, document());
    }
    assertEquals(document(), Files.readString(DOCUMENT));
  }

  @Test
  void everyKindIsFoundByItsId() {
    for (FindingKind kind : FindingKind.values()) {
      assertEquals(kind, FindingKind.ofId(kind.id()).orElseThrow());
    }
    assertEquals(
        FindingKind.values().length,
        Arrays.stream(FindingKind.values()).map(FindingKind::meaning).distinct().count());
  }
}
