// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.failure.SymbolonException;
import io.symbolon.task.WrongJob;

/** A failure in the words of the command line: a wrong job was typed, and inputs are options. */
public final class ToldFailure {
  private ToldFailure() {}

  /** The same failure, with the names of options. */
  public static SymbolonException of(SymbolonException e) {
    return new SymbolonException(
        e.reason(),
        e instanceof WrongJob ? "The command line is wrong." : e.statement(OptionNames::mention),
        e.seen(OptionNames::mention),
        e.remedy(),
        e);
  }
}
