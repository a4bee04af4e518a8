// SPDX-License-Identifier: Apache-2.0
package io.symbolon.finding;

/** What findings are about. */
public enum FindingTopic {
  FILES("Files"),
  PROTECTION("Protection and rights"),
  CONVERSIONS("Conversions"),
  CERTIFICATES("Keys and certificates"),
  CHAINS("Chains"),
  TRUSTSTORES("Truststores"),
  REQUESTS("Requests and replies"),
  AUTHORITIES("Authorities"),
  PROBES("Probes"),
  HANDSHAKES("Handshakes, rehearsals and reloads"),
  LOGS("Logs"),
  FAILURES("Failures of a whole command, in its JSON");

  private final String title;

  FindingTopic(String title) {
    this.title = title;
  }

  /** A heading. */
  public String title() {
    return title;
  }
}
