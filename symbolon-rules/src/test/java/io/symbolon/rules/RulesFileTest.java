// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rules;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Use;
import io.symbolon.issue.rule.Rules;
import io.symbolon.key.KeyKind;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RulesFileTest {
  @TempDir Path folder;

  private Path file(String text) throws IOException {
    return Files.writeString(folder.resolve("rules.yaml"), text);
  }

  private static final String RULES =
      """
      receiver: Harbour certificates
      keys: [ec-p256]
      uses: [client]
      variants:
        trial:
          keys: [rsa-3072]
        real: {}
      """;

  @Test
  void aVariantSaysWhatIsDifferentAndTheRestIsCommon() throws IOException {
    Rules trial = RulesFile.read(file(RULES), Optional.of("trial"));
    assertEquals("Harbour certificates", trial.receiver());
    assertEquals(List.of(KeyKind.RSA_3072), trial.keys());
    assertEquals(Set.of(Use.CLIENT), trial.uses());
    assertEquals(List.of(KeyKind.EC_P256), RulesFile.read(file(RULES), Optional.of("real")).keys());
  }

  @Test
  void whatIsNotClearIsSaid() throws IOException {
    Path file = file(RULES);
    SymbolonException none =
        assertThrows(SymbolonException.class, () -> RulesFile.read(file, Optional.empty()));
    assertTrue(none.seen().contains("trial, real"), none.seen());
    SymbolonException wrong =
        assertThrows(
            SymbolonException.class,
            () -> RulesFile.read(file("receiver: X\nkeys: [ec-p999]\n"), Optional.empty()));
    assertTrue(wrong.seen().contains("ec-p999"), wrong.seen());
  }
}
