// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * Properties and YAML by keys. In YAML the parts of a key are those between the dots of its name;
 * in properties the dots are letters of it.
 */
public final class KeyedDotted implements KeyedText {
  private final DottedText text;
  private final List<Entry> entries = new ArrayList<>();

  private final boolean split;

  private KeyedDotted(DottedText text, boolean split) {
    this.text = text;
    this.split = split;
    for (DottedText.Named named : text.settings()) {
      entries.add(new Entry(parts(named.name()), named.value(), named.from(), entries.size()));
    }
  }

  /**
   * {@return the settings of a file}
   *
   * @param text the file, read as YAML
   */
  public static KeyedDotted of(YamlText text) {
    return new KeyedDotted(text, true);
  }

  /**
   * {@return the settings of a file}
   *
   * @param text the file, read as properties
   */
  public static KeyedDotted of(PropertiesText text) {
    return new KeyedDotted(text, false);
  }

  private List<String> parts(String name) {
    return split ? List.of(name.split("\\.", -1)) : List.of(name);
  }

  @Override
  public SourceText source() {
    return text.source();
  }

  @Override
  public List<Entry> entries() {
    return List.copyOf(entries);
  }

  @Override
  public List<List<String>> sections() {
    Set<String> names = new TreeSet<>();
    for (Entry entry : entries) {
      for (int depth = 1; depth < entry.key().size(); depth++) {
        names.add(String.join(".", entry.key().subList(0, depth)));
      }
    }
    return names.stream().map(this::parts).toList();
  }

  @Override
  public void replace(Edits edits, Entry old, Value value) {
    text.replace(edits, text.settings().get(old.index()), value.text());
  }

  @Override
  public void change(Edits edits, Collection<Entry> away, List<Fresh> fresh) {
    Map<String, String> values = new LinkedHashMap<>();
    fresh.forEach(one -> values.put(String.join(".", one.key()), one.value().text()));
    List<DottedText.Named> settings = text.settings();
    text.change(edits, away.stream().map(one -> settings.get(one.index())).toList(), values);
  }
}
