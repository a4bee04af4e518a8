// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.oid.Oid;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;

/**
 * A distinguished name. The text form is RFC 4514's, most specific part first, as in {@code
 * CN=ingest.lanternfish.example,O=Lanternfish Observatory}; {@link #parse} and {@link #toString}
 * round-trip. Two names are equal when RFC 5280, 7.1 says so: case and needless spaces do not
 * count.
 */
public final class DistinguishedName {
  private final byte[] encoding;
  private volatile @org.jspecify.annotations.Nullable List<List<Attribute>> parts;
  private volatile @org.jspecify.annotations.Nullable String comparable;

  private DistinguishedName(byte[] encoding) {
    this.encoding = encoding;
  }

  /**
   * {@return the name that {@code element} encodes; its parts are read when asked for}
   *
   * @param element the encoded value
   * @throws io.symbolon.failure.SymbolonException if it is no sequence
   */
  @SuppressWarnings("exports") // for this library: nobody else has such an element
  public static DistinguishedName read(Element element) {
    return new DistinguishedName(element.expect(Tags.SEQUENCE).encoding());
  }

  /** This name, after reading its parts, which may be damaged. */
  DistinguishedName checked() {
    parts();
    return this;
  }

  /**
   * {@return the name with a text form after RFC 4514}
   *
   * @throws io.symbolon.failure.SymbolonException if the text is none, naming the place
   */
  public static DistinguishedName parse(String text) {
    List<List<Attribute>> parts = new ArrayList<>(NameParser.parse(text));
    Collections.reverse(parts); // the text begins with the last part
    return of(parts);
  }

  /**
   * The name made of parts, the most general first, each of one or more attributes.
   *
   * @param parts the relative distinguished names in the order of the encoding
   */
  static DistinguishedName of(List<List<Attribute>> parts) {
    List<byte[]> encoded = new ArrayList<>();
    for (List<Attribute> part : parts) {
      encoded.add(Der.setOf(part.stream().map(Attribute::encoding).toList()));
    }
    return new DistinguishedName(Der.sequence(encoded));
  }

  /**
   * This name with one more, most specific part; the value is taken as it is.
   *
   * @return the distinguished name
   */
  public DistinguishedName with(Oid type, String value) {
    List<List<Attribute>> all = new ArrayList<>(parts());
    all.add(List.of(new Attribute(type, value, true)));
    return of(all);
  }

  /** {@return the encoding: a copy} */
  public byte[] encoding() {
    return encoding.clone();
  }

  /** {@return the relative distinguished names, the most general first} */
  public List<List<Attribute>> parts() {
    List<List<Attribute>> known = parts;
    if (known == null) {
      List<List<Attribute>> read = new ArrayList<>();
      Cursor names = Element.read(encoding).cursor();
      while (names.hasNext()) {
        List<Attribute> part = new ArrayList<>();
        Cursor attributes = names.next().cursor(Tags.SET);
        while (attributes.hasNext()) {
          part.add(Attribute.read(attributes.next()));
        }
        read.add(List.copyOf(part));
      }
      known = List.copyOf(read);
      parts = known;
    }
    return known;
  }

  /** {@return whether the name has no part at all} */
  public boolean isEmpty() {
    return encoding.length == 2;
  }

  /** {@return the value of the most specific attribute of a type} */
  public Optional<String> last(Oid type) {
    String found = null;
    for (List<Attribute> part : parts()) {
      for (Attribute attribute : part) {
        if (attribute.type().equals(type)) {
          found = attribute.text();
        }
      }
    }
    return Optional.ofNullable(found);
  }

  /** {@return all attributes, the most general first} */
  public List<Attribute> attributes() {
    return parts().stream().flatMap(List::stream).toList();
  }

  /**
   * {@return whether all attributes of another name are in this one, wherever they stand; values
   * are compared as RFC 5280, 7.1 says}
   *
   * @param other another one
   */
  public boolean hasAll(DistinguishedName other) {
    List<String> own = attributes().stream().map(DistinguishedName::comparable).toList();
    return other.attributes().stream().map(DistinguishedName::comparable).allMatch(own::contains);
  }

  /** Whether another name begins with all parts of this one, the most general first. */
  boolean isPrefixOf(DistinguishedName other) {
    return other.comparable().startsWith(comparable());
  }

  /** {@return the common name} */
  public Optional<String> commonName() {
    return last(Oids.CN);
  }

  /** {@return the common name, made safe to show, or the whole name where there is none} */
  public String shortText() {
    return commonName().map(io.symbolon.text.VisibleText::of).orElseGet(this::toString);
  }

  private String comparable() {
    String known = comparable;
    if (known == null) {
      StringBuilder text = new StringBuilder();
      for (List<Attribute> part : parts()) {
        if (part.size() == 1) {
          text.append(comparable(part.get(0)));
        } else {
          part.stream().map(DistinguishedName::comparable).sorted().forEach(text::append);
        }
        text.append('\u0002');
      }
      known = text.toString();
      comparable = known;
    }
    return known;
  }

  private static String comparable(Attribute attribute) {
    return attribute.type() + "=" + attribute.comparable() + '\u0001';
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof DistinguishedName that
        && (java.util.Arrays.equals(encoding, that.encoding)
            || comparable().equals(that.comparable()));
  }

  @Override
  public int hashCode() {
    return comparable().hashCode();
  }

  /** The text form of RFC 4514, 2; the empty name is the empty text. */
  @Override
  public String toString() {
    StringBuilder text = new StringBuilder();
    List<List<Attribute>> all = parts();
    for (int i = all.size() - 1; i >= 0; i--) {
      if (!text.isEmpty()) {
        text.append(',');
      }
      text.append(String.join("+", all.get(i).stream().map(Attribute::toString).toList()));
    }
    return text.toString();
  }
}
