// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.key.KeyKind;
import io.symbolon.text.VisibleText;
import java.util.Arrays;
import java.util.stream.Collectors;

/** The kinds of key that a command line can name. */
public final class KeyTypes {
  private KeyTypes() {}

  public static String words() {
    return Arrays.stream(KeyKind.values())
        .filter(KeyKind::isAvailable)
        .map(KeyKind::word)
        .collect(Collectors.joining(", "));
  }

  public static KeyKind parse(String word) {
    KeyKind kind =
        KeyKind.ofWord(word)
            .orElseThrow(
                () ->
                    Usage.wrong(
                        "There is no kind of key '" + VisibleText.of(word) + "'.",
                        "Say one of " + words() + "."));
    if (!kind.isAvailable()) {
      throw Usage.wrong(
          "This Java can't make a key of kind " + word + ".", "Say one of " + words() + ".");
    }
    return kind;
  }
}
