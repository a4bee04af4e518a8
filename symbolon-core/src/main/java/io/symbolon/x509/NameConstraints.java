package io.symbolon.x509;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.VisibleText;
import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * The hosts below an authority (RFC 5280, 4.2.1.10): those that it may sign for, and those that it
 * must not. Constraints on other kinds of name are kept apart and judged by the platform alone.
 *
 * @param permitted what is permitted; where a kind of name is not among it, all of that kind is
 * @param excluded what is excluded
 */
public record NameConstraints(List<Area> permitted, List<Area> excluded) {
  private static final int IPV4_MASKED = 8;
  private static final int IPV6_MASKED = 32;

  /** Copies the lists. */
  public NameConstraints {
    permitted = List.copyOf(permitted);
    excluded = List.copyOf(excluded);
  }

  /** No constraint. */
  public static NameConstraints none() {
    return new NameConstraints(List.of(), List.of());
  }

  /**
   * A set of hosts: a domain with all below it, or a network.
   *
   * @param kind {@link GeneralName.Kind#DNS} or {@link GeneralName.Kind#IP}, or another that is
   *     only shown
   * @param text the domain, or the network as address and length of its mask
   * @param content the content octets
   */
  @SuppressWarnings("ArrayRecordComponent") // compared by its text
  public record Area(GeneralName.Kind kind, String text, byte[] content) {
    /**
     * An area such as {@code lanternfish.example}, {@code 192.0.2.0/24} or {@code 192.0.2.17}.
     *
     * @throws SymbolonException if the text is none
     */
    public static Area parse(String text) {
      int slash = text.indexOf('/');
      String host = slash < 0 ? text : text.substring(0, slash);
      Optional<byte[]> address = IpAddress.octets(host);
      if (address.isPresent()) {
        int bits = 8 * address.get().length;
        return network(text, address.get(), slash < 0 ? bits : mask(text, slash, bits));
      }
      if (slash >= 0) {
        throw wrong(text);
      }
      HostName domain = HostName.parse(host.startsWith(".") ? host.substring(1) : host);
      if (domain.isWildcard()) {
        throw wrong(text);
      }
      return new Area(GeneralName.Kind.DNS, domain.toString(), GeneralName.ascii(domain));
    }

    private static int mask(String text, int slash, int bits) {
      String digits = text.substring(slash + 1);
      if (!digits.matches("[0-9]{1,3}") || Integer.parseInt(digits) > bits) {
        throw wrong(text);
      }
      return Integer.parseInt(digits);
    }

    private static Area network(String text, byte[] address, int length) {
      byte[] content = Arrays.copyOf(address, 2 * address.length);
      for (int bit = 0; bit < length; bit++) {
        content[address.length + bit / 8] |= (byte) (0x80 >> bit % 8);
      }
      for (int i = 0; i < address.length; i++) {
        if ((address[i] & ~content[address.length + i]) != 0) {
          throw wrong(text);
        }
      }
      return new Area(GeneralName.Kind.IP, IpAddress.text(address) + "/" + length, content);
    }

    private static SymbolonException wrong(String text) {
      return new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(text) + "' is no set of hosts.",
          "It is a domain, which stands for itself and all below it, or a network: an address whose"
              + " bits behind the mask are zero, a slash and the length of the mask.",
          "Write it like lanternfish.example or 192.0.2.0/24.");
    }

    static Area read(Element name) {
      byte[] content = name.content();
      return switch (name.tag() & 0x1F) {
        case 2 -> new Area(GeneralName.Kind.DNS, GeneralName.read(name).value(), content);
        case 7 -> new Area(GeneralName.Kind.IP, maskedText(content), content);
        default -> {
          GeneralName read = GeneralName.read(name);
          yield new Area(read.kind(), read.value(), content);
        }
      };
    }

