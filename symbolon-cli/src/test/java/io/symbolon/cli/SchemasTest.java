// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What is published in docs/schema is what the records say. */
class SchemasTest {
  private static final Path PUBLISHED = Path.of("..", "docs", "schema");

  static Stream<String> names() {
    return Schemas.RECORDS.keySet().stream();
  }

  @ParameterizedTest
  @MethodSource("names")
  void theSchemaIsThatOfTheRecord(String name) throws IOException {
    ObjectNode made = Schemas.make(name);
    assertTrue(Schemas.isStrict(made), made::toPrettyString);
    String text =
        new ObjectMapper().writerWithDefaultPrettyPrinter().writeValueAsString(made) + "\n";
    Path file = PUBLISHED.resolve(name + ".json");
    if (Boolean.getBoolean("symbolon.documents.write")) {
      Files.createDirectories(PUBLISHED);
      Files.writeString(file, text);
    }
    assertEquals(Files.readString(file), text, "write it with -Dsymbolon.documents.write=true");
  }
}
