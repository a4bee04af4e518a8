// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

/** What findings are about. */
public enum FindingTopic {
  /** Files. */
  FILES("Files"),
  /** Protection and rights. */
  PROTECTION("Protection and rights"),
  /** Conversions. */
  CONVERSIONS("Conversions"),
  /** Keys and certificates. */
  CERTIFICATES("Keys and certificates"),
  /** Chains. */
  CHAINS("Chains"),
  /** Truststores. */
  TRUSTSTORES("Truststores"),
  /** Requests and replies. */
  REQUESTS("Requests and replies"),
  /** Comparisons. */
  COMPARISONS("Comparisons"),
  /** Authorities. */
  AUTHORITIES("Authorities"),
  /** Probes. */
  PROBES("Probes"),
  /** Handshakes, rehearsals and reloads. */
  HANDSHAKES("Handshakes, rehearsals and reloads"),
  /** Servers and their settings. */
  SERVERS("Servers and their settings"),
  /** Certificates that come and renew by themselves. */
  AUTOMATIC("Certificates that come and renew by themselves"),
  /** Logs. */
  LOGS("Logs"),
  /** Failures of a whole command, in its JSON. */
  FAILURES("Failures of a whole command, in its JSON");

  private final String title;

  FindingTopic(String title) {
    this.title = title;
  }

  /** {@return a heading} */
  public String title() {
    return title;
  }
}
