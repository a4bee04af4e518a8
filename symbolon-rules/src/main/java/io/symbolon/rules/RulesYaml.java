// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rules;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.io.StringReader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.NodeTuple;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;

/**
 * A YAML document read as text alone, so that {@code NO} is Norway and not a truth value; what is
 * wrong in it is named with its line.
 */
final class RulesYaml {

  private RulesYaml() {}

  /** The mapping that a file holds. */
  public static Section read(Path file) {
    String text;
    try {
      text = SafeRead.text(file, Limits.RULES_BYTES);
    } catch (IOException e) {
      throw new SymbolonException(
          e instanceof SafeRead.TooLarge ? Reason.LIMIT_PASSED : Reason.UNREADABLE,
          "The rules in " + VisibleText.of(file.toString()) + " can't be read.",
          SafeRead.why(file, e),
          "Check the name and the rights of the file.",
          e);
    }
    LoaderOptions options = new LoaderOptions();
    options.setMaxAliasesForCollections(10);
    options.setNestingDepthLimit(Limits.RULES_DEPTH);
    options.setCodePointLimit(Limits.RULES_BYTES);
    try {
      Node node = new Yaml(options).compose(new StringReader(text));
      if (node == null) {
        throw wrong(file, 1, "There is nothing in it.");
      }
      return new Section(file, node);
    } catch (MarkedYAMLException e) {
      int line = e.getProblemMark() == null ? 1 : e.getProblemMark().getLine() + 1;
      throw wrong(file, line, "It is not YAML: " + VisibleText.of(e.getProblem()) + ".");
    } catch (YAMLException e) {
      throw wrong(file, 1, "It is not YAML: " + VisibleText.of(String.valueOf(e.getMessage())));
    }
  }

  public static SymbolonException wrong(Path file, int line, String seen) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The rules in " + VisibleText.of(file.toString()) + " can't be used.",
        "Line " + line + ": " + seen,
        "Correct the file; docs/rules.md tells what may be in it.");
  }

  /** A mapping of names to values, each of which has to be asked for. */
  public static final class Section {
    private final Path file;
    private final int line;
    private final Map<String, Node> values = new LinkedHashMap<>();

    Section(Path file, Node node) {
      this.file = file;
      this.line = node.getStartMark().getLine() + 1;
      if (!(node instanceof MappingNode mapping)) {
        throw wrong(file, line, "Names with values are expected here.");
      }
      for (NodeTuple tuple : mapping.getValue()) {
        String name = scalar(tuple.getKeyNode());
        if (values.put(name, tuple.getValueNode()) != null) {
          throw wrong(
              file,
              tuple.getKeyNode().getStartMark().getLine() + 1,
              "'" + VisibleText.of(name) + "' is there twice.");
        }
      }
    }

    /** Refuses what is not among the names that are known. */
    Section only(String... known) {
      for (Map.Entry<String, Node> value : values.entrySet()) {
        if (!List.of(known).contains(value.getKey())) {
          throw wrong(
              file,
              lineOf(value.getValue()),
              "'"
                  + VisibleText.of(value.getKey())
                  + "' is not one of "
                  + String.join(", ", known)
                  + ".");
        }
      }
      return this;
    }

    private static int lineOf(Node node) {
      return node.getStartMark().getLine() + 1;
    }

    private String scalar(Node node) {
      if (node instanceof ScalarNode scalar) {
        return scalar.getValue();
      }
      throw wrong(file, lineOf(node), "A single value is expected here.");
    }

    List<String> names() {
      return List.copyOf(values.keySet());
    }

    boolean has(String name) {
      return values.containsKey(name);
    }

    Optional<String> text(String name) {
      return Optional.ofNullable(values.get(name)).map(this::scalar);
    }

    Optional<Integer> number(String name) {
      return text(name)
          .map(
              text -> {
                if (!text.matches("[0-9]{1,6}")) {
                  throw wrongAt(name, "'" + VisibleText.of(text) + "' is not a whole number.");
                }
                return Integer.parseInt(text);
              });
    }

    /** One value, or several. */
    List<String> list(String name) {
      Node node = values.get(name);
      if (node == null) {
        return List.of();
      }
      List<String> list = new ArrayList<>();
      if (node instanceof SequenceNode sequence) {
        sequence.getValue().forEach(one -> list.add(scalar(one)));
      } else {
        list.add(scalar(node));
      }
      return list;
    }

    Optional<Section> section(String name) {
      return Optional.ofNullable(values.get(name)).map(node -> new Section(file, node));
    }

    /** One of the words of an enumeration. */
    <T extends Enum<T>> Optional<T> word(String name, Class<T> type) {
      return text(name)
          .map(
              text -> {
                for (T constant : type.getEnumConstants()) {
                  if (constant.name().toLowerCase(Locale.ROOT).equals(text)) {
                    return constant;
                  }
                }
                throw wrongAt(
                    name,
                    "'"
                        + VisibleText.of(text)
                        + "' is not one of "
                        + String.join(
                            ", ",
                            java.util.Arrays.stream(type.getEnumConstants())
                                .map(constant -> constant.name().toLowerCase(Locale.ROOT))
                                .toList())
                        + ".");
              });
    }

    /** Whether a thing is allowed; it is where nothing is said. */
    boolean allows(String name) {
      String text = text(name).orElse("allowed");
      if (!text.equals("allowed") && !text.equals("forbidden")) {
        throw wrongAt(name, "'" + VisibleText.of(text) + "' is not allowed or forbidden.");
      }
      return text.equals("allowed");
    }

    /** Values that are read one by one, with the line told where one can't be. */
    <T> List<T> each(String name, Function<String, T> reader) {
      List<T> read = new ArrayList<>();
      for (String text : list(name)) {
        try {
          read.add(reader.apply(text));
        } catch (SymbolonException e) {
          throw wrongAt(name, e.seen());
        }
      }
      return read;
    }

    SymbolonException wrongAt(String name, String seen) {
      Node node = values.get(name);
      return wrong(file, node == null ? line : lineOf(node), seen);
    }
  }
}
