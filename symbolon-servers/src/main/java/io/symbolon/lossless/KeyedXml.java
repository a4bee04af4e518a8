// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * Settings in XML: attributes, whose key is their name behind an @, and elements that hold nothing
 * but text. A key begins with the outermost element. Of several elements of one name beside each
 * other the first is meant; the others have their number in brackets behind, from 1.
 */
public final class KeyedXml implements KeyedText {
  private final SourceText source;
  private final List<Entry> entries = new ArrayList<>();
  private final List<Place> places = new ArrayList<>(); // of the entries
  private final Map<List<String>, XmlText.Element> elements = new LinkedHashMap<>();

  /** The attribute of an element, or the element itself where there is none. */
  private record Place(XmlText.Element element, String attribute) {}

  private KeyedXml(SourceText source) {
    this.source = source;
  }

  /**
   * {@return the settings of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not well-formed, with line and column
   */
  public static KeyedXml read(SourceText source) {
    KeyedXml reader = new KeyedXml(source);
    XmlText.Element root = XmlText.read(source);
    reader.element(root, List.of(root.name()));
    return reader;
  }

  private void element(XmlText.Element element, List<String> key) {
    elements.put(key, element);
    for (XmlText.Attribute attribute : element.attributes()) {
      entry(key, "@" + attribute.name(), attribute.value(), attribute.valueFrom());
      places.add(new Place(element, attribute.name()));
    }
    if (element.children().isEmpty() && !element.isOneTag()) {
      element
          .content()
          .ifPresent(
              content -> {
                entries.add(new Entry(key, content.strip(), element.tagTo(), entries.size()));
                places.add(new Place(element, ""));
              });
    }
    Map<String, Integer> counts = new LinkedHashMap<>();
    for (XmlText.Element child : element.children()) {
      int count = counts.merge(child.name(), 1, Integer::sum);
      List<String> own = new ArrayList<>(key);
      own.add(child.name() + (count == 1 ? "" : "[" + (count - 1) + "]"));
      element(child, own);
    }
  }

  private void entry(List<String> key, String name, String value, int from) {
    List<String> own = new ArrayList<>(key);
    own.add(name);
    entries.add(new Entry(own, value, from, entries.size()));
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
    return List.copyOf(elements.keySet());
  }

  @Override
  public void replace(Edits edits, Entry old, Value value) {
    Place place = places.get(old.index());
    if (place.attribute().isEmpty()) {
      edits.replace(
          place.element().tagTo(), place.element().contentTo(), XmlText.escaped(value.text()));
    } else {
      new XmlEdit(edits, place.element()).set(place.attribute(), value.text());
    }
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    for (Entry one : away) {
      Place place = places.get(one.index());
      if (place.attribute().isEmpty()) {
        new XmlEdit(edits, place.element()).removeElement();
      } else {
        new XmlEdit(edits, place.element()).remove(place.attribute());
      }
    }
    Map<List<String>, Branch> added = new LinkedHashMap<>();
    for (Fresh one : fresh) {
      List<String> key = one.key();
      String last = key.get(key.size() - 1);
      List<String> around = last.startsWith("@") ? key.subList(0, key.size() - 1) : key;
      int depth = around.size();
      while (depth > 0 && !elements.containsKey(around.subList(0, depth))) {
        depth--;
      }
      if (depth == 0) {
        throw source.malformed(0, "the outermost element is not " + key.get(0) + ".");
      }
      XmlText.Element there = element(around.subList(0, depth));
      if (depth == around.size() && last.startsWith("@")) {
        new XmlEdit(edits, there).set(last.substring(1), one.value().text());
      } else if (depth == around.size()) {
        edits.replace(there.tagTo(), there.contentTo(), XmlText.escaped(one.value().text()));
      } else {
        Branch branch = added.computeIfAbsent(around.subList(0, depth), k -> new Branch(""));
        for (String name : around.subList(depth, around.size())) {
          branch = branch.child(name);
        }
        if (last.startsWith("@")) {
          branch.attributes.put(last.substring(1), one.value().text());
        } else {
          branch.content = one.value().text();
        }
      }
    }
    added.forEach(
        (key, branch) -> {
          StringBuilder lines = new StringBuilder();
          branch.children.values().forEach(child -> child.write(lines, ""));
          new XmlEdit(edits, element(key)).append(lines.toString());
        });
  }

  private XmlText.Element element(List<String> key) {
    return Objects.requireNonNull(elements.get(key));
  }

  /** An element that is to be added. */
  private final class Branch {
    private final String name;
    private final Map<String, String> attributes = new LinkedHashMap<>();
    private final Map<String, Branch> children = new LinkedHashMap<>();
    private String content = "";

    Branch(String name) {
      this.name = name;
    }

    Branch child(String wanted) {
      return children.computeIfAbsent(wanted, Branch::new);
    }

    void write(StringBuilder lines, String indentation) {
      lines.append(indentation).append('<').append(name);
      attributes.forEach(
          (key, value) ->
              lines
                  .append(' ')
                  .append(key)
                  .append("=\"")
                  .append(XmlText.escaped(value))
                  .append('"'));
      if (children.isEmpty() && content.isEmpty()) {
        lines.append("/>\n");
        return;
      }
      lines.append('>').append(XmlText.escaped(content));
      if (!children.isEmpty()) {
        lines.append('\n');
        children.values().forEach(one -> one.write(lines, indentation + source.step()));
        lines.append(indentation);
      }
      lines.append("</").append(name).append(">\n");
    }
  }
}
