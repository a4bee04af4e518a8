// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
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

import io.symbolon.cli.session.Session;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.seal.Secret;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SecretSourceTest {
  private final Session.Prompt prompt = mock(Session.Prompt.class);

  @TempDir Path folder;

  private Session session(Map<String, String> environment) {
    PrintStream nowhere =
        new PrintStream(new ByteArrayOutputStream(), false, StandardCharsets.UTF_8);
    return new Session(
        java.io.InputStream.nullInputStream(),
        nowhere,
        nowhere,
        environment,
        false,
        true,
        prompt,
        Clock.systemUTC());
  }

  private static String text(Secret secret) {
    return new String(secret.reveal());
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
    Secret secret = SecretSource.parse("--unlock", "file=" + file).resolve(session(Map.of()));
    assertEquals(password, text(secret));
    verify(prompt, never()).ask(anyString());
  }

  @Test
  void theEnvironmentAndTheEmptyPassword() {
    Session session = session(Map.of("PASS", "a=b"));
    assertEquals("a=b", text(SecretSource.parse("--unlock", "env=PASS").resolve(session)));
    assertEquals("", text(SecretSource.parse("--unlock", "empty").resolve(session)));
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> SecretSource.parse("--unlock", "env=NOPE").resolve(session));
    assertEquals(Reason.UNREADABLE, e.reason());
  }

  @Test
  void forSealingItIsAskedTwiceAndForUnlockingOnce() {
    when(prompt.ask(anyString())).thenAnswer(call -> Optional.of("typed".toCharArray()));
    Session session = session(Map.of());
    assertEquals("typed", text(SecretSource.parse("--unlock", "ask").resolve(session)));
    verify(prompt, times(1)).ask(anyString());
    SealPassword seal =
        SecretSource.parse("--seal", "ask")
            .resolveSeal(session, Existing.KEEP, NewPassword.USUAL, true);
    assertArrayEquals("typed".toCharArray(), seal.secret().reveal());
    verify(prompt, times(3)).ask(anyString());
  }

  @Test
  void newPasswordsAreStrongAndAllDifferent() {
    Set<String> made = new HashSet<>();
    for (int i = 0; i < 50; i++) {
      SealPassword seal =
          SecretSource.parse("--seal", "new=" + folder.resolve("p" + i))
              .resolveSeal(session(Map.of()), Existing.KEEP, NewPassword.USUAL, true);
      String password = text(seal.secret());
      assertTrue(password.matches("[A-Za-z0-9]{26}"), "fit for every shell and file");
      assertTrue(made.add(password));
      assertFalse(Files.exists(folder.resolve("p" + i)), "saved only when it is used");
    }
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
        assertThrows(SymbolonException.class, () -> SecretSource.parse("--unlock", source));
    assertEquals(Reason.INVALID_ARGUMENT, e.reason());
    assertFalse(e.toString().contains("hunter22"));
  }

  @Test
  void aFileThatIsNoPasswordIsRefused() throws IOException {
    Path file = Files.write(folder.resolve("large"), new byte[100_000]);
    Path text = Files.writeString(folder.resolve("text"), "x".repeat(50_000));
    for (Path path : new Path[] {file, text, folder.resolve("missing")}) {
      assertThrows(
          SymbolonException.class,
          () -> SecretSource.parse("--unlock", "file=" + path).resolve(session(Map.of())));
    }
  }
}
