// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.lossless.Edits;
import io.symbolon.lossless.XmlEdit;
import io.symbolon.lossless.XmlText;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * An element as it is wanted.
 *
 * @param attributes its attributes; one with an empty value is not to be there
 * @param parts what is in it
 */
record Part(String name, Map<String, String> attributes, List<Part> parts) {
  Part {
    attributes = new LinkedHashMap<>(attributes);
    parts = List.copyOf(parts);
  }

  /** An element of names and values in turn, with others in it. */
  static Part of(String name, List<String> attributes, Part... parts) {
    Map<String, String> all = new LinkedHashMap<>();
    for (int i = 0; i < attributes.size(); i += 2) {
      all.put(attributes.get(i), attributes.get(i + 1));
    }
    return new Part(name, all, List.of(parts));
  }

  /** As it is written where it is not there yet. */
  String text(String step) {
    StringBuilder text = new StringBuilder("<").append(name);
    attributes.forEach(
        (attribute, value) -> {
          if (!value.isEmpty()) {
            text.append(' ')
                .append(attribute)
                .append("=\"")
                .append(XmlText.escaped(value))
                .append('"');
          }
        });
    if (parts.isEmpty()) {
      return text.append("/>").toString();
    }
    text.append('>');
    for (Part part : parts) {
      text.append('\n').append(step).append(part.text(step).replace("\n", "\n" + step));
    }
    return text.append("\n</").append(name).append('>').toString();
  }

  /** Makes an element that is there this one. */
  void change(Edits edits, XmlText.Element there) {
    XmlEdit edit = new XmlEdit(edits, there);
    attributes.forEach(
        (attribute, value) -> {
          if (value.isEmpty()) {
            edit.remove(attribute);
          } else {
            edit.set(attribute, value);
          }
        });
    for (Part part : parts) {
      List<XmlText.Element> same = there.children(part.name());
      if (same.isEmpty()) {
        edit.append(part.text(edits.source().step()));
      } else {
        part.change(edits, same.get(0));
      }
    }
  }
}
