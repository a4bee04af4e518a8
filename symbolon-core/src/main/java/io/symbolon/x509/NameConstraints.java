// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * The hosts below an authority (RFC 5280, 4.2.1.10): those that it may sign for, and those that it
 * must not. Authorities of our own are constrained in hosts; every kind is judged.
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

  /**
   * {@return constraints of hosts as they are meant} Where hosts are permitted by their domain and
   * no network is, addresses are excluded: RFC 5280 (4.2.1.10) would permit all of them, since no
   * name of that kind is among what is permitted.
   *
   * @param permitted domains and networks; empty where every host is permitted
   * @param excluded domains and networks that are not
   */
  public static NameConstraints ofHosts(List<Area> permitted, List<Area> excluded) {
    List<Area> all = new ArrayList<>(excluded);
    if (!permitted.isEmpty()
        && permitted.stream().noneMatch(area -> area.kind() == GeneralName.NameForm.IP)) {
      all.add(Area.parse("0.0.0.0/0"));
      all.add(Area.parse("::/0"));
    }
    return new NameConstraints(permitted, all);
  }

  /** {@return no constraint} */
  public static NameConstraints none() {
    return new NameConstraints(List.of(), List.of());
  }

  /**
   * A set of hosts: a domain with all below it, or a network.
   *
   * @param kind {@link GeneralName.NameForm#DNS} or {@link GeneralName.NameForm#IP}, or another
   *     that is only shown
   * @param text the domain, or the network as address and length of its mask
   * @param content the content octets
   */
  @SuppressWarnings("ArrayRecordComponent") // compared by its text
  public record Area(GeneralName.NameForm kind, String text, byte[] content) {
    /**
     * {@return an area such as {@code lanternfish.example}, {@code 192.0.2.0/24} or {@code
     * 192.0.2.17}}
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
      return new Area(GeneralName.NameForm.DNS, domain.toString(), GeneralName.ascii(domain));
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
      return new Area(GeneralName.NameForm.IP, IpAddress.text(address) + "/" + length, content);
    }

    private static SymbolonException wrong(String text) {
      return new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(text) + "' is not a set of hosts.",
          "It is a domain, which stands for itself and all below it, or a network: an address whose"
              + " bits behind the mask are zero, a slash and the length of the mask.",
          "Write it like lanternfish.example or 192.0.2.0/24.");
    }

    static Area read(Element name) {
      byte[] content = name.content();
      return switch (name.tag() & 0x1F) {
        case 2 -> new Area(GeneralName.NameForm.DNS, GeneralName.read(name).value(), content);
        case 7 -> new Area(GeneralName.NameForm.IP, maskedText(content), content);
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

    /** Whether a name lies in it (RFC 5280, 4.2.1.10). */
    boolean holds(GeneralName name) {
      if (kind != name.kind()) {
        return false;
      }
      return switch (kind) {
        case DNS -> isBelow(name.value());
        case IP -> holdsAddress(name.value());
        case EMAIL -> holdsEmail(name.value());
        case URI -> NameParts.uriHost(name.value()).filter(this::isHostOrBelow).isPresent();
        case DIRECTORY -> holdsDirectory(name.value());
        case REGISTERED_ID, OTHER -> text.equals(name.value());
      };
    }

    /** Whether some host that a wildcard stands for lies in it. */
    boolean touches(GeneralName name) {
      if (kind != GeneralName.NameForm.DNS
          || name.kind() != GeneralName.NameForm.DNS
          || !name.value().startsWith("*.")) {
        return false;
      }
      String behind = NameParts.plain(name.value().substring(2));
      String domain = NameParts.plain(text.startsWith(".") ? text.substring(1) : text);
      int dot = domain.indexOf('.');
      // The area is one of the hosts that the wildcard stands for, or holds what it stands below.
      return (dot > 0 && domain.substring(dot + 1).equals(behind)) || isBelow(behind);
    }

    private boolean isBelow(String value) {
      String domain = NameParts.plain(text);
      String host = NameParts.plain(value);
      if (domain.startsWith(".")) { // not after the standard, but some authorities write it so
        return host.endsWith(domain);
      }
      return domain.isEmpty() || host.equals(domain) || host.endsWith("." + domain);
    }

    /** For e-mail addresses and URIs: the host itself, or with a leading point those below it. */
    private boolean isHostOrBelow(String value) {
      String area = NameParts.plain(text);
      String host = NameParts.plain(value);
      return area.startsWith(".") ? host.endsWith(area) : host.equals(area);
    }

    private boolean holdsEmail(String value) {
      int at = value.lastIndexOf('@');
      int own = text.lastIndexOf('@');
      if (own > 0) {
        return at > 0
            && value.substring(0, at).equals(text.substring(0, own))
            && NameParts.plain(value.substring(at + 1))
                .equals(NameParts.plain(text.substring(own + 1)));
      }
      return at >= 0 && isHostOrBelow(value.substring(at + 1));
    }

    private boolean holdsDirectory(String value) {
      try {
        return DistinguishedName.read(Element.read(content).only())
            .isPrefixOf(DistinguishedName.parse(value));
      } catch (SymbolonException e) {
        return false;
      }
    }

    private boolean holdsAddress(String value) {
      Optional<byte[]> read = IpAddress.octets(value);
      if (read.isEmpty()) {
        return false;
      }
      byte[] address = IpAddress.unwrapped(read.get());
      int half = content.length / 2;
      byte[] base = IpAddress.unwrapped(Arrays.copyOf(content, half));
      byte[] mask = Arrays.copyOfRange(content, content.length - base.length, content.length);
      if (address.length != base.length) {
        return false;
      }
      for (int i = 0; i < base.length; i++) {
        if (((address[i] ^ base[i]) & mask[i]) != 0) {
          return false;
        }
      }
      return true;
    }

    private byte[] encoding() {
      int tag = kind == GeneralName.NameForm.DNS ? 2 : 7;
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

  /** {@return whether there is no constraint at all} */
  public boolean isEmpty() {
    return permitted.isEmpty() && excluded.isEmpty();
  }

  /**
   * Why a name is refused, if it is: not permitted, or excluded.
   *
   * @param authority whose constraints these are, for the sentence
   * @return the rest of a sentence that begins with the name
   */
  public Optional<String> refusal(GeneralName name, String authority) {
    // A text that is an address counts as one, whatever it calls itself.
    Optional<GeneralName> address =
        name.kind() == GeneralName.NameForm.DNS
            ? IpAddress.octets(NameParts.plain(name.value()))
                .map(o -> new GeneralName(GeneralName.NameForm.IP, IpAddress.text(o)))
            : Optional.empty();
    if (address.isPresent()) {
      Optional<String> refused = refusal(address.get(), authority);
      if (refused.isPresent()) {
        return refused;
      }
    }
    for (Area area : excluded) {
      if (area.holds(name) || area.touches(name)) {
        return Optional.of(
            (area.holds(name) ? "lies in " : "stands for hosts in ")
                + VisibleText.of(area.text())
                + ", which "
                + authority
                + " must not sign for");
      }
    }
    List<Area> sameKind = permitted.stream().filter(area -> area.kind() == name.kind()).toList();
    if (!sameKind.isEmpty() && sameKind.stream().noneMatch(area -> area.holds(name))) {
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
        Cursor tree = each.next().cursor(Tags.SEQUENCE);
        areas.add(Area.read(tree.next()));
        if (tree.nextIf(Tags.contextPrimitive(0)).filter(least -> !isZero(least)).isPresent()
            || tree.hasNext()) {
          throw SymbolonException.malformed(
              "name constraint", "It counts levels, which RFC 5280 does not allow.");
        }
      }
    }
    return areas;
  }

  private static boolean isZero(Element number) {
    return number.length() > 0 && Arrays.equals(number.content(), new byte[1]);
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
