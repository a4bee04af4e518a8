// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

import java.util.Arrays;
import java.util.Optional;

/** The protocol versions a server can be asked for. */
public enum ProtocolVersion {
  /** RFC 6101; forbidden by RFC 7568. */
  SSL_3_0(0x0300, "SSL 3.0", "SSLv3"),
  /** RFC 2246; deprecated by RFC 8996. */
  TLS_1_0(0x0301, "TLS 1.0", "TLSv1"),
  /** RFC 4346; deprecated by RFC 8996. */
  TLS_1_1(0x0302, "TLS 1.1", "TLSv1.1"),
  /** RFC 5246. */
  TLS_1_2(0x0303, "TLS 1.2", "TLSv1.2"),
  /** RFC 8446. */
  TLS_1_3(0x0304, "TLS 1.3", "TLSv1.3");

  private final int code;
  private final String title;
  private final String platformName;

  ProtocolVersion(int code, String title, String platformName) {
    this.code = code;
    this.title = title;
    this.platformName = platformName;
  }

  /** {@return the number that stands for it on the wire} */
  public int code() {
    return code;
  }

  /**
   * As people write it, such as {@code TLS 1.3}.
   *
   * @return the text
   */
  public String title() {
    return title;
  }

  /** {@return the name that Java has for it, such as {@code TLSv1.3}} */
  public String platformName() {
    return platformName;
  }

  /**
   * The version of a name that Java has for one.
   *
   * @param name such as {@code TLSv1.3}
   * @return nothing where there is none of that name
   */
  public static Optional<ProtocolVersion> ofPlatformName(String name) {
    return Arrays.stream(values()).filter(one -> one.platformName.equals(name)).findFirst();
  }

  /** {@return whether programs of today may still use it} */
  public boolean isCurrent() {
    return this == TLS_1_2 || this == TLS_1_3;
  }
}
