// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import java.util.List;

/** What the words of a command may have places for. */
final class CommandPlaces {
  static final List<String> KNOWN =
      List.of("home", "main", "program", "account", "pid", "unit", "script", "port");

  private CommandPlaces() {}
}
