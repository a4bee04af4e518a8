// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.cli.Run;
import io.symbolon.entry.StoreEntry;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12Writer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ShellTest {
  @TempDir Path temp;

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '|',
      value = {
        "plain/file-1.pem, plain/file-1.pem",
        "with space, 'with space'",
        "it's, |'it'\\''s'|",
        "$HOME;`x`, '$HOME;`x`'",
        "grün, 'grün'",
        "a\u001Bb'c, |$'a\\U0000001Bb\\'c'|",
      })
  void aShellOfPosixReadsWhatWasMeant(String argument, String quoted) throws Exception {
    assertEquals(quoted, Shell.POSIX.quote(argument));
    Process bash =
        new ProcessBuilder("bash", "-c", "printf %s " + quoted).redirectErrorStream(true).start();
    byte[] read = bash.getInputStream().readAllBytes();
    assertEquals(argument, new String(read, StandardCharsets.UTF_8));
  }

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '|',
      value = {
        "C:\\keys\\a.p12, C:\\keys\\a.p12, C:\\keys\\a.p12",
        "C:\\my keys\\a.p12, |\"C:\\my keys\\a.p12\"|, 'C:\\my keys\\a.p12'",
        "it's & that, |\"it's & that\"|, |'it''s & that'|",
        "100%, |\"100\"^%\"\"|, '100%'",
        "a\u001B[2J, |\"a\\u{1B}[2J\"|, 'a\\u{1B}[2J'",
      })
  void theShellsOfWindowsReadWhatWasMeant(String argument, String prompt, String successor) {
    assertEquals(prompt, Shell.COMMAND_PROMPT.quote(argument));
    assertEquals(successor, Shell.POWERSHELL.quote(argument));
  }

  @Test
  void theShellAtHandIsTold() {
    assertEquals(Shell.POSIX, Shell.of(Map.of("PSModulePath", "x"), "Linux"));
    assertEquals(Shell.POWERSHELL, Shell.of(Map.of("PSModulePath", "x"), "Windows 11"));
    assertEquals(
        Shell.COMMAND_PROMPT,
        Shell.of(Map.of("PSModulePath", "x", "PROMPT", "$P$G"), "Windows 11"));
  }

  @Test
  void anAliasThatActsOnATerminalIsEscapedInTheNextCommand() {
    byte[] store =
        Pkcs12Writer.write(
            List.of(
                new StoreEntry.KeyEntry(
                    "a\u001B[2Jb",
                    Lanternfish.CATALOGUE.key(),
                    List.of(Lanternfish.CATALOGUE.certificate())),
                new StoreEntry.KeyEntry(
                    "other", Lanternfish.INGEST.key(), List.of(Lanternfish.INGEST.certificate()))),
            Secret.of("geheim".toCharArray(), "file=x"),
            Lanternfish.RANDOM);
    Lanternfish.file(temp, "two.p12", store);
    Lanternfish.file(temp, "chain.pem", Lanternfish.pem(Lanternfish.issuing(), Lanternfish.root()));
    Path pass = Lanternfish.file(temp, "pass", "geheim\n");
    Run run = Run.of("survey", temp, "--unlock", "file=" + pass);
    assertTrue(run.out().contains("--alias $'a\\U0000001B[2Jb'"), run.out());
    assertFalse(run.out().contains("\u001B"));
  }

  @Test
  void whatHasToBeFilledInIsNoCommandToPaste() {
    CommandText text = new CommandText(List.of("file=x"), Shell.POSIX);
    for (Action open :
        List.of(
            Action.of(Task.PROBE),
            Action.of(Task.FOUND_AUTHORITY),
            Action.of(Task.REHEARSE).with(Input.SERVER),
            Action.of(Task.JOIN, Path.of("a")),
            Action.of(Task.JOIN, Path.of("a")).with(Input.REPLY).with(Input.REPLACE),
            Action.again(Input.REPLACE))) {
      assertFalse(text.isComplete(open), open.toString());
      assertEquals(List.of(), text.commands(Remedy.of("", open)));
    }
    assertEquals(
        "symbolon survey ./-a 'b c' --unlock file=x",
        text.line(Action.of(Task.SURVEY, List.of(Path.of("-a"), Path.of("b c")))));
    assertEquals(
        "icacls C:\\keys\\a.key /inheritance:r /grant:r " + System.getProperty("user.name") + ":F",
        new CommandText(List.of(), Shell.COMMAND_PROMPT)
            .line(Action.of(Task.CLOSE_FILE, Path.of("C:\\keys\\a.key"))));
  }
}
