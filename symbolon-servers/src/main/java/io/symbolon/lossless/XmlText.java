// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import io.symbolon.limit.Limits;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * The elements of an XML file with the positions of their tags and attributes.
 *
 * <p>Whether the file is well-formed is the platform's parser's word, which reads no other file.
 * Its offsets are those of its buffer, and wrong in long files; so the tags are found here, in a
 * text that is known to be well-formed, and must be those that the parser has met:
 *
 * <pre>
 * file = *( text / comment / cdata / instruction / doctype / tag )
 * tag  = "&lt;" name *( blank name "=" quoted ) [ "/" ] "&gt;"  /  "&lt;/" name "&gt;"
 * </pre>
 */
public final class XmlText {
  private final SourceText source;
  private final String text;
  private int at;

  private XmlText(SourceText source) {
    this.source = source;
    this.text = source.text();
  }

  /**
   * An attribute.
   *
   * @param value what it means
   * @param from where its name begins
   * @param valueFrom where its value begins, behind the quote
   * @param valueTo where its value ends, before the quote
   * @param to where it ends, exclusive
   */
  public record Attribute(
      String name, String value, int from, int valueFrom, int valueTo, int to) {}

  /**
   * An element.
   *
   * @param source the file
   * @param attributes its attributes, in order
   * @param children the elements in it, in order
   * @param from where its first tag begins
   * @param tagTo where its first tag ends, exclusive
   * @param contentTo where its last tag begins; the same as {@code tagTo} where it has one tag
   *     alone
   * @param to where it ends, exclusive
   */
  public record Element(
      SourceText source,
      String name,
      List<Attribute> attributes,
      List<Element> children,
      int from,
      int tagTo,
      int contentTo,
      int to) {
    /**
     * Copies the lists.
     *
     * @param source the file
     * @param children the elements in it
     * @param from where it begins
     * @param tagTo where its first tag ends
     * @param contentTo where its last tag begins
     * @param to where it ends
     */
    public Element {
      attributes = List.copyOf(attributes);
      children = List.copyOf(children);
    }

    /** {@return the text in it, where it holds nothing else} */
    public Optional<String> content() {
      String raw = tagTo < contentTo ? source.text().substring(tagTo, contentTo) : "";
      String bare = raw.strip();
      if (bare.startsWith("<![CDATA[") && bare.indexOf("]]>") == bare.length() - 3) {
        return Optional.of(bare.substring(9, bare.length() - 3));
      }
      return raw.indexOf('<') < 0 ? Optional.of(meaning(raw)) : Optional.empty();
    }

    /** {@return whether it is written as one tag, with nothing in it} */
    public boolean isOneTag() {
      return contentTo == to;
    }

    /**
     * {@return an attribute}
     *
     * @param wanted its name
     */
    public Optional<Attribute> attribute(String wanted) {
      return attributes.stream().filter(one -> one.name().equals(wanted)).findFirst();
    }

    /**
     * {@return the value of an attribute; the other text where it has none}
     *
     * @param wanted its name
     * @param otherwise the other text
     */
    public String value(String wanted, String otherwise) {
      return attribute(wanted).map(Attribute::value).orElse(otherwise);
    }

    /**
     * {@return the elements in it with a name}
     *
     * @param wanted the name
     */
    public List<Element> children(String wanted) {
      return children.stream().filter(one -> one.name().equals(wanted)).toList();
    }

    /** {@return the number of its line} */
    public int line() {
      return source.line(from);
    }
  }

  /**
   * {@return the outermost element of a file}
   *
   * @param source the file
   * @throws io.symbolon.failure.SymbolonException if it is not well-formed, with line and column
   */
  public static Element read(SourceText source) {
    List<String> met = names(source);
    XmlText reader = new XmlText(source);
    List<String> found = new ArrayList<>();
    Element root = reader.root(found);
    if (!met.equals(found)) {
      throw new IllegalStateException(
          "the elements of " + source.path() + " were told apart wrong");
    }
    return root;
  }

  private static List<String> names(SourceText source) {
    XMLInputFactory factory = XMLInputFactory.newFactory();
    factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
    factory.setProperty(XMLInputFactory.IS_NAMESPACE_AWARE, false);
    List<String> names = new ArrayList<>();
    int depth = 0;
    try {
      XMLStreamReader reader = factory.createXMLStreamReader(new StringReader(source.text()));
      while (reader.hasNext()) {
        int event = reader.next();
        if (event == XMLStreamConstants.START_ELEMENT) {
          names.add(name(reader));
          if (++depth > Limits.SETTING_DEPTH) {
            throw source.malformed(
                0, "elements in elements, more than " + Limits.SETTING_DEPTH + ".");
          }
        } else if (event == XMLStreamConstants.END_ELEMENT) {
          depth--;
        }
      }
    } catch (XMLStreamException e) {
      int line = e.getLocation() == null ? 1 : e.getLocation().getLineNumber();
      int column = e.getLocation() == null ? 1 : e.getLocation().getColumnNumber();
      throw source.malformed(position(source, line, column), "it is not XML: " + said(e));
    }
    return names;
  }

  private static String name(XMLStreamReader reader) {
    String prefix = reader.getPrefix();
    return prefix == null || prefix.isEmpty()
        ? reader.getLocalName()
        : prefix + ":" + reader.getLocalName();
  }

  private static String said(XMLStreamException e) {
    String message = String.valueOf(e.getMessage());
    int at = message.indexOf("Message: ");
    String said = at < 0 ? message : message.substring(at + "Message: ".length());
    return io.symbolon.text.VisibleText.of(said.strip());
  }

