// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.protocol;

import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;

/**
 * A name that an order is for: a host (RFC 8555, 7.1.3) or an address (RFC 8738).
 *
 * @param type {@code dns} or {@code ip}
 * @param value the name, in lower case; a wildcard begins with {@code *.}
 */
public record Identifier(String type, String value) {
  /** The type of hosts. */
  public static final String DNS = "dns";

  /** The type of addresses. */
  public static final String IP = "ip";

  /**
   * {@return the identifier of a host or an address}
   *
   * @param host the host or the address
   */
  public static Identifier of(HostName host) {
    return new Identifier(host.isAddress() ? IP : DNS, host.toString());
  }

  /** {@return the identifier of what is typed as a host or an address} */
  public static Identifier of(String text) {
    return new Identifier(HostName.isAddressText(text) ? IP : DNS, text);
  }

  /**
   * {@return the host that it names}
   *
   * @throws SymbolonException if it is neither a host nor an address
   */
  public HostName host() {
    return HostName.parse(value);
  }

  /** {@return it as a subject alternative name} */
  public GeneralName generalName() {
    return GeneralName.ofHost(value);
  }

  /** {@return whether it stands for all hosts of a domain} */
  public boolean isWildcard() {
    return type.equals(DNS) && value.startsWith("*.");
  }
}
