// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.limit.Limits;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Settings in JSON (RFC 8259), with the positions of its members. Comments are passed over, as many
 * programs do that read settings in JSON. Members of arrays have their number in brackets for a
 * key.
 */
public final class JsonSettings implements KeyedText {
  private static final int MOST = 100_000; // values

  private final SourceText source;
  private final String text;
  private final List<Entry> entries = new ArrayList<>();
  private final List<Member> places = new ArrayList<>(); // of the entries
  private final Map<List<String>, Obj> objects = new LinkedHashMap<>();
  private int at;

  /** A member of an object: where its name begins, its value begins, and it ends. */
  private record Member(String name, int from, int valueFrom, int to) {}

  /** An object, from its opening brace to behind the closing one. */
  private record Obj(int from, List<Member> members) {}

  private JsonSettings(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not JSON with an object outermost, with
   *     line and column
   */
  public static JsonSettings read(SourceText source) {
    JsonSettings reader = new JsonSettings(source);
    reader.blanks();
    if (reader.peek() != '{') {
      throw source.malformed(reader.at, "an object in braces is expected here.");
    }
    reader.object(List.of(), 0);
    reader.blanks();
    if (reader.at < reader.text.length()) {
      throw source.malformed(reader.at, "behind the object stands something else.");
    }
    return reader;
  }

  private char peek() {
    return at < text.length() ? text.charAt(at) : '\0';
  }

  private void blanks() {
    while (at < text.length()) {
      if (" \t\r\n".indexOf(text.charAt(at)) >= 0) {
        at++;
      } else if (text.startsWith("//", at)) {
        int end = text.indexOf('\n', at);
        at = end < 0 ? text.length() : end;
      } else if (text.startsWith("/*", at)) {
        int end = text.indexOf("*/", at + 2);
        if (end < 0) {
          throw source.malformed(at, "the end of this comment is missing.");
        }
        at = end + 2;
      } else {
        return;
      }
    }
  }

  private void object(List<String> key, int depth) {
    check(depth);
    List<Member> members = new ArrayList<>();
    objects.put(key, new Obj(at, members));
    at++;
    blanks();
    while (peek() != '}') {
      if (!members.isEmpty()) {
        expect(',', "between two members stands a comma.");
        blanks();
        if (peek() == '}') {
          break; // some programs take a comma behind the last
        }
      }
      int from = at;
      String name = string();
      blanks();
      expect(':', "behind a name stands a colon.");
      blanks();
      int valueFrom = at;
      List<String> own = new ArrayList<>(key);
      own.add(name);
      int before = entries.size();
      value(own, depth);
      Member member = new Member(name, from, valueFrom, at);
      members.add(member);
      if (entries.size() > before && entries.get(before).key().equals(own)) {
        places.set(before, member);
      }
      blanks();
    }
    at++;
  }

  private void check(int depth) {
    if (depth > Limits.SETTING_DEPTH || entries.size() > MOST) {
      throw source.malformed(at, "values are nested too deep, or there are too many.");
    }
  }

  private void expect(char c, String otherwise) {
    if (peek() != c) {
      throw source.malformed(at, otherwise);
    }
    at++;
  }

  private void value(List<String> key, int depth) {
    char c = peek();
    if (c == '{') {
      object(key, depth + 1);
    } else if (c == '[') {
      array(key, depth + 1);
    } else if (c == '"') {
      int from = at;
      entry(key, string(), from);
    } else {
      int from = at;
      while (at < text.length() && ",]} \t\r\n/".indexOf(text.charAt(at)) < 0) {
        at++;
      }
      String word = text.substring(from, at);
      if (!word.matches("true|false|null|-?\\d+(?:\\.\\d+)?(?:[eE][+-]?\\d+)?")) {
        throw source.malformed(from, "a value is expected here.");
      }
      entry(key, word, from);
    }
  }

  private void entry(List<String> key, String value, int from) {
    entries.add(new Entry(key, value, from, entries.size()));
    places.add(new Member("", from, from, at));
  }

  private void array(List<String> key, int depth) {
    check(depth);
    at++;
    blanks();
    int count = 0;
    while (peek() != ']') {
      if (count > 0) {
        expect(',', "between two values stands a comma.");
        blanks();
        if (peek() == ']') {
          break;
        }
      }
      List<String> own = new ArrayList<>(key);
      own.add("[" + count++ + "]");
      value(own, depth);
      blanks();
    }
    at++;
  }

  private String string() {
    if (peek() != '"') {
      throw source.malformed(at, "a text in double quotes is expected here.");
    }
    int from = at++;
    StringBuilder value = new StringBuilder();
    while (true) {
      if (at >= text.length() || text.charAt(at) == '\n') {
        throw source.malformed(from, "the quote that opens here is not closed on its line.");
      }
      char c = text.charAt(at++);
      if (c == '"') {
        return value.toString();
      }
      if (c != '\\') {
        value.append(c);
        continue;
      }
      char next = peek();
      at++;
      switch (next) {
        case 'n' -> value.append('\n');
        case 't' -> value.append('\t');
        case 'r' -> value.append('\r');
        case 'b' -> value.append('\b');
        case 'f' -> value.append('\f');
        case 'u' -> value.append(number());
        case '"', '\\', '/' -> value.append(next);
        default -> throw source.malformed(at - 2, "\\" + next + " means nothing in JSON.");
      }
    }
  }

  private char number() {
    if (at + 4 > text.length() || !text.substring(at, at + 4).matches("[0-9a-fA-F]{4}")) {
      throw source.malformed(at - 2, "behind \\u must be four hexadecimal digits.");
    }
    at += 4;
    return (char) Integer.parseInt(text.substring(at - 4, at), 16);
  }

  @Override
  public SourceText source() {
    return source;
  }

  @Override
  public List<Entry> entries() {
    return List.copyOf(entries);
  }

  @Override
  public List<List<String>> sections() {
    return List.copyOf(objects.keySet());
  }

  @Override
  public void replace(Edits edits, Entry old, Value value) {
    Member place = places.get(old.index());
    edits.replace(place.valueFrom(), place.to(), written(value));
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    Map<Obj, Set<Member>> gone = new LinkedHashMap<>();
    for (Entry one : away) {
      Obj parent = objects.get(one.key().subList(0, one.key().size() - 1));
      if (parent != null) {
        gone.computeIfAbsent(parent, key -> new HashSet<>()).add(places.get(one.index()));
      }
    }
    Map<Obj, Map<String, Object>> added = new LinkedHashMap<>();
    for (Fresh one : fresh) {
      int depth = one.key().size() - 1;
      while (!objects.containsKey(one.key().subList(0, depth))) {
        depth--;
      }
      Map<String, Object> into =
          added.computeIfAbsent(
              objects.get(one.key().subList(0, depth)), key -> new LinkedHashMap<>());
      put(into, one.key().subList(depth, one.key().size()), one.value());
    }
    Set<Obj> touched = new java.util.LinkedHashSet<>(gone.keySet());
    touched.addAll(added.keySet());
    touched.forEach(
        one ->
            change(
                edits, one, gone.getOrDefault(one, Set.of()), added.getOrDefault(one, Map.of())));
  }

  @SuppressWarnings("unchecked") // what is put in is read by nobody else
  private static void put(Map<String, Object> into, List<String> key, Value value) {
    Map<String, Object> map = into;
    for (String name : key.subList(0, key.size() - 1)) {
      map = (Map<String, Object>) map.computeIfAbsent(name, one -> new LinkedHashMap<>());
    }
    map.put(key.get(key.size() - 1), value);
  }

  private void change(Edits edits, Obj object, Set<Member> gone, Map<String, Object> added) {
    List<Member> members = object.members();
    int lastKept = -1;
    int i = 0;
    while (i < members.size()) {
      if (!gone.contains(members.get(i))) {
        lastKept = i++;
        continue;
      }
      int j = i;
      while (j + 1 < members.size() && gone.contains(members.get(j + 1))) {
        j++;
      }
      int from = i > 0 ? members.get(i - 1).to() : members.get(0).from();
      int to = i == 0 && j + 1 < members.size() ? members.get(j + 1).from() : members.get(j).to();
      edits.replace(from, to, "");
      i = j + 1;
    }
    if (added.isEmpty()) {
      return;
    }
    String outer = source.indentation(object.from());
    boolean lines =
        members.isEmpty() || text.substring(object.from(), members.get(0).from()).contains("\n");
    String inner =
        members.isEmpty() || !lines
            ? outer + source.step()
            : source.indentation(members.get(0).from());
    String written = members(added, inner, lines);
    if (lastKept >= 0) {
      edits.insert(members.get(lastKept).to(), "," + (lines ? "\n" + inner : " ") + written);
    } else if (!members.isEmpty()) {
      edits.insert(members.get(0).from(), written);
    } else {
      int close = text.indexOf('}', object.from());
      edits.replace(object.from() + 1, close, "\n" + inner + written + "\n" + outer);
    }
  }

  private String members(Map<String, Object> added, String indentation, boolean lines) {
    StringBuilder all = new StringBuilder();
    added.forEach(
        (name, value) ->
            all.append(all.isEmpty() ? "" : "," + (lines ? "\n" + indentation : " "))
                .append(quoted(name))
                .append(": ")
                .append(one(value, indentation, lines)));
    return all.toString();
  }

  @SuppressWarnings("unchecked") // as it was put in
  private String one(Object value, String indentation, boolean lines) {
    if (value instanceof Value plain) {
      return written(plain);
    }
    String inner = indentation + source.step();
    String open = lines ? "{\n" + inner : "{";
    String close = lines ? "\n" + indentation + "}" : "}";
    return open + members((Map<String, Object>) value, inner, lines) + close;
  }

  private static String written(Value value) {
    return value.bare() ? value.text() : quoted(value.text());
  }

  private static String quoted(String value) {
    StringBuilder quoted = new StringBuilder("\"");
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      if (c == '"' || c == '\\') {
        quoted.append('\\').append(c);
      } else if (c < ' ') {
        quoted.append(String.format("\\u%04x", (int) c));
      } else {
        quoted.append(c);
      }
    }
    return quoted.append('"').toString();
  }
}
