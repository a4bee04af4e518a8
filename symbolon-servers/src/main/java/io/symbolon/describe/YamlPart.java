// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.yaml.snakeyaml.DumperOptions;
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
 * A part of a description: names with values, read as text alone. What is wrong is noted with its
 * line, and reading goes on with what was meant most likely.
 */
final class YamlPart {
  private static final Set<String> YES = Set.of("yes", "true");
  private static final Set<String> NO = Set.of("no", "false");

  private final Mistakes mistakes;
  private final int line;
  private final Map<String, Node> values = new LinkedHashMap<>();

  private YamlPart(Mistakes mistakes, Node node) {
    this.mistakes = mistakes;
    this.line = lineOf(node);
    if (!(node instanceof MappingNode mapping)) {
      mistakes.add(line, "Names with values are expected here.");
      return;
    }
    for (NodeTuple tuple : mapping.getValue()) {
      String name = scalar(tuple.getKeyNode());
      if (values.put(name, tuple.getValueNode()) != null) {
        mistakes.add(lineOf(tuple.getKeyNode()), quoted(name) + " is there twice.");
      }
    }
  }

  /** The mapping of a whole text. */
  static YamlPart read(String text, Mistakes mistakes) {
    LoaderOptions options = new LoaderOptions();
    options.setMaxAliasesForCollections(10);
    options.setNestingDepthLimit(Limits.RULES_DEPTH);
    options.setCodePointLimit(Limits.RULES_BYTES);
    try {
      Node node = new Yaml(options).compose(new StringReader(text));
      if (node != null) {
        return new YamlPart(mistakes, node);
      }
      mistakes.add(1, "There is nothing in it.");
    } catch (MarkedYAMLException e) {
      int line = e.getProblemMark() == null ? 1 : e.getProblemMark().getLine() + 1;
      mistakes.add(line, "It is not YAML: " + VisibleText.of(String.valueOf(e.getProblem())) + ".");
    } catch (YAMLException e) {
      mistakes.add(1, "It is not YAML: " + VisibleText.of(String.valueOf(e.getMessage())));
    }
    throw mistakes.failure();
  }

  private YamlPart(YamlPart other) {
    this.mistakes = other.mistakes;
    this.line = other.line;
    this.values.putAll(other.values);
  }

  /** The same with what another part says of these names in the place of what is here. */
  YamlPart overlaid(YamlPart over, String... names) {
    YamlPart copy = new YamlPart(this);
    for (String name : names) {
      Node node = over.values.get(name);
      if (node != null) {
        copy.values.put(name, node);
      }
    }
    return copy;
  }

  static int lineOf(Node node) {
    return node.getStartMark().getLine() + 1;
  }

  static String quoted(String word) {
    return "'" + VisibleText.of(word) + "'";
  }

  private String scalar(Node node) {
    if (node instanceof ScalarNode scalar) {
      return scalar.getValue();
    }
    mistakes.add(lineOf(node), "A single value is expected here.");
    return "";
  }

  int line(String name) {
    Node node = values.get(name);
    return node == null ? line : lineOf(node);
  }

  void wrong(String name, String what) {
    mistakes.add(line(name), what);
  }

