// SPDX-License-Identifier: Apache-2.0
package io.symbolon.pem;

import java.nio.charset.StandardCharsets;
import java.util.Base64;

/** Writes blocks as RFC 7468, 2 prescribes: lines of 64 characters that end in a line feed. */
public final class PemWriter {
  private static final Base64.Encoder LINES = Base64.getMimeEncoder(64, new byte[] {'\n'});

  private PemWriter() {}

  /**
   * One block.
   *
   * @param label the label, such as {@code CERTIFICATE}
   * @param content the octets to encode
   * @return the block in ASCII, ending in a line feed
   */
  public static byte[] write(String label, byte[] content) {
    byte[] begin = ("-----BEGIN " + label + "-----\n").getBytes(StandardCharsets.US_ASCII);
    byte[] end = ("\n-----END " + label + "-----\n").getBytes(StandardCharsets.US_ASCII);
    byte[] body = LINES.encode(content);
    byte[] out = new byte[begin.length + body.length + end.length];
    System.arraycopy(begin, 0, out, 0, begin.length);
    System.arraycopy(body, 0, out, begin.length, body.length);
    System.arraycopy(end, 0, out, begin.length + body.length, end.length);
    java.util.Arrays.fill(body, (byte) 0); // it may have been a key
    return out;
  }
}
