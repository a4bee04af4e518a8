// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Remedy;

/**
 * Something that the settings say of a place, and that is not understood. What it would change is
 * not guessed.
 *
 * @param aspect what it is about
 * @param origin where it stands
 * @param why what stands there, as a sentence
 * @param advice what a person has to do
 */
public record NotUnderstood(Aspect aspect, Origin origin, String why, String advice) {
  /**
   * {@return what is to be said of it}
   *
   * @param level how grave it is: a warning where settings are read, a problem where they would be
   *     written over
   */
  public Finding finding(Level level) {
    return Finding.of(
        FindingKind.SETTING_NOT_UNDERSTOOD, level, origin.toString(), why, Remedy.of(advice));
  }
}
