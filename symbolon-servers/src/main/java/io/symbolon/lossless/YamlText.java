// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.regex.Pattern;
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
 * Settings in YAML. The parser finds the positions; names are those of the keys from the outermost
 * on, with dots between, whether they are nested or written in one. What is new goes into the
 * innermost mapping that is there, behind its last value.
 */
public final class YamlText implements DottedText {
  private static final Pattern PLAIN =
      Pattern.compile("true|false|\\d{1,9}|[A-Za-z][A-Za-z0-9.+-]*");
  private static final Set<String> WORDS = Set.of("y", "n", "yes", "no", "on", "off", "null");

  private static final int MOST = 100_000; // settings

  private final SourceText source;
  private final String text;
  private final boolean plainIndex; // whether a code point is a character here
  private final List<Named> settings = new ArrayList<>();
  private final Map<Named, List<NodeTuple>> paths = new LinkedHashMap<>();
  private final Set<Node> seen = Collections.newSetFromMap(new IdentityHashMap<>());
  private final Set<Node> shared = Collections.newSetFromMap(new IdentityHashMap<>());
  private Optional<MappingNode> first = Optional.empty();

  private YamlText(SourceText source) {
    this.source = source;
    this.text = source.text();
    this.plainIndex = text.chars().noneMatch(c -> Character.isSurrogate((char) c));
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not YAML with names, with line and
   *     column
   */
  public static YamlText read(SourceText source) {
    YamlText reader = new YamlText(source);
    reader.read();
    return reader;
  }

  private void read() {
    LoaderOptions options = new LoaderOptions();
    options.setCodePointLimit(Limits.SETTINGS_BYTES);
    options.setNestingDepthLimit(Limits.SETTING_DEPTH);
    options.setMaxAliasesForCollections(Limits.SETTING_DEPTH);
    try {
      int document = 0;
      for (Node node : new Yaml(options).composeAll(new StringReader(text))) {
        if (node instanceof MappingNode mapping) {
          if (document == 0) {
            first = Optional.of(mapping);
          }
          values(mapping, "", List.of(), document);
        } else if (!(node instanceof ScalarNode scalar && scalar.getValue().isEmpty())) {
          throw source.malformed(from(node), "here should be names with values.");
        }
        document++;
      }
    } catch (MarkedYAMLException e) {
      int at = e.getProblemMark() == null ? 0 : index(e.getProblemMark().getIndex());
      throw source.malformed(Math.min(at, text.length()), e.getProblem() + ".");
    } catch (YAMLException e) {
      throw source.malformed(0, e.getMessage() + ".");
    }
  }

  private void values(MappingNode mapping, String above, List<NodeTuple> path, int document) {
    if (!seen.add(mapping)) {
      shared.add(mapping); // an alias: its values are told where they stand
      return;
    }
    inside(mapping, above, path, document);
  }

  private void inside(MappingNode mapping, String above, List<NodeTuple> path, int document) {
    if (path.size() > Limits.SETTING_DEPTH || settings.size() > MOST) {
      throw source.malformed(from(mapping), "aliases make more of this than can be read.");
    }
    for (NodeTuple tuple : mapping.getValue()) {
      List<NodeTuple> here = new ArrayList<>(path);
      here.add(tuple);
      if (key(tuple).equals("<<") && tuple.getValueNode() instanceof MappingNode merged) {
        shared.add(merged);
        inside(merged, above, here, document); // as if they stood here
      } else if (tuple.getKeyNode() instanceof ScalarNode key) {
        value(tuple.getValueNode(), above + key.getValue(), here, document);
      }
    }
  }

  private void value(Node node, String name, List<NodeTuple> path, int document) {
    if (node instanceof MappingNode inner) {
      values(inner, name + ".", path, document);
    } else if (node instanceof SequenceNode list) {
      for (int i = 0; i < list.getValue().size(); i++) {
        value(list.getValue().get(i), name + "[" + i + "]", path, document);
      }
    } else if (node instanceof ScalarNode scalar) {
      if (!seen.add(node)) {
        shared.add(node);
      }
      int to = to(node);
      while (to > from(node) && text.charAt(to - 1) == '\n') {
        to--; // a block of text ends with its line
      }
      Named named = new Named(name, scalar.getValue(), document, from(node), to);
      settings.add(named);
      paths.put(named, path);
    }
  }

  private int from(Node node) {
    return index(node.getStartMark().getIndex());
  }

  private int to(Node node) {
    return index(node.getEndMark().getIndex());
  }

  private int index(int codePoint) {
    return plainIndex ? codePoint : text.offsetByCodePoints(0, codePoint);
  }

  @Override
  public SourceText source() {
    return source;
  }

  @Override
  public List<Named> settings() {
    return List.copyOf(settings);
  }

  @Override
  public void replace(Edits edits, Named old, String value) {
    own(old);
    String blank = old.from() == old.to() ? " " : ""; // a name without a value
    edits.replace(old.from(), old.to(), blank + scalar(value));
  }

  @Override
  public void change(Edits edits, Collection<Named> away, Map<String, String> fresh) {
    Set<NodeTuple> gone = Collections.newSetFromMap(new IdentityHashMap<>());
    away.forEach(one -> gone.add(last(one)));
    Set<NodeTuple> outermost = new LinkedHashSet<>();
    for (Named one : away) {
      own(one);
      outermost.add(outermost(paths.getOrDefault(one, List.of()), gone, fresh.keySet()));
    }
    outermost.stream()
        .filter(one -> outermost.stream().noneMatch(other -> isInside(one, other)))
        .forEach(one -> remove(edits, one));
    if (!fresh.isEmpty()) {
      add(edits, fresh, gone);
    }
    firstLine(edits);
  }

  /** Where the first line went, what is behind it moves up to the beginning. */
  private void firstLine(Edits edits) {
    OptionalInt on = edits.goesOn(0);
    if (on.isPresent() && on.getAsInt() > 0 && on.getAsInt() < text.length()) {
      int at = on.getAsInt();
      int end = text.startsWith("\r\n", at) ? at + 2 : text.charAt(at) == '\n' ? at + 1 : at;
      edits.replace(at, end, "");
    }
  }

  /** What several names share is not changed for one of them. */
  private void own(Named one) {
    for (NodeTuple tuple : paths.getOrDefault(one, List.of())) {
      if (shared.contains(tuple.getValueNode())) {
        throw notAlone(tuple);
      }
    }
  }

  private SymbolonException notAlone(NodeTuple tuple) {
    int at = from(tuple.getKeyNode());
    return new SymbolonException(
        Reason.NOT_WRITABLE,
        "The file " + VisibleText.of(source.path().toString()) + " was not changed.",
        "Line "
            + source.line(at)
            + ": "
            + VisibleText.of(key(tuple))
            + " is written once and used in several places, by an alias.",
        "Write the values out where they are used, and give the command again.");
  }

  /** The outermost mapping of a path that would be empty, and that nothing new goes into. */
  private static NodeTuple outermost(
      List<NodeTuple> path, Set<NodeTuple> gone, Collection<String> fresh) {
    NodeTuple away = path.get(path.size() - 1);
    for (int i = path.size() - 2; i >= 0; i--) {
      NodeTuple outer = path.get(i);
      String name =
          DottedText.plain(
              path.subList(0, i + 1).stream()
                      .map(YamlText::key)
                      .collect(java.util.stream.Collectors.joining("."))
                  + ".");
      boolean empty =
          outer.getValueNode() instanceof MappingNode mapping
              && mapping.getValue().stream().allMatch(gone::contains);
      if (!empty || fresh.stream().anyMatch(one -> DottedText.plain(one).startsWith(name))) {
        break;
      }
      gone.add(outer);
      away = outer;
    }
    return away;
  }

  private NodeTuple last(Named one) {
    List<NodeTuple> path = paths.getOrDefault(one, List.of());
    return path.get(path.size() - 1);
  }

  private boolean isInside(NodeTuple one, NodeTuple other) {
    return one != other
        && from(other.getKeyNode()) <= from(one.getKeyNode())
        && to(one.getValueNode()) <= to(other.getValueNode());
  }

  private void remove(Edits edits, NodeTuple tuple) {
    int from = from(tuple.getKeyNode());
    int to = end(tuple.getValueNode());
    int start = source.lineStart(from);
    int close = lineEnd(to);
    boolean alone =
        text.substring(start, from).isBlank()
            && (text.substring(to, close).isBlank()
                || text.substring(to, close).strip().startsWith("#"));
    if (alone) {
      // With the line end before it: what is new goes before the one behind it.
      int before =
          start == 0 ? 0 : start - (text.startsWith("\r\n", Math.max(0, start - 2)) ? 2 : 1);
      int behind = close > 0 && text.charAt(close - 1) == '\r' ? close - 1 : close;
      edits.replace(before, behind, "");
      return;
    }
    int comma = to;
    while (comma < text.length() && Character.isWhitespace(text.charAt(comma))) {
      comma++;
    }
    if (comma < text.length() && text.charAt(comma) == ',') {
      edits.replace(from, comma + 1, "");
      return;
    }
    int before = from;
    while (before > 0 && Character.isWhitespace(text.charAt(before - 1))) {
      before--;
    }
    edits.replace(before > 0 && text.charAt(before - 1) == ',' ? before - 1 : from, to, "");
  }

  private int lineEnd(int at) {
    int close = text.indexOf('\n', at);
    return close < 0 ? text.length() : close;
  }

  /** Where the text of a node really ends: a mapping in lines is said to go on to the next name. */
  private int end(Node node) {
    if (node instanceof MappingNode mapping
        && mapping.getFlowStyle() == DumperOptions.FlowStyle.BLOCK
        && !mapping.getValue().isEmpty()) {
      return end(mapping.getValue().get(mapping.getValue().size() - 1).getValueNode());
    }
    if (node instanceof SequenceNode list
        && list.getFlowStyle() == DumperOptions.FlowStyle.BLOCK
        && !list.getValue().isEmpty()) {
      return end(list.getValue().get(list.getValue().size() - 1));
    }
    int to = to(node);
    while (to > from(node) && text.charAt(to - 1) == '\n') {
      to--;
    }
    return to;
  }

  private void add(Edits edits, Map<String, String> values, Set<NodeTuple> gone) {
    if (first.isEmpty()) {
      boolean ended = text.isEmpty() || text.endsWith("\n");
      edits.insert(text.length(), (ended ? "" : "\n") + lines(tree(values), "", "  "));
      return;
    }
    add(edits, first.get(), values, gone);
  }

  private void add(
      Edits edits, MappingNode mapping, Map<String, String> values, Set<NodeTuple> gone) {
    Map<String, String> fresh = new LinkedHashMap<>();
    Map<NodeTuple, Map<String, String>> deeper = new LinkedHashMap<>();
    for (Map.Entry<String, String> one : values.entrySet()) {
      Optional<NodeTuple> holder =
          mapping.getValue().stream().filter(tuple -> isAbove(tuple, one.getKey())).findFirst();
      if (holder.isEmpty()) {
        fresh.put(one.getKey(), one.getValue());
      } else {
        String rest = one.getKey().substring(key(holder.get()).length() + 1);
        deeper
            .computeIfAbsent(holder.get(), tuple -> new LinkedHashMap<>())
            .put(rest, one.getValue());
      }
    }
    deeper.forEach(
        (tuple, rest) -> {
          Node node = tuple.getValueNode();
          if (shared.contains(node)) {
            throw notAlone(tuple);
          }
          String step = step();
          if (node instanceof MappingNode inner && !inner.getValue().isEmpty()) {
            add(edits, inner, rest, gone);
          } else {
            String indentation = " ".repeat(tuple.getKeyNode().getStartMark().getColumn()) + step;
            edits.replace(
                from(node),
                to(node),
                ("\n" + lines(tree(rest), indentation, step)).stripTrailing());
          }
        });
    if (!fresh.isEmpty()) {
      put(edits, mapping, fresh, gone);
    }
  }

  /** One step of indentation, as the file has it; tabs are none in YAML. */
  private String step() {
    int least =
        text.lines()
            .filter(
                line -> line.startsWith(" ") && !line.isBlank() && !line.strip().startsWith("#"))
            .mapToInt(line -> line.length() - line.stripLeading().length())
            .min()
            .orElse(2);
    return " ".repeat(Math.max(1, Math.min(least, 8)));
  }

  private static String key(NodeTuple tuple) {
    return tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
  }

  /** Whether a name goes on below a key; keys are compared as their readers do. */
  private static boolean isAbove(NodeTuple tuple, String name) {
    String key = key(tuple);
    boolean container =
        tuple.getValueNode() instanceof MappingNode
            || (tuple.getValueNode() instanceof ScalarNode scalar && scalar.getValue().isEmpty());
    return container
        && !key.isEmpty()
        && name.length() > key.length()
        && name.charAt(key.length()) == '.'
        && DottedText.plain(name.substring(0, key.length())).equals(DottedText.plain(key));
  }

  private void put(
      Edits edits, MappingNode mapping, Map<String, String> values, Set<NodeTuple> gone) {
    if (mapping.getFlowStyle() == DumperOptions.FlowStyle.FLOW) {
      String flow = flow(tree(values));
      boolean empty = gone.containsAll(mapping.getValue());
      edits.insert(to(mapping) - 1, (empty ? "" : ", ") + flow.substring(1, flow.length() - 1));
      return;
    }
    int column = mapping.getValue().get(0).getKeyNode().getStartMark().getColumn();
    int at = lineEnd(end(mapping));
    String lines = lines(tree(values), " ".repeat(column), step());
    boolean windows = at > 0 && text.charAt(at - 1) == '\r';
    edits.insert(windows ? at - 1 : at, "\n" + lines.stripTrailing());
  }

  /** Names by their parts: a part that ends a name has a text, others have parts below them. */
  private static Map<String, Object> tree(Map<String, String> values) {
    Map<String, Object> tree = new LinkedHashMap<>();
    values.forEach((name, value) -> plant(tree, name, value));
    return tree;
  }

  @SuppressWarnings("unchecked") // maps are made here alone
  private static void plant(Map<String, Object> tree, String name, String value) {
    int dot = name.indexOf('.');
    if (dot < 0) {
      tree.put(name, value);
    } else {
      Object below = tree.computeIfAbsent(name.substring(0, dot), key -> new LinkedHashMap<>());
      plant((Map<String, Object>) below, name.substring(dot + 1), value);
    }
  }

  @SuppressWarnings("unchecked") // maps are made here alone
  private static String lines(Map<String, Object> tree, String indentation, String step) {
    StringBuilder lines = new StringBuilder();
    tree.forEach(
        (name, below) -> {
          lines.append(indentation).append(scalar(name)).append(':');
          if (below instanceof Map<?, ?> map) {
            lines.append('\n').append(lines((Map<String, Object>) map, indentation + step, step));
          } else {
            lines.append(' ').append(scalar(String.valueOf(below))).append('\n');
          }
        });
    return lines.toString();
  }

  @SuppressWarnings("unchecked") // maps are made here alone
  private static String flow(Map<String, Object> tree) {
    StringBuilder flow = new StringBuilder("{");
    tree.forEach(
        (name, below) ->
            flow.append(flow.length() > 1 ? ", " : "")
                .append(scalar(name))
                .append(": ")
                .append(
                    below instanceof Map<?, ?> map
                        ? flow((Map<String, Object>) map)
                        : scalar(String.valueOf(below))));
    return flow.append('}').toString();
  }

  /**
   * {@return a value as it is written, in quotes unless no reader could take it for something else}
   */
  public static String scalar(String value) {
    boolean plain =
        PLAIN.matcher(value).matches() && !WORDS.contains(value.toLowerCase(java.util.Locale.ROOT));
    if (plain) {
      return value;
    }
    boolean simple =
        value
            .codePoints()
            .allMatch(
                c ->
                    c >= ' '
                        && c != 0x7f
                        && c != 0x85
                        && c != 0x2028
                        && c != 0x2029
                        && c != 0xfeff);
    if (simple) {
      return "'" + value.replace("'", "''") + "'";
    }
    StringBuilder quoted = new StringBuilder("\"");
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      if (c == '"' || c == '\\') {
        quoted.append('\\').append(c);
      } else if (c < ' ' || c > '~') {
        quoted.append(String.format("\\u%04x", (int) c));
      } else {
        quoted.append(c);
      }
    }
    return quoted.append('"').toString();
  }
}
