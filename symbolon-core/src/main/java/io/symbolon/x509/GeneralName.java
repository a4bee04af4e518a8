// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.Hex;
import io.symbolon.text.VisibleText;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;

/**
 * One alternative name (RFC 5280, 4.2.1.6).
 *
 * @param kind what kind of name it is
 * @param value its text: an IP address in its usual form, other kinds in hexadecimal
 */
public record GeneralName(NameForm kind, String value) {
  /** The kinds of general name that have a text of their own, and all others. */
  public enum NameForm {
    /** rfc822Name: an e-mail address. */
    EMAIL(1),
    /** dNSName. */
    DNS(2),
    /** directoryName. */
    DIRECTORY(4),
    /** uniformResourceIdentifier. */
    URI(6),
    /** iPAddress. */
    IP(7),
    /** registeredID. */
    REGISTERED_ID(8),
    /** Any other. */
    OTHER(0);

    private final int tag;

    NameForm(int tag) {
      this.tag = tag;
    }
  }

  static List<GeneralName> readAll(Element element) {
    List<GeneralName> names = new ArrayList<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    while (cursor.hasNext()) {
      names.add(read(cursor.next()));
    }
    return List.copyOf(names);
  }

  static GeneralName read(Element element) {
    if ((element.tag() & 0xC0) != 0x80) {
      // Only a tag of its own context says which kind of name it is; a text by itself is no host.
      return new GeneralName(NameForm.OTHER, Hex.of(element.content()));
    }
    return switch (element.tag() & 0x1F) {
      case 1 -> new GeneralName(NameForm.EMAIL, ascii(element));
      case 2 -> new GeneralName(NameForm.DNS, ascii(element));
      case 4 ->
          new GeneralName(NameForm.DIRECTORY, DistinguishedName.read(element.only()).toString());
      case 6 -> new GeneralName(NameForm.URI, ascii(element));
      case 7 -> new GeneralName(NameForm.IP, IpAddress.text(element.content()));
      case 8 -> new GeneralName(NameForm.REGISTERED_ID, element.as(Tags.OID).oid().toString());
      default -> new GeneralName(NameForm.OTHER, Hex.of(element.content()));
    };
  }

  private static String ascii(Element element) {
    return new String(element.content(), StandardCharsets.ISO_8859_1);
  }

  static byte[] ascii(HostName host) {
    return host.toString().getBytes(StandardCharsets.US_ASCII);
  }

  /**
   * {@return the name of a host: an IP address where the text is one, else a DNS name}
   *
   * @throws io.symbolon.failure.SymbolonException if it is neither
   */
  public static GeneralName ofHost(String host) {
    HostName name = HostName.parse(host);
    return new GeneralName(name.isAddress() ? NameForm.IP : NameForm.DNS, name.toString());
  }

  /**
   * {@return an e-mail address}
   *
   * @throws io.symbolon.failure.SymbolonException if the text is none
   */
  public static GeneralName ofEmail(String address) {
    int at = address.lastIndexOf('@');
    if (at < 1 || !address.substring(0, at).matches("[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]+")) {
      throw wrong(address, "e-mail address", "buoys@lanternfish.example");
    }
    HostName host = HostName.parse(address.substring(at + 1));
    return new GeneralName(NameForm.EMAIL, address.substring(0, at + 1) + host);
  }

  /**
   * {@return a URI with a scheme (RFC 5280, 4.2.1.6: never a relative one)}
   *
   * @throws io.symbolon.failure.SymbolonException if the text is none
   */
  public static GeneralName ofUri(String text) {
    try {
      URI uri = new URI(text);
      if (uri.isAbsolute()) {
        return new GeneralName(NameForm.URI, uri.toASCIIString());
      }
    } catch (URISyntaxException e) {
      throw wrong(text, "URI", "https://ingest.lanternfish.example/readings");
    }
    throw wrong(text, "URI with a scheme", "https://ingest.lanternfish.example/readings");
  }

  private static SymbolonException wrong(String text, String what, String example) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "'" + VisibleText.of(text) + "' is no " + what + ".",
        "It is not of the form that certificates hold.",
        "Write it like " + example + ".");
  }

  static Extension toExtension(Collection<GeneralName> names, boolean critical) {
    return new Extension(
        Oids.SUBJECT_ALT_NAME,
        critical,
        Der.sequence(names.stream().map(GeneralName::encoding).toList()));
  }

  /** Such as {@code DNS ingest.lanternfish.example}. */
  @Override
  public String toString() {
    String title =
        switch (kind) {
          case EMAIL -> "e-mail";
          case DIRECTORY -> "name";
          case REGISTERED_ID -> "identifier";
          case OTHER -> "other";
          case DNS, IP, URI -> kind.name();
        };
    return title + " " + value;
  }

  byte[] encoding() {
    byte[] content =
        switch (kind) {
          case IP -> IpAddress.octets(value).orElseThrow();
          case EMAIL, DNS, URI -> value.getBytes(StandardCharsets.US_ASCII);
          case DIRECTORY, REGISTERED_ID, OTHER ->
              throw new IllegalArgumentException("names of kind " + kind + " are only read");
        };
    return Der.contextPrimitive(kind.tag, content);
  }

  /** {@return whether names of its kind are written here, and not only read} */
  public boolean isWritten() {
    return isHost() || kind == NameForm.EMAIL || kind == NameForm.URI;
  }

  /** {@return whether it names a host} */
  public boolean isHost() {
    return kind == NameForm.DNS || kind == NameForm.IP;
  }
}
