// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wish;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.util.List;
import java.util.Optional;

/** The forms that the files of one program can have. */
public final class FileForms {
  private FileForms() {}

  /**
   * Refuses a form that a program does not take.
   *
   * @param title what the program is called
   * @param forms its forms; none where there is one alone
   * @param wanted the form that is wanted
   * @throws SymbolonException if it is not one of them
   */
  public static void check(String title, List<String> forms, Optional<String> wanted) {
    if (wanted.isPresent() && !forms.contains(wanted.get())) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          forms.isEmpty()
              ? title + " takes its files in one form alone."
              : title
                  + " takes its files as "
                  + String.join(" or ", forms)
                  + ", and not as "
                  + VisibleText.of(wanted.get())
                  + ".",
          forms.isEmpty()
              ? "Leave " + Input.FORM.mention() + " out."
              : "Say " + Input.FORM.mention() + " " + forms.get(forms.size() - 1) + ".");
    }
  }
}
