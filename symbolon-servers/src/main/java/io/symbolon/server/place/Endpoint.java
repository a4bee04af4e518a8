// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

/**
 * An address that a server listens on.
 *
 * @param host a name or an IP address without brackets; empty for every address of the machine
 * @param tls whether it speaks TLS there
 */
public record Endpoint(String host, int port, boolean tls) {
  /**
   * {@return the address as it is written: {@code *:443}, {@code 127.0.0.1:443}, {@code [::1]:443}}
   */
  public String written() {
    String shown = host.isEmpty() ? "*" : host.indexOf(':') >= 0 ? "[" + host + "]" : host;
    return shown + ":" + port;
  }

  /** {@return an address under which this machine itself can reach it} */
  public String reachable() {
    return host.isEmpty() || host.equals("0.0.0.0")
        ? "127.0.0.1"
        : host.equals("::") ? "::1" : host;
  }
}
