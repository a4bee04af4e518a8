// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.github.victools.jsonschema.generator.Option;
import com.github.victools.jsonschema.generator.OptionPreset;
import com.github.victools.jsonschema.generator.SchemaGenerator;
import com.github.victools.jsonschema.generator.SchemaGeneratorConfigBuilder;
import com.github.victools.jsonschema.generator.SchemaVersion;
import com.github.victools.jsonschema.module.jackson.JacksonModule;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import io.symbolon.cli.document.AccountDocument;
import io.symbolon.cli.document.AuthorityDocument;
import io.symbolon.cli.document.CompareDocument;
import io.symbolon.cli.document.ConfigureDocument;
import io.symbolon.cli.document.ConvertDocument;
import io.symbolon.cli.document.DueDocument;
import io.symbolon.cli.document.ExplainDocument;
import io.symbolon.cli.document.FailureDocument;
import io.symbolon.cli.document.IssueDocument;
import io.symbolon.cli.document.JoinDocument;
import io.symbolon.cli.document.OrderDocument;
import io.symbolon.cli.document.ProbeDocument;
import io.symbolon.cli.document.RecordsDocument;
import io.symbolon.cli.document.RehearseDocument;
import io.symbolon.cli.document.RenewDocument;
import io.symbolon.cli.document.RequestDocument;
import io.symbolon.cli.document.RevokeDocument;
import io.symbolon.cli.document.SignDocument;
import io.symbolon.cli.document.SurveyDocument;
import io.symbolon.cli.document.TruststoreDocument;
import io.symbolon.cli.document.UndoDocument;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.renewal.RenewalRecord;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.lang.reflect.RecordComponent;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/** The published schemas of the documents: made from the records, and asked by every test. */
final class Schemas {
  /** The record of each command. */
  static final Map<String, Class<? extends Record>> RECORDS =
      new TreeMap<>(
          Map.ofEntries(
              Map.entry("stored-renewal", RenewalRecord.class),
              Map.entry("stored-places", PlacesRecord.class),
              Map.entry("survey", SurveyDocument.class),
              Map.entry("compare", CompareDocument.class),
              Map.entry("join", JoinDocument.class),
              Map.entry("truststore", TruststoreDocument.class),
              Map.entry("request", RequestDocument.class),
              Map.entry("convert", ConvertDocument.class),
              Map.entry("rehearse", RehearseDocument.class),
              Map.entry("probe", ProbeDocument.class),
              Map.entry("explain", ExplainDocument.class),
              Map.entry("configure", ConfigureDocument.class),
              Map.entry("order", OrderDocument.class),
              Map.entry("order-account", AccountDocument.class),
              Map.entry("renew", RenewDocument.class),
              Map.entry("due", DueDocument.class),
              Map.entry("undo", UndoDocument.class),
              Map.entry("authority-found", AuthorityDocument.class),
              Map.entry("authority-list", AuthorityDocument.class),
              Map.entry("authority-records", RecordsDocument.class),
              Map.entry("authority-sign", SignDocument.class),
              Map.entry("authority-issue", IssueDocument.class),
              Map.entry("authority-revoke", RevokeDocument.class),
              Map.entry("failure", FailureDocument.class)));

  /** Texts that may be empty; every other has something in it. */
  private static final Set<String> MAY_BE_EMPTY =
      Set.of(
          "remedy",
          "subject",
          "issuer",
          "command",
          "nextUpdate",
          "raw",
          "host",
          "der",
          "alias",
          "authority",
          "name");

  private static final Map<String, JsonSchema> KNOWN = new ConcurrentHashMap<>();

  private Schemas() {}

  /** The schema of a document, made from its record. */
  static ObjectNode make(String name) {
    Class<? extends Record> type = Objects.requireNonNull(RECORDS.get(name));
    SchemaGeneratorConfigBuilder builder =
        new SchemaGeneratorConfigBuilder(SchemaVersion.DRAFT_2020_12, OptionPreset.PLAIN_JSON)
            .with(new JacksonModule())
            .with(
                Option.FLATTENED_OPTIONALS,
                Option.DEFINITIONS_FOR_ALL_OBJECTS,
                Option.FORBIDDEN_ADDITIONAL_PROPERTIES_BY_DEFAULT);
    builder
        .forFields()
        .withRequiredCheck(
            field ->
                !field.isFakeContainerItemScope()
                    && isRequired(
                        field.getDeclaringType().getErasedType(), field.getDeclaredName()))
        .withStringMinLengthResolver(
            field ->
                field.getType() != null
                        && field.getType().getErasedType() == String.class
                        && !field.isFakeContainerItemScope()
                        && !MAY_BE_EMPTY.contains(field.getDeclaredName())
                    ? 1
                    : null);
    ObjectNode schema = new SchemaGenerator(builder.build()).generateSchema(type);
    inline(schema, schema.path("$defs"));
    schema.put(
        "title",
        name.startsWith("stored-")
            ? "What symbolon stores: " + name.substring(7)
            : "symbolon " + name.replace('-', ' ') + " --json");
    return schema;
  }

  /** What is unwrapped into an object stands among its own properties. */
  private static void inline(JsonNode node, JsonNode definitions) {
    node.forEach(part -> inline(part, definitions));
    if (node instanceof ObjectNode object && object.has("allOf")) {
      for (JsonNode listed : object.remove("allOf")) {
        JsonNode part =
            listed.has("$ref")
                ? definitions.path(listed.get("$ref").asText().replace("#/$defs/", ""))
                : listed;
        object.withObjectProperty("properties");
        ((ObjectNode) object.get("properties")).setAll((ObjectNode) part.get("properties"));
        for (JsonNode name : part.path("required")) {
          object.withArray("required").add(name.asText());
        }
      }
    }
  }

  private static boolean isRequired(Class<?> type, String name) {
    if (!type.isRecord()) {
      return false;
    }
    for (RecordComponent component : type.getRecordComponents()) {
      if (component.getName().equals(name)) {
        return component.getType() != java.util.Optional.class
            && !component.getAnnotatedType().isAnnotationPresent(Nullable.class)
            && !component.isAnnotationPresent(JsonUnwrapped.class);
      }
    }
    return false;
  }

  /** A document keeps to the schema that is in the jar. */
  static void check(JsonNode document) {
    String command = document.path("command").asText();
    boolean failed = document.path("failed").asBoolean() && !document.has("request");
    check(failed ? "failure" : command.replace(' ', '-'), document);
  }

  static void check(String name, JsonNode document) {
    JsonSchema schema = KNOWN.computeIfAbsent(name, Schemas::published);
    assertEquals(Set.of(), schema.validate(document), document::toPrettyString);
  }

  private static JsonSchema published(String name) {
    try (InputStream in =
        Objects.requireNonNull(
            Schemas.class.getResourceAsStream("/io/symbolon/cli/schema/" + name + ".json"), name)) {
      return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Whether a schema says what has to be there, and allows nothing else. */
  static boolean isStrict(ObjectNode schema) {
    return schema.path("additionalProperties").isBoolean()
        && schema.path("required") instanceof ArrayNode;
  }
}