  private static int position(SourceText source, int line, int column) {
    int at = 0;
    for (int i = 1; i < line && at >= 0; i++) {
      int next = source.text().indexOf('\n', at);
      at = next < 0 ? source.text().length() : next + 1;
    }
    return Math.min(at + Math.max(0, column - 1), source.text().length());
  }

  private Element root(List<String> found) {
    while (true) {
      Tag tag = tag();
      if (!tag.end()) {
        return element(tag, found);
      }
    }
  }

  private record Tag(
      String name, List<Attribute> attributes, int from, int to, boolean end, boolean one) {}

  private Element element(Tag first, List<String> found) {
    found.add(first.name());
    if (first.one()) {
      return new Element(
          source,
          first.name(),
          first.attributes(),
          List.of(),
          first.from(),
          first.to(),
          first.to(),
          first.to());
    }
    List<Element> children = new ArrayList<>();
    while (true) {
      Tag next = tag();
      if (next.end()) {
        return new Element(
            source,
            first.name(),
            first.attributes(),
            children,
            first.from(),
            first.to(),
            next.from(),
            next.to());
      }
      children.add(element(next, found));
    }
  }

  /** The next tag; whatever else stands before it is passed over. */
  private Tag tag() {
    while (true) {
      int open = text.indexOf('<', at);
      if (open < 0) {
        throw source.malformed(text.length(), "an element is not closed.");
      }
      if (text.startsWith("<!--", open)) {
        at = behind("-->", open + 4);
      } else if (text.startsWith("<![CDATA[", open)) {
        at = behind("]]>", open);
      } else if (text.startsWith("<?", open)) {
        at = behind("?>", open);
      } else if (text.startsWith("<!", open)) {
        at = doctype(open);
      } else {
        return tag(open);
      }
    }
  }

  private int behind(String end, int from) {
    int found = text.indexOf(end, from);
    if (found < 0) {
      throw source.malformed(from, "its end is missing: " + end);
    }
    return found + end.length();
  }

  private int doctype(int open) {
    int brackets = 0;
    char quote = 0;
    for (int i = open; i < text.length(); i++) {
      char c = text.charAt(i);
      if (quote != 0) {
        quote = c == quote ? 0 : quote;
      } else if (text.startsWith("<!--", i)) {
        i = behind("-->", i + 4) - 1;
      } else if (c == '"' || c == '\'') {
        quote = c;
      } else if (c == '[') {
        brackets++;
      } else if (c == ']') {
        brackets--;
      } else if (c == '>' && brackets == 0) {
        return i + 1;
      }
    }
    throw source.malformed(open, "its end is missing: >");
  }

  private Tag tag(int open) {
    boolean end = text.startsWith("</", open);
    at = end ? open + 2 : open + 1;
    String name = name();
    List<Attribute> attributes = new ArrayList<>();
    while (true) {
      blanks();
      char c = at < text.length() ? text.charAt(at) : '>';
      if (c == '>' || c == '/') {
        boolean one = c == '/';
        at = behind(">", at);
        return new Tag(name, attributes, open, at, end, one);
      }
      attributes.add(attribute());
    }
  }

  private Attribute attribute() {
    int from = at;
    String name = name();
    blanks();
    at++; // the sign between
    blanks();
    char quote = text.charAt(at);
    int valueFrom = at + 1;
    int valueTo = text.indexOf(quote, valueFrom);
    at = valueTo + 1;
    return new Attribute(
        name, meaning(text.substring(valueFrom, valueTo)), from, valueFrom, valueTo, at);
  }

  private String name() {
    int from = at;
    while (at < text.length() && " \t\r\n/>=".indexOf(text.charAt(at)) < 0) {
      at++;
    }
    return text.substring(from, at);
  }

  private void blanks() {
    while (at < text.length() && " \t\r\n".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  static String meaning(String raw) {
    StringBuilder value = new StringBuilder();
    for (int i = 0; i < raw.length(); i++) {
      char c = raw.charAt(i);
      int end = c == '&' ? raw.indexOf(';', i) : -1;
      if (end < 0) {
        value.append(c == '\n' || c == '\t' || c == '\r' ? ' ' : c);
        continue;
      }
      value.append(entity(raw.substring(i + 1, end)));
      i = end;
    }
    return value.toString();
  }

  private static String entity(String name) {
    return switch (name) {
      case "amp" -> "&";
      case "lt" -> "<";
      case "gt" -> ">";
      case "quot" -> "\"";
      case "apos" -> "'";
      default -> character(name);
    };
  }

  private static String character(String name) {
    try {
      int code =
          name.startsWith("#x")
              ? Integer.parseInt(name.substring(2), 16)
              : name.startsWith("#") ? Integer.parseInt(name.substring(1)) : -1;
      return Character.isValidCodePoint(code) ? Character.toString(code) : "&" + name + ";";
    } catch (NumberFormatException e) {
      return "&" + name + ";";
    }
  }

  /** {@return a value as it is written between double quotes} */
  public static String escaped(String value) {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      switch (c) {
        case '&' -> text.append("&amp;");
        case '<' -> text.append("&lt;");
        case '>' -> text.append("&gt;");
        case '"' -> text.append("&quot;");
        case '\n' -> text.append("&#10;");
        case '\r' -> text.append("&#13;");
        case '\t' -> text.append("&#9;");
        default -> text.append(c);
      }
    }
    return text.toString();
  }
}
