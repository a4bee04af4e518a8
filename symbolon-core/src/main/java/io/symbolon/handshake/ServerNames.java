// SPDX-License-Identifier: Apache-2.0
package io.symbolon.handshake;

import io.symbolon.x509.HostName;
import java.util.List;
import javax.net.ssl.SNIHostName;
import javax.net.ssl.SNIServerName;

/** The name by which a client asks for a server (RFC 6066, 3). */
public final class ServerNames {
  private ServerNames() {}

  /**
   * What the platform is to send: nothing for an address, and nothing for a name that it does not
   * take, such as one with an underscore, as its own clients do.
   */
  public static List<SNIServerName> of(HostName host) {
    if (host.isAddress()) {
      return List.of();
    }
    try {
      return List.of(new SNIHostName(host.toString()));
    } catch (IllegalArgumentException e) {
      return List.of();
    }
  }
}
