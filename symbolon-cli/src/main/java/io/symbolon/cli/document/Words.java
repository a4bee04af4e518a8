// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import java.util.Locale;

/** The words that stand for constants in documents. */
final class Words {
  private Words() {}

  static String of(Enum<?> constant) {
    return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
  }
}
