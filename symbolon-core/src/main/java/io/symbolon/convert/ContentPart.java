// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** The parts of a content that can be asked for. */
public enum ContentPart {
  /** The private keys alone. */
  KEY,
  /** The certificates at the end of their chains: the end-entities'. */
  CERTIFICATE,
  /** The certificates above them. */
  CHAIN,
  /** Both, each end-entity before its chain. */
  FULL_CHAIN,
  /** The requests. */
  REQUEST,
  /** The public keys: of private keys, certificates, requests, and those that lie alone. */
  PUBLIC_KEY,
  /** All there is. */
  EVERYTHING;

  /** {@return the word for it on a command line} */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** {@return the part of this word} */
  public static Optional<ContentPart> ofWord(String word) {
    return Arrays.stream(values()).filter(part -> part.word().equals(word)).findFirst();
  }
}
