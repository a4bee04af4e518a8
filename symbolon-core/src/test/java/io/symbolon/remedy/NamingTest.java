// SPDX-License-Identifier: Apache-2.0
package io.symbolon.remedy;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.text.VisibleText;
import java.util.Arrays;
import java.util.HashSet;
import org.junit.jupiter.api.Test;

/** A sentence that mentions an input has the name that it has for whoever reads it. */
class NamingTest {
  private static final Naming FIELDS = (input, value) -> "<" + input + "=" + value + ">";

  private final SymbolonException failure =
      new SymbolonException(
          Reason.LOCKED,
          "The password of " + Input.PASSWORD.mention("file=") + " can't be read.",
          "It is said with "
              + Input.PASSWORD.mention()
              + " and "
              + Input.HOST.mention("NAME")
              + ".",
          "Leave " + Input.PROTECTION.mention() + " out.");

  @Test
  void aProgramReadsWhatPeopleCallItAndOthersTheirOwnName() {
    assertEquals("The password of file= can't be read.", failure.statement());
    assertEquals("It is said with the password and the host.", failure.seen());
    assertEquals("It is said with <PASSWORD=> and <HOST=NAME>.", failure.seen(FIELDS));
    assertEquals("Leave the protection out.", failure.remedy().advice());
    assertEquals("Leave <PROTECTION=> out.", failure.remedy().advice(FIELDS));
    assertFalse(VisibleText.of(failure.toString()).contains("\\u{"), failure.toString());
  }

  @Test
  void whatBecomesAPartOfAnotherSentenceKeepsItsNames() {
    SymbolonException larger = failure.within("Nothing was written.", " Then try again.");
    assertTrue(larger.seen(FIELDS).startsWith("The password of <PASSWORD=file=> can't"));
    assertEquals("Leave <PROTECTION=> out. Then try again.", larger.remedy().advice(FIELDS));
    Finding finding = Finding.of(failure, Level.PROBLEM);
    assertTrue(finding.statement(FIELDS).endsWith("and <HOST=NAME>."), finding.toString());
    Finding again =
        Finding.of(FindingKind.DAMAGED, "", "It says: " + finding.statement(Naming.MARKS), "");
    assertTrue(again.statement(FIELDS).endsWith("and <HOST=NAME>."), again.toString());
  }

  @Test
  void textFromOutsideMentionsNothing() {
    String forged = Input.UNSEALED.mention();
    assertFalse(FIELDS.in(VisibleText.of(forged)).contains("<"), "its marks are shown as escapes");
    assertEquals(
        "cut off: " + forged.substring(0, 4), FIELDS.in("cut off: " + forged.substring(0, 4)));
    assertEquals("unknown: ", FIELDS.in("unknown: " + forged.replace("UNSEALED", "UNKNOWN")));
  }

  @Test
  void everyInputHasATitleOfItsOwn() {
    var titles = Arrays.stream(Input.values()).map(Input::title).toList();
    assertEquals(titles.size(), new HashSet<>(titles).size(), titles.toString());
  }
}
