// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import io.symbolon.describe.DescribedServer;
import io.symbolon.describe.ShippedServers;
import io.symbolon.server.Server;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.yaml.snakeyaml.Yaml;

/**
 * The published schema of descriptions: all that come with Symbolon follow it, and the manual's.
 */
class DescriptionSchemaTest {
  private static final Path DOCS = Path.of("..", "docs");

  private static JsonSchema schema() throws IOException {
    try (InputStream in = Files.newInputStream(DOCS.resolve("describing-a-server.schema.json"))) {
      return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(in);
    }
  }

  private static JsonNode tree(String yaml) {
    return new ObjectMapper().valueToTree(new Yaml().load(yaml));
  }

  @Test
  void everyDescriptionFollowsTheSchema() throws IOException {
    Map<String, String> all = new TreeMap<>();
    for (Server server : new ShippedServers().servers()) {
      all.put(server.name(), ShippedServers.description(server.name()));
    }
    try (Stream<Path> files = Files.list(DOCS.resolve("descriptions"))) {
      for (Path file : files.toList()) {
        all.put(file.toString(), Files.readString(file));
      }
    }
    Matcher shown =
        Pattern.compile("```yaml\n(server: .*?)```", Pattern.DOTALL)
            .matcher(Files.readString(DOCS.resolve("describing-a-server.md")));
    while (shown.find()) {
      DescribedServer.of("the manual", shown.group(1));
      all.put("the manual " + shown.start(), shown.group(1));
    }
    assertFalse(all.keySet().stream().noneMatch(name -> name.startsWith("the manual")));
    JsonSchema schema = schema();
    all.forEach((name, yaml) -> assertEquals(Set.of(), schema.validate(tree(yaml)), () -> name));
    assertFalse(schema.validate(tree("server: x\ncolour: blue\n")).isEmpty());
  }
}
