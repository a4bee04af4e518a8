// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.NewPasswordFile;
import io.symbolon.task.PasswordSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PasswordOptionTest {
  @Test
  void everySourceIsUnderstood() {
    assertEquals(PasswordSource.ASKED, PasswordOption.known("--unlock", "ask"));
    assertEquals(PasswordSource.EMPTY, PasswordOption.known("--unlock", "empty"));
    assertEquals("file=a=b", PasswordOption.known("--unlock", "file=a=b").text());
    assertEquals("env=PASS", PasswordOption.known("--unlock", "env=PASS").text());
    assertEquals(new NewPasswordFile("to/"), PasswordOption.seal("--seal", "new=to/"));
    assertEquals(PasswordSource.ASKED, PasswordOption.seal("--seal", "ask"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "hunter22",
        "file",
        "file=",
        "env=",
        "pass=x",
        "ask=x",
        "empty=",
        "new=x",
        "FILE=x"
      })
  void whatIsNoSourceIsRefusedWithoutRepeatingIt(String source) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> PasswordOption.known("--unlock", source));
    assertEquals(Reason.INVALID_ARGUMENT, e.reason());
    assertFalse(e.toString().contains("hunter22"));
  }
}
