// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.words;

import io.symbolon.task.WrongJob;
import io.symbolon.text.VisibleText;
import java.net.InetSocketAddress;

/** An address with a port, as it is typed. */
public final class NetworkAddress {
  private static final int MOST = 65_535;

  private NetworkAddress() {}

  /**
   * An address with a port, an address alone, or a port alone; all addresses where none is said.
   */
  public static InetSocketAddress of(String text, int usual) {
    if (text.isEmpty()) {
      return new InetSocketAddress(usual);
    }
    if (text.matches("[0-9]{1,5}")) {
      return new InetSocketAddress(port(text, text));
    }
    int colon = text.lastIndexOf(':');
    boolean bare =
        colon < 0 || text.endsWith("]") || (text.indexOf(':') != colon && !text.startsWith("["));
    String host = bare ? text : text.substring(0, colon);
    int port = bare ? usual : port(text.substring(colon + 1), text);
    if (host.startsWith("[") && host.endsWith("]")) {
      host = host.substring(1, host.length() - 1);
    }
    InetSocketAddress address = new InetSocketAddress(host, port);
    if (address.isUnresolved()) {
      throw new WrongJob(
          "The address of " + VisibleText.of(host) + " is not known.",
          "Give an IP address, such as 127.0.0.1:8080.");
    }
    return address;
  }

  /** A port alone. */
  public static int port(String digits, String text) {
    if (!digits.matches("[0-9]{1,5}") || Integer.parseInt(digits) > MOST) {
      throw new WrongJob(
          "'" + VisibleText.of(text) + "' has no port from 0 to 65535.",
          "Write it like 127.0.0.1:8080.");
    }
    return Integer.parseInt(digits);
  }
}