    private static String maskedText(byte[] content) {
      if (content.length != IPV4_MASKED && content.length != IPV6_MASKED) {
        throw SymbolonException.malformed("name constraint", "A network has a wrong length.");
      }
      int half = content.length / 2;
      int length = 0;
      for (int i = half; i < content.length; i++) {
        length += Integer.bitCount(content[i] & 0xFF);
      }
      return IpAddress.text(Arrays.copyOf(content, half)) + "/" + length;
    }

    boolean holds(GeneralName name) {
      if (kind != name.kind()) {
        return false;
      }
      return kind == GeneralName.Kind.DNS ? holdsDns(name.value()) : holdsAddress(name.value());
    }

    private boolean holdsDns(String value) {
      String domain = text.toLowerCase(Locale.ROOT);
      String host = value.toLowerCase(Locale.ROOT);
      if (domain.startsWith(".")) { // not after the standard, but some authorities write it so
        return host.endsWith(domain);
      }
      return domain.isEmpty() || host.equals(domain) || host.endsWith("." + domain);
    }

    private boolean holdsAddress(String value) {
      Optional<byte[]> address = IpAddress.octets(value);
      if (address.isEmpty() || 2 * address.get().length != content.length) {
        return false;
      }
      int half = content.length / 2;
      for (int i = 0; i < half; i++) {
        if (((address.get()[i] ^ content[i]) & content[half + i]) != 0) {
          return false;
        }
      }
      return true;
    }

    private byte[] encoding() {
      int tag = kind == GeneralName.Kind.DNS ? 2 : 7;
      return Der.sequence(Der.contextPrimitive(tag, content));
    }

    @Override
    public boolean equals(Object other) {
      return other instanceof Area that && kind == that.kind && text.equals(that.text);
    }

    @Override
    public int hashCode() {
      return text.hashCode();
    }

    @Override
    public String toString() {
      return text;
    }
  }

  /** Whether there is no constraint at all. */
  public boolean isEmpty() {
    return permitted.isEmpty() && excluded.isEmpty();
  }

  /**
   * Why a name is refused, if it is: not permitted, or excluded.
   *
   * @param name the name
   * @param authority whose constraints these are, for the sentence
   * @return the rest of a sentence that begins with the name
   */
  public Optional<String> refusal(GeneralName name, String authority) {
    for (Area area : excluded) {
      if (area.holds(name)) {
        return Optional.of(
            "lies in "
                + VisibleText.of(area.text())
                + ", which "
                + authority
                + " must not sign for");
      }
    }
    List<Area> sameKind = permitted.stream().filter(area -> area.kind() == name.kind()).toList();
    if (name.isHost()
        && !sameKind.isEmpty()
        && sameKind.stream().noneMatch(area -> area.holds(name))) {
      return Optional.of(
          "does not lie in "
              + String.join(
                  " or ", sameKind.stream().map(area -> VisibleText.of(area.text())).toList())
              + ", all that "
              + authority
              + " may sign for");
    }
    return Optional.empty();
  }

  static NameConstraints read(Element element) {
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    return new NameConstraints(areas(cursor, 0), areas(cursor, 1));
  }

  private static List<Area> areas(Cursor cursor, int number) {
    List<Area> areas = new ArrayList<>();
    Optional<Element> trees = cursor.nextIf(Tags.context(number));
    if (trees.isPresent()) {
      Cursor each = trees.get().cursor();
      while (each.hasNext()) {
        areas.add(Area.read(each.next().cursor(Tags.SEQUENCE).next()));
      }
    }
    return areas;
  }

  /** Critical, as the standard asks. */
  Extension toExtension() {
    List<byte[]> parts = new ArrayList<>();
    if (!permitted.isEmpty()) {
      parts.add(Der.context(0, permitted.stream().map(Area::encoding).toArray(byte[][]::new)));
    }
    if (!excluded.isEmpty()) {
      parts.add(Der.context(1, excluded.stream().map(Area::encoding).toArray(byte[][]::new)));
    }
    return new Extension(Oids.NAME_CONSTRAINTS, true, Der.sequence(parts));
  }
}
