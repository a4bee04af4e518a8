// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.SealPassword;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PasswordsTest {
  private final Surroundings around = mock(Surroundings.class);
  private final TaskRun run = TaskRun.in(around);

  @TempDir Path folder;

  @BeforeEach
  void somebodyTypes() {
    when(around.isAttended()).thenReturn(true);
    when(around.environment()).thenReturn(Map.of("PASS", "a=b"));
    when(around.askPassword(anyString()))
        .thenAnswer(call -> Optional.of("typed".toCharArray())); // a new array each time
  }

  private String opened(PasswordSource source) {
    return text(run.unlock(List.of(source)).get(0));
  }

  private static String text(Secret secret) {
    return new String(secret.reveal());
  }

  private SealPassword sealed(SealSource source) {
    ResultOptions options = ResultOptions.sealedWith(source);
    return SealPassword.of(run, options.seal(), Input.SEALED_WITH, options);
  }

  @ParameterizedTest
  @CsvSource({
    "'geheim\n', geheim",
    "'geheim', geheim",
    "'geheim\r\nnext', geheim",
    "' leading and trailing ', ' leading and trailing '",
    "'grün\n', grün",
    "'$HOME `x` \"y\" <&>', '$HOME `x` \"y\" <&>'",
  })
  void theFirstLineOfAFileIsThePasswordAsItStands(String content, String password)
      throws IOException {
    Path file = Files.writeString(folder.resolve("pass"), content);
    assertEquals(password, opened(PasswordSource.file(file)));
    verify(around, never()).askPassword(anyString());
  }

  @Test
  void theEnvironmentAndTheEmptyPassword() {
    assertEquals("a=b", opened(new PasswordSource(PasswordSource.Kind.ENV, "PASS")));
    assertEquals("", opened(PasswordSource.EMPTY));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> opened(new PasswordSource(PasswordSource.Kind.ENV, "NOPE")));
    assertEquals(Reason.UNREADABLE, e.reason());
    assertFalse(e.toString().contains("NOPE"), e.toString());
  }

  @Test
  void forSealingItIsAskedTwiceAndForUnlockingOnce() {
    assertEquals("typed", opened(PasswordSource.ASKED));
    assertEquals("typed", opened(PasswordSource.ASKED));
    verify(around, times(1)).askPassword(anyString());
    assertEquals("typed", text(sealed(PasswordSource.ASKED).secret()));
    verify(around, times(3)).askPassword(anyString());
  }

  @Test
  void twoDifferentAnswersSealNothing() {
    when(around.askPassword(anyString()))
        .thenReturn(Optional.of("one".toCharArray()))
        .thenReturn(Optional.of("two".toCharArray()));
    assertThrows(WrongJob.class, () -> sealed(PasswordSource.ASKED));
  }

  @Test
  void nobodyIsAskedUnbiddenWhereNobodyIs() {
    when(around.isAttended()).thenReturn(false);
    ResultOptions usual = ResultOptions.USUAL;
    WrongJob e =
        assertThrows(
            WrongJob.class, () -> SealPassword.of(run, usual.seal(), Input.SEALED_WITH, usual));
    assertEquals("No password for the result is given.", e.seen());
    assertFalse(e.toString().contains("--"), e.toString());
    assertTrue(
        e.remedy().advice((input, value) -> input + "=" + value).startsWith("Add SEALED_WITH=new"));
  }

  @Test
  void anEmptyPasswordSealsOnlyWhereItIsMeant() throws IOException {
    assertTrue(sealed(PasswordSource.EMPTY).secret().isEmpty());
    Path file = Files.writeString(folder.resolve("pass"), "\n");
    assertThrows(SymbolonException.class, () -> sealed(PasswordSource.file(file)));
  }

  @Test
  void newPasswordsAreStrongAndAllDifferent() {
    Set<String> made = new HashSet<>();
    for (int i = 0; i < 50; i++) {
      String password = text(sealed(new NewPasswordFile(folder.resolve("p" + i) + "")).secret());
      assertTrue(password.matches("[A-Za-z0-9]{26}"), "fit for every shell and file");
      assertTrue(made.add(password));
      assertFalse(Files.exists(folder.resolve("p" + i)), "saved only when it is used");
    }
  }

  @Test
  void aFileThatIsNoPasswordIsRefused() throws IOException {
    Path file = Files.write(folder.resolve("large"), new byte[100_000]);
    Path text = Files.writeString(folder.resolve("text"), "x".repeat(50_000));
    for (Path path : new Path[] {file, text, folder.resolve("missing")}) {
      assertThrows(SymbolonException.class, () -> opened(PasswordSource.file(path)));
    }
  }

  @Test
  void passwordsAreWipedWithTheRun() throws IOException {
    Secret secret =
        run.unlock(List.of(PasswordSource.file(Files.writeString(folder.resolve("p"), "geheim"))))
            .get(0);
    run.close();
    assertThrows(IllegalStateException.class, secret::reveal);
  }
}
