// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.text.Hex;
import java.util.Optional;

/** IP addresses as text and as octets, without ever asking the network. */
final class IpAddress {
  private IpAddress() {}

  /** The usual text of 4 or 16 octets; other lengths in hexadecimal. */
  static String text(byte[] octets) {
    if (octets.length == 4) {
      return (octets[0] & 0xFF)
          + "."
          + (octets[1] & 0xFF)
          + "."
          + (octets[2] & 0xFF)
          + "."
          + (octets[3] & 0xFF);
    }
    return octets.length == 16 ? text6(octets) : Hex.of(octets);
  }

  /** RFC 5952: lower case, the longest run of zero groups shortened. */
  private static String text6(byte[] octets) {
    byte[] inside = unwrapped(octets);
    if (inside.length == 4) {
      return "::ffff:" + text(inside); // RFC 5952, 5
    }
    int[] groups = new int[8];
    int best = -1;
    int bestLength = 1; // a single zero group is not shortened
    for (int i = 0, run = 0; i < 8; i++) {
      groups[i] = (octets[2 * i] & 0xFF) << 8 | (octets[2 * i + 1] & 0xFF);
      run = groups[i] == 0 ? run + 1 : 0;
      if (run > bestLength) {
        bestLength = run;
        best = i - run + 1;
      }
    }
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < 8; i++) {
      if (i == best) {
        text.append("::");
        i += bestLength - 1;
      } else {
        if (!text.isEmpty() && text.charAt(text.length() - 1) != ':') {
          text.append(':');
        }
        text.append(Integer.toHexString(groups[i]));
      }
    }
    return text.toString();
  }

  /** The name of 4 or 16 octets in the DNS, without a dot at its end. */
  static String reverseName(byte[] octets) {
    StringBuilder name = new StringBuilder();
    for (int i = octets.length - 1; i >= 0; i--) {
      int octet = octets[i] & 0xFF;
      if (octets.length == 4) {
        name.append(octet).append('.');
      } else {
        name.append(Integer.toHexString(octet & 0xF)).append('.');
        name.append(Integer.toHexString(octet >> 4)).append('.');
      }
    }
    return name + (octets.length == 4 ? "in-addr.arpa" : "ip6.arpa");
  }

  /** An IPv4 address that is wrapped in an IPv6 one (RFC 4291, 2.5.5.2) as what it is. */
  static byte[] unwrapped(byte[] octets) {
    if (octets.length != 16 || octets[10] != (byte) 0xFF || octets[11] != (byte) 0xFF) {
      return octets;
    }
    for (int i = 0; i < 10; i++) {
      if (octets[i] != 0) {
        return octets;
      }
    }
    return java.util.Arrays.copyOfRange(octets, 12, 16);
  }

  /** The octets of an address in text form, or nothing where the text is no address. */
  static Optional<byte[]> octets(String text) {
    return text.indexOf(':') >= 0 ? octets6(text) : octets4(text);
  }

  private static Optional<byte[]> octets4(String text) {
    String[] parts = text.split("\\.", -1);
    if (parts.length != 4) {
      return Optional.empty();
    }
    byte[] octets = new byte[4];
    for (int i = 0; i < 4; i++) {
      if (!parts[i].matches("0|[1-9][0-9]{0,2}") || Integer.parseInt(parts[i]) > 255) {
        return Optional.empty();
      }
      octets[i] = (byte) Integer.parseInt(parts[i]);
    }
    return Optional.of(octets);
  }

  private static Optional<byte[]> octets6(String full) {
    String text = full;
    int dot = full.indexOf('.');
    if (dot >= 0) {
      // RFC 4291, 2.2: the last 32 bits may be written as an IPv4 address.
      int colon = full.lastIndexOf(':', dot);
      Optional<byte[]> tail = octets4(full.substring(colon + 1));
      if (colon < 0 || tail.isEmpty()) {
        return Optional.empty();
      }
      byte[] four = tail.get();
      text =
          full.substring(0, colon + 1)
              + Integer.toHexString((four[0] & 0xFF) << 8 | (four[1] & 0xFF))
              + ":"
              + Integer.toHexString((four[2] & 0xFF) << 8 | (four[3] & 0xFF));
    }
    int gap = text.indexOf("::");
    String[] head = (gap < 0 ? text : text.substring(0, gap)).split(":", -1);
    String[] tail = gap < 0 ? new String[0] : text.substring(gap + 2).split(":", -1);
    if (gap >= 0 && head.length == 1 && head[0].isEmpty()) {
      head = new String[0];
    }
    if (tail.length == 1 && tail[0].isEmpty()) {
      tail = new String[0];
    }
    int groups = head.length + tail.length;
    if (gap < 0 ? groups != 8 : groups > 7) {
      return Optional.empty();
    }
    byte[] octets = new byte[16];
    for (int i = 0; i < groups; i++) {
      boolean front = i < head.length;
      String group = front ? head[i] : tail[i - head.length];
      if (!group.matches("[0-9a-fA-F]{1,4}")) {
        return Optional.empty();
      }
      int at = front ? i : 8 - groups + i;
      int value = Integer.parseInt(group, 16);
      octets[2 * at] = (byte) (value >>> 8);
      octets[2 * at + 1] = (byte) value;
    }
    return Optional.of(octets);
  }
}
