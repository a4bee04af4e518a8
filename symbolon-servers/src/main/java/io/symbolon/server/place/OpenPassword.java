// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.place;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;

/** A password that stands in settings as it is. */
public final class OpenPassword {
  private OpenPassword() {}

  /**
   * {@return what is to be said of it}
   *
   * @param where where it stands
   * @param setting the setting that has it
   * @param advice what to do
   */
  public static Finding note(Origin where, String setting, String advice) {
    return Finding.of(
        FindingKind.PASSWORD_IN_SETTINGS,
        where.toString(),
        setting + " stands in the settings, for everybody who reads or copies them.",
        advice);
  }
}
