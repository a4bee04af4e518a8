// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.finding.Finding;
import java.io.EOFException;
import java.io.IOException;
import java.net.SocketException;
import java.net.SocketTimeoutException;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLHandshakeException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The platform's words for a failed handshake, and ours. */
@Timeout(value = 10, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class HandshakeFailureTest {
  @ParameterizedTest
  @CsvSource({
    "Unsupported or unrecognized SSL message, no-tls",
    "'Received fatal alert: protocol_version', no-common-protocol",
    "'Received fatal alert: handshake_failure', no-common-cipher-suite",
    "'Received fatal alert: insufficient_security', no-common-cipher-suite",
    "'Received fatal alert: unrecognized_name', host-unknown-to-server",
    "'Received fatal alert: certificate_required', client-certificate-required",
    "Remote host terminated the handshake, closed-during-handshake",
    "Connection reset, closed-during-handshake",
    "The moon is in the wrong phase, handshake-failed",
  })
  void isExplained(String message, String id) {
    Finding finding = HandshakeFailure.explain(new SSLHandshakeException(message), "x:1", false);
    assertEquals(id, finding.id());
    assertFalse(finding.remedy().advice().isEmpty());
    assertEquals("x:1", finding.where());
  }

  @Test
  void whatIsNotExplainedIsShownRawAndSaysSo() {
    Finding finding =
        HandshakeFailure.explain(new SSLException("odd \u001B[2J thing"), "x:1", false);
    assertTrue(finding.statement().contains("not explained here"));
    assertTrue(finding.statement().contains("odd \\u{1B}[2J thing"), finding.statement());
  }

  @Test
  void afterACertificateWasAskedForARefusalMeansThatNoneWasSent() {
    for (IOException e :
        new IOException[] {
          new SSLHandshakeException("Received fatal alert: bad_certificate"),
          new SSLHandshakeException("Received fatal alert: handshake_failure"),
          new SocketException("Broken pipe"),
          new EOFException("SSL peer shut down incorrectly")
        }) {
      assertEquals("client-certificate-required", HandshakeFailure.explain(e, "x", true).id());
    }
  }

  @Test
  void aServerThatStopsInTheMiddleIsStalled() {
    IOException e = new SocketTimeoutException("Read timed out");
    assertEquals("handshake-stalled", HandshakeFailure.explain(e, "x", false).id());
  }
}
