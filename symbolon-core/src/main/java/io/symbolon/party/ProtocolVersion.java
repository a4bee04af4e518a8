// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

/** The protocol versions a server can be asked for. */
public enum ProtocolVersion {
  /** RFC 6101; forbidden by RFC 7568. */
  SSL_3_0(0x0300, "SSL 3.0"),
  /** RFC 2246; deprecated by RFC 8996. */
  TLS_1_0(0x0301, "TLS 1.0"),
  /** RFC 4346; deprecated by RFC 8996. */
  TLS_1_1(0x0302, "TLS 1.1"),
  /** RFC 5246. */
  TLS_1_2(0x0303, "TLS 1.2"),
  /** RFC 8446. */
  TLS_1_3(0x0304, "TLS 1.3");

  private final int code;
  private final String title;

  ProtocolVersion(int code, String title) {
    this.code = code;
    this.title = title;
  }

  /** The number that stands for it on the wire. */
  public int code() {
    return code;
  }

  /** As people write it, such as {@code TLS 1.3}. */
  public String title() {
    return title;
  }

  /** Whether programs of today may still use it. */
  public boolean isCurrent() {
    return this == TLS_1_2 || this == TLS_1_3;
  }
}
