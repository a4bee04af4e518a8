// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import io.symbolon.explain.FailureText;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Input;
import io.symbolon.text.FailureMessages;
import io.symbolon.text.VisibleText;
import java.net.URI;
import java.security.cert.CertificateExpiredException;
import java.security.cert.CertificateNotYetValidException;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/** Why TLS with an authority failed, and what mends it. */
final class FailedTls {
  private FailedTls() {}

  static SymbolonException of(URI url, Throwable failure) {
    String address = VisibleText.of(url.toString());
    String server = VisibleText.of(url.getAuthority());
    String raw = VisibleText.of(FailureMessages.of(failure));
    String probe = " To see more: symbolon probe " + server;
    if (isCausedBy(failure, CertificateNotYetValidException.class)) {
      return refused(
          address,
          clock("is not valid yet"),
          "Check the clocks of this machine and of the authority.",
          failure);
    }
    if (isCausedBy(failure, CertificateExpiredException.class)) {
      return refused(
          address,
          clock("has ended"),
          "Check the clock of this machine. If it is right, the authority has to renew its"
              + " certificate."
              + probe,
          failure);
    }
    if (raw.contains("No subject alternative") || raw.contains("No name matching")) {
      return refused(
          address,
          "Its certificate is for other hosts. Java says: " + raw + ".",
          "Ask for it by a name that is in its certificate." + probe,
          failure);
    }
    if (isUntrusted(raw)) {
      return refused(
          address,
          "Its certificate is from an authority that is not trusted here.",
          "If it is a private authority, name its root: "
              + Input.TRUST.mention("FILE")
              + "."
              + probe,
          failure);
    }
    String known =
        FailureText.one(raw, server).map(finding -> finding.statement() + " ").orElse("");
    return refused(
        address,
        known + "TLS with it failed. Java says: " + raw + ".",
        "See what it does in a handshake: symbolon probe " + server,
        failure);
  }

  private static boolean isUntrusted(String raw) {
    return raw.contains("unable to find valid certification path")
        || raw.contains("Path does not chain with any of the trust anchors")
        || raw.contains("trustAnchors parameter must be non-empty");
  }

  private static String clock(String what) {
    return "Its certificate "
        + what
        + " by the clock of this machine, which says "
        + Instant.now().truncatedTo(ChronoUnit.SECONDS)
        + ".";
  }

  private static boolean isCausedBy(Throwable failure, Class<? extends Throwable> kind) {
    int deep = 0;
    for (Throwable one = failure;
        one != null && deep < Limits.CAUSES;
        one = one.getCause(), deep++) {
      if (kind.isInstance(one)) {
        return true;
      }
    }
    return false;
  }

  private static SymbolonException refused(
      String address, String seen, String remedy, Throwable cause) {
    return new SymbolonException(
        Reason.NO_ANSWER, "The authority at " + address + " was not asked.", seen, remedy, cause);
  }
}
