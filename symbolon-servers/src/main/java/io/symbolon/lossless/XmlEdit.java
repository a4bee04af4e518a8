// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import java.util.Optional;

/** Changes of attributes and elements where they stand. */
public final class XmlEdit {
  private final Edits edits;
  private final XmlText.Element element;

  /**
   * For one element.
   *
   * @param edits takes the changes
   */
  public XmlEdit(Edits edits, XmlText.Element element) {
    this.edits = edits;
    this.element = element;
  }

  /** Lets an attribute have a value: where it is, else as the last one of the tag. */
  public void set(String name, String value) {
    Optional<XmlText.Attribute> there = element.attribute(name);
    if (there.isPresent()) {
      if (!there.get().value().equals(value)) {
        edits.replace(there.get().valueFrom(), there.get().valueTo(), quoted(there.get(), value));
      }
      return;
    }
    int at =
        element.attributes().isEmpty()
            ? element.from() + 1 + element.name().length()
            : element.attributes().get(element.attributes().size() - 1).to();
    edits.insert(at, separator() + name + "=\"" + XmlText.escaped(value) + "\"");
  }

  private String quoted(XmlText.Attribute there, String value) {
    char quote = edits.source().text().charAt(there.valueTo());
    String text = XmlText.escaped(value);
    return quote == '\'' ? text.replace("'", "&apos;") : text;
  }

  /** What stands before the last attribute stands before the next as well. */
  private String separator() {
    int count = element.attributes().size();
    if (count < 2) {
      return " ";
    }
    String between =
        edits
            .source()
            .text()
            .substring(
                element.attributes().get(count - 2).to(),
                element.attributes().get(count - 1).from());
    return between.replace("\r\n", "\n");
  }

  /** Takes an attribute away, with the blanks before it. */
  public void remove(String name) {
    element
        .attribute(name)
        .ifPresent(
            one -> {
              int from = one.from();
              while (Character.isWhitespace(edits.source().text().charAt(from - 1))) {
                from--;
              }
              edits.replace(from, one.to(), "");
            });
  }

  /**
   * Puts an element in, as the last one in this element.
   *
   * @param lines the element, indented as if it stood at the beginning of a line
   */
  public void append(String lines) {
    SourceText source = edits.source();
    String own = source.indentation(element.from());
    String inside =
        element.children().isEmpty()
            ? own + source.step()
            : source.indentation(element.children().get(0).from());
    String text = inside + lines.strip().replace("\n", "\n" + inside) + "\n";
    if (element.isOneTag()) {
      int slash = source.text().lastIndexOf('/', element.to() - 1);
      int from = slash;
      while (Character.isWhitespace(source.text().charAt(from - 1))) {
        from--;
      }
      edits.replace(from, element.to(), ">\n" + text + own + "</" + element.name() + ">");
      return;
    }
    int start = source.lineStart(element.contentTo());
    if (start >= element.tagTo() && source.text().substring(start, element.contentTo()).isBlank()) {
      edits.insert(start, text);
    } else {
      edits.insert(element.contentTo(), "\n" + text + own);
    }
  }

  /**
   * Puts an element in behind this one.
   *
   * @param lines the element, indented as if it stood at the beginning of a line
   */
  public void after(String lines) {
    String own = edits.source().indentation(element.from());
    edits.insert(element.to(), "\n" + own + lines.strip().replace("\n", "\n" + own));
  }

  /** Takes the element away, with its line where nothing else stands on it. */
  public void removeElement() {
    SourceText source = edits.source();
    String text = source.text();
    int start = source.lineStart(element.from());
    int end = element.to();
    while (end < text.length() && " \t\r".indexOf(text.charAt(end)) >= 0) {
      end++;
    }
    boolean alone =
        text.substring(start, element.from()).isBlank()
            && (end == text.length() || text.charAt(end) == '\n');
    if (alone) {
      edits.replace(start, Math.min(end + 1, text.length()), "");
    } else {
      edits.replace(element.from(), element.to(), "");
    }
  }
}
