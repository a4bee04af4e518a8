// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.limit.Limits;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Optional;

/**
 * What a store says of a holding beside the holding itself.
 *
 * @param alias its alias, or its friendly name
 * @param localKeyId the octets, in hexadecimal, that a key and its certificate share in a PKCS#12
 * @param created when its entry was made
 * @param trusted whether it is there to be trusted
 * @param entry the number of its entry, from 1, where an entry holds a key and its whole chain
 */
public record Labels(
    Optional<String> alias,
    Optional<String> localKeyId,
    Optional<Instant> created,
    boolean trusted,
    Optional<Integer> entry) {
  /** Nothing is said. */
  public static final Labels NONE = named(Optional.empty());

  private static final String TIME = "Time ";

  /** {@return a name alone} */
  public static Labels named(Optional<String> alias) {
    return new Labels(alias, Optional.empty(), Optional.empty(), false, Optional.empty());
  }

  /**
   * What a bag of a PKCS#12 says. Java writes the moment an entry was made as its local key id:
   * {@code Time} and the milliseconds.
   */
  static Labels ofBag(io.symbolon.store.BagLabels labels, boolean trusted) {
    Optional<Instant> created = labels.localKeyId().flatMap(Labels::time);
    return new Labels(labels.alias(), labels.localKeyId(), created, trusted, Optional.empty());
  }

  private static Optional<Instant> time(String localKeyId) {
    String text = new String(HexFormat.of().parseHex(localKeyId), StandardCharsets.ISO_8859_1);
    if (!text.startsWith(TIME) || text.length() > Limits.LABEL_TIME) {
      return Optional.empty();
    }
    try {
      return Optional.of(Instant.ofEpochMilli(Long.parseLong(text.substring(TIME.length()))));
    } catch (NumberFormatException | DateTimeException e) {
      return Optional.empty();
    }
  }

  /**
   * {@return what a key and its certificate have in common within a file; empty where nothing is
   * said}
   */
  public String shared() {
    return entry.map(number -> "entry " + number).or(() -> localKeyId).orElse("");
  }
}
