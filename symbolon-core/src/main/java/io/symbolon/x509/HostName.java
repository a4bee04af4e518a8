// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.text.VisibleText;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * The name of a host: a DNS name, perhaps with a wildcard, or an IP address. International names
 * are held as they are encoded. {@link #parse} and {@link #toString} round-trip.
 */
public final class HostName {
  private final String text;
  private final Optional<byte[]> address;

  private HostName(String text, Optional<byte[]> address) {
    this.text = text;
    this.address = address;
  }

  /**
   * {@return the host with this name}
   *
   * @throws SymbolonException if the text is no host name
   */
  public static HostName parse(String text) {
    String bare =
        text.startsWith("[") && text.endsWith("]") ? text.substring(1, text.length() - 1) : text;
    Optional<byte[]> address = IpAddress.octets(bare);
    if (address.isPresent()) {
      return new HostName(IpAddress.text(address.get()), address);
    }
    String absolute = text.endsWith(".") ? text.substring(0, text.length() - 1) : text;
    String[] labels = absolute.split("[.\u3002\uFF0E\uFF61]", -1);
    for (int i = 0; i < labels.length; i++) {
      boolean wildcard = i == 0 && labels.length > 1 && labels[i].equals("*");
      if (!wildcard) {
        labels[i] = InternationalLabel.encode(labels[i]).orElseThrow(() -> wrong(text));
        if (!labels[i].matches("[a-z0-9_]([a-z0-9_-]{0,61}[a-z0-9_])?")) {
          throw wrong(text);
        }
      }
    }
    if (labels[labels.length - 1].matches("[0-9]+|0x[0-9a-f]*")) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(text) + "' is not a host name.",
          "It looks like an IP address and is none: no domain at the top is a number.",
          "Write an address like 192.0.2.17, with four numbers of at most 255.");
    }
    String encoded = String.join(".", labels);
    if (encoded.length() > 253) {
      throw wrong(text);
    }
    return new HostName(encoded, Optional.empty());
  }

  private static SymbolonException wrong(String text) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "'" + VisibleText.of(text) + "' is not a host name.",
        "A host name is made of letters, digits and hyphens, joined by dots; or it is an IP address.",
        "Write it like ingest.lanternfish.example or 192.0.2.17, without https:// and without a port.");
  }

  /** {@return whether a text that may be meant as a DNS name is an IP address} */
  public static boolean isAddressText(String text) {
    return IpAddress.octets(NameParts.plain(text)).isPresent();
  }

  /** {@return whether it is an IP address} */
  public boolean isAddress() {
    return address.isPresent();
  }

  /**
   * {@return the name in the DNS under which an address is looked up (RFC 1035, 3.5; RFC 3596,
   * 2.5); the name itself where it is no address}
   */
  public String reverseName() {
    return address.map(IpAddress::reverseName).orElse(text);
  }

  /** {@return the host as it stands in a URL: an IPv6 address in brackets (RFC 3986, 3.2.2)} */
  public String inUrl() {
    return isAddress() && text.indexOf(':') >= 0 ? "[" + text + "]" : text;
  }

  /** {@return whether it stands for all hosts of a domain} */
  public boolean isWildcard() {
    return text.startsWith("*.");
  }

  /** {@return whether it is more than one bare label} */
  public boolean isQualified() {
    return isAddress() || text.indexOf('.') > 0;
  }

  /** {@return the name as people write it: an international one in its own letters} */
  public String typed() {
    return isAddress()
        ? text
        : Arrays.stream(text.split("\\.", -1))
            .map(InternationalLabel::decode)
            .collect(Collectors.joining("."));
  }

  /**
   * {@return whether one of the names covers this host (RFC 9525, 6.3): an address by its octets, a
   * DNS name without regard to case, a wildcard for exactly one whole leftmost label}
   */
  public boolean isCoveredBy(List<GeneralName> names) {
    return names.stream().anyMatch(this::isCoveredBy);
  }

  private boolean isCoveredBy(GeneralName name) {
    if (isAddress()) {
      return name.kind() == GeneralName.NameForm.IP
          && IpAddress.octets(name.value())
              .filter(o -> Arrays.equals(o, address.get()))
              .isPresent();
    }
    if (name.kind() != GeneralName.NameForm.DNS) {
      return false;
    }
    String pattern = name.value().toLowerCase(Locale.ROOT);
    if (pattern.startsWith("*.")) {
      int dot = text.indexOf('.');
      return dot > 0
          && !text.startsWith("*")
          && pattern.indexOf('.', 2) > 0
          && text.substring(dot).equals(pattern.substring(1));
    }
    return text.equals(pattern);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof HostName that && text.equals(that.text);
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