  /** Notes what is not among the names that are known. */
  YamlPart only(String... known) {
    Set<String> names = new LinkedHashSet<>(List.of(known));
    values.forEach(
        (name, node) -> {
          if (!names.contains(name)) {
            mistakes.add(
                lineOf(node), quoted(name) + " is not one of " + String.join(", ", names) + ".");
          }
        });
    return this;
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

  /** A text that must be there. */
  String needed(String name) {
    Optional<String> text = text(name).filter(one -> !one.isBlank());
    if (text.isEmpty()) {
      mistakes.add(line(name), quoted(name) + " is missing.");
    }
    return text.orElse("");
  }

  boolean yes(String name) {
    String word = text(name).orElse("no").toLowerCase(Locale.ROOT);
    if (!YES.contains(word) && !NO.contains(word)) {
      wrong(name, quoted(word) + " is not yes or no.");
    }
    return YES.contains(word);
  }

  Optional<Integer> number(String name, int most) {
    Optional<String> text = text(name);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    boolean good =
        text.get().matches("[0-9]{1,6}")
            && Integer.parseInt(text.get()) > 0
            && Integer.parseInt(text.get()) <= most;
    if (!good) {
      wrong(name, quoted(text.get()) + " is not a number from 1 to " + most + ".");
      return Optional.empty();
    }
    return Optional.of(Integer.parseInt(text.get()));
  }

  /** One value, or several. */
  List<String> list(String name) {
    return Optional.ofNullable(values.get(name)).map(this::list).orElse(List.of());
  }

  private List<String> list(Node node) {
    List<String> list = new ArrayList<>();
    if (node instanceof SequenceNode sequence) {
      sequence.getValue().forEach(one -> list.add(scalar(one)));
    } else {
      list.add(scalar(node));
    }
    return list;
  }

  Optional<YamlPart> part(String name) {
    return Optional.ofNullable(values.get(name)).map(node -> new YamlPart(mistakes, node));
  }

  /** Parts in a list; a single one may stand alone. */
  List<YamlPart> parts(String name) {
    Node node = values.get(name);
    List<YamlPart> parts = new ArrayList<>();
    if (node instanceof SequenceNode sequence) {
      sequence.getValue().forEach(one -> parts.add(new YamlPart(mistakes, one)));
    } else if (node != null) {
      parts.add(new YamlPart(mistakes, node));
    }
    return parts;
  }

  /** One of some words, as they are written. */
  Optional<String> word(String name, Set<String> known) {
    Optional<String> word = text(name);
    if (word.isPresent() && !known.contains(word.get())) {
      wrong(
          name,
          quoted(word.get())
              + " is not one of "
              + String.join(", ", new java.util.TreeSet<>(known))
              + ".");
      return Optional.empty();
    }
    return word;
  }

  /**
   * A value somewhere below a name.
   *
   * @param key the names on the way to it
   * @param values it, with other spellings
   * @param bare whether it is written without quotes here
   */
  record Leaf(List<String> key, List<String> values, boolean bare, int line) {}

  /** Everything below a name, however deep. */
  List<Leaf> leaves(String name) {
    List<Leaf> leaves = new ArrayList<>();
    Node node = values.get(name);
    if (node instanceof MappingNode mapping) {
      leaves(mapping, List.of(), leaves);
    } else if (node != null) {
      mistakes.add(lineOf(node), "Keys with values are expected here.");
    }
    return leaves;
  }

  private void leaves(MappingNode mapping, List<String> around, List<Leaf> leaves) {
    Set<String> seen = new LinkedHashSet<>();
    for (NodeTuple tuple : mapping.getValue()) {
      List<String> key = new ArrayList<>(around);
      key.add(scalar(tuple.getKeyNode()));
      if (!seen.add(key.get(key.size() - 1))) {
        mistakes.add(
            lineOf(tuple.getKeyNode()), quoted(key.get(key.size() - 1)) + " is there twice.");
      }
      Node value = tuple.getValueNode();
      if (value instanceof MappingNode inner) {
        leaves(inner, key, leaves);
      } else {
        boolean bare =
            value instanceof ScalarNode scalar
                && scalar.getScalarStyle() == DumperOptions.ScalarStyle.PLAIN;
        leaves.add(new Leaf(List.copyOf(key), list(value), bare, lineOf(value)));
      }
    }
  }

  /** The keys in lists below a name: {@code web: [a, b]} is {@code web, a} and {@code web, b}. */
  List<List<String>> keys(String name) {
    List<List<String>> keys = new ArrayList<>();
    Node node = values.get(name);
    if (node instanceof MappingNode mapping) {
      List<Leaf> leaves = new ArrayList<>();
      leaves(mapping, List.of(), leaves);
      for (Leaf leaf : leaves) {
        for (String last : leaf.values()) {
          List<String> key = new ArrayList<>(leaf.key());
          key.add(last);
          keys.add(key);
        }
      }
    } else if (node != null) {
      list(node).forEach(one -> keys.add(List.of(one)));
    }
    return keys;
  }
}
