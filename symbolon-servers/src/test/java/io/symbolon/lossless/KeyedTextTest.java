// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Settings under keys: read, changed where they stand, and nothing else touched. */
class KeyedTextTest {
  private static final LineDialect MARIA =
      LineDialect.INI.withComments("#;", true).withQuotes(LineDialect.Quotes.DOUBLE);

  private static SourceText source(String text) {
    return SourceText.of(Path.of("settings"), text.getBytes(StandardCharsets.UTF_8));
  }

  private static Map<String, String> values(KeyedText text) {
    return text.entries().stream()
        .collect(
            Collectors.toMap(
                one -> String.join("/", one.key()),
                KeyedText.Entry::value,
                (first, last) -> last,
                TreeMap::new));
  }

  /** Takes the first key away, replaces the second, and adds the third. */
  private static String changed(KeyedText text, String away, String old, String fresh) {
    Edits edits = new Edits(text.source());
    for (KeyedText.Entry entry : text.entries()) {
      if (String.join("/", entry.key()).equals(old)) {
        text.replace(edits, entry, KeyedText.Value.of("/etc/two words"));
      }
    }
    text.change(
        edits,
        text.entries().stream().filter(one -> String.join("/", one.key()).equals(away)).toList(),
        List.of(
            new KeyedText.Fresh(List.of(fresh.split("/", -1)), new KeyedText.Value("8443", true))));
    return edits.apply();
  }

  @Test
  void linesKeepTheirCommentsAndQuotes() {
    KeyedText text =
        KeyedLines.read(
            source(
                """
                # first
                [mysqld]
                skip-name-resolve # none
                port = 3306\t# the port
                ssl_key = "a # \\"b\\"" # quoted

                [client]
                !includedir /etc/mysql/conf.d/
                """),
            MARIA);
    assertEquals(
        Map.of(
            "mysqld/skip-name-resolve", "",
            "mysqld/port", "3306",
            "mysqld/ssl_key", "a # \"b\"",
            "!includedir", "/etc/mysql/conf.d/"),
        values(text));
    assertEquals(
        """
        # first
        [mysqld]
        skip-name-resolve # none
        ssl_key = "/etc/two words" # quoted
        tls = 8443

        [client]
        !includedir /etc/mysql/conf.d/
        """,
        changed(text, "mysqld/port", "mysqld/ssl_key", "mysqld/tls"));
  }

  @Test
  void aNameCanBeginASection() {
    KeyedText text =
        KeyedLines.read(
            source("user m\r\nlistener 1883  ::1\r\ncertfile a b\r\nlistener 8883"),
            LineDialect.WORDS.beginningWith("listener"));
    assertEquals(Map.of("user", "m", "listener 1883 ::1/certfile", "a b"), values(text));
    assertEquals(
        "user m\r\nlistener 1883  ::1\r\ncertfile /etc/two words\r\nlistener 8883\r\nkeyfile 8443",
        changed(text, "", "listener 1883 ::1/certfile", "listener 8883/keyfile"));
  }

  @Test
  void bracesNestAndLinesGoOn() {
    KeyedText braces =
        KeyedLines.read(
            source("ssl = yes\nservice imap {\n  inet_listener imaps {\n    port = 993\n  }\n}\n"),
            LineDialect.ASSIGNMENTS.withBraces());
    assertEquals(
        "ssl = yes\nservice imap {\n  inet_listener imaps {\n    port = /etc/two words\n    ssl = 8443\n  }\n}\n",
        changed(
            braces,
            "",
            "service imap/inet_listener imaps/port",
            "service imap/inet_listener imaps/ssl"));
    KeyedText goesOn =
        KeyedLines.read(
            source("a = one,\n  two\nb = 3\n"), LineDialect.ASSIGNMENTS.withContinuedLines());
    assertEquals(Map.of("a", "one, two", "b", "3"), values(goesOn));
    assertEquals("b = /etc/two words\nc = 8443\n", changed(goesOn, "a", "b", "c"));
  }

  @Test
  void jsonKeepsItsLayout() {
    String json =
        """
        {
          // the listener
          "listener": {
            "old": [1, {"x": null}],
            "gone": 1,
            "cert": "a\\u0062\\n"
          },
          "empty": {}
        }
        """;
    KeyedText text = JsonSettings.read(source(json));
    assertEquals("ab\n", values(text).get("listener/cert"));
    assertEquals(
        json.replace("    \"gone\": 1,\n", "")
            .replace("\"a\\u0062\\n\"", "\"/etc/two words\"")
            .replace("{}", "{\n    \"tls\": {\n      \"port\": 8443\n    }\n  }"),
        changed(text, "listener/gone", "listener/cert", "empty/tls/port"));
    assertEquals(
        "{ \"b\": 8443 }", changed(JsonSettings.read(source("{ \"a\": true }")), "a", "", "b"));
  }

  @Test
  void tomlTellsTextFromNumbers() {
    KeyedText text =
        TomlText.read(
            source(
                """
                title = 'the "pit"' # plain
                [server.tls]
                "cert file" = "a\\tb"
                suites = [ "x", # one
                  "y" ]
                [[peers]]
                name = "one"
                [[peers]]
                name = "two"
                """));
    assertEquals("two", values(text).get("peers[1]/name"));
    assertEquals("a\tb", values(text).get("server/tls/cert file"));
    assertEquals(
        """
        [server.tls]
        "cert file" = "/etc/two words"
        suites = [ "x", # one
          "y" ]
        port = 8443
        [[peers]]
        name = "one"
        [[peers]]
        name = "two"
        """,
        changed(text, "title", "server/tls/cert file", "server/tls/port"));
  }

  @Test
  void xmlTakesAttributesAndText() {
    KeyedText text =
        KeyedXml.read(
            source(
                """
                <web>
                  <!-- <listener port="1"/> -->
                  <listener port="80" old="x">
                    <cert>a &amp; b</cert>
                  </listener>
                  <listener port="81"/>
                </web>
                """));
    assertEquals("a & b", values(text).get("web/listener/cert"));
    assertEquals("81", values(text).get("web/listener[1]/@port"));
    assertEquals(
        """
        <web>
          <!-- <listener port="1"/> -->
          <listener port="80">
            <cert>/etc/two words</cert>
            <tls>
              <keys port="8443"/>
            </tls>
          </listener>
          <listener port="81"/>
        </web>
        """,
        changed(text, "web/listener/@old", "web/listener/cert", "web/listener/tls/keys/@port"));
  }

  @Test
  void whatCouldNotBeReadBackIsNotWritten() {
    KeyedText text = KeyedLines.read(source("a = 1\n"), LineDialect.INI);
    Edits edits = new Edits(text.source());
    assertThrows(
        SymbolonException.class,
        () -> text.replace(edits, text.entries().get(0), KeyedText.Value.of(" blank first")));
    KeyedText shell = KeyedLines.read(source("A=1\n"), LineDialect.ENVIRONMENT);
    Edits quoted = new Edits(shell.source());
    shell.replace(quoted, shell.entries().get(0), KeyedText.Value.of("a b $c `d` \"e\" \\f"));
    assertEquals("A=\"a b \\$c \\`d\\` \\\"e\\\" \\\\f\"\n", quoted.apply());
    assertEquals(
        "a b $c `d` \"e\" \\f",
        KeyedLines.read(source(quoted.apply()), LineDialect.ENVIRONMENT).entries().get(0).value());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "[1]",
        "{\"a\": }",
        "{\"a\": 1 \"b\": 2}",
        "{\"a\": \"x}",
        "{} x",
        "{\"a\": tru}",
        "{\"a\": \"\\q\"}",
        "/* {}"
      })
  void brokenJsonIsToldWithItsLine(String text) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> JsonSettings.read(source("\n" + text)));
    assertTrue(e.seen().startsWith("Line 2"), e.seen());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "a",
        "a = ",
        "a = \"x",
        "a = 1 2",
        "[a",
        "[]",
        "a = [1",
        "a.b c = 1",
        "a = \"\\q\""
      })
  void brokenTomlIsToldWithItsLine(String text) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> TomlText.read(source("\n" + text + "\n")));
    assertTrue(e.seen().startsWith("Line "), e.seen());
  }

  @Test
  void whatIsNestedWithoutEndIsRefused() {
    String deep = "{\"a\":".repeat(10_000);
    assertThrows(SymbolonException.class, () -> JsonSettings.read(source(deep)));
    String braces = "a {\n".repeat(10_000);
    assertThrows(
        SymbolonException.class,
        () -> KeyedLines.read(source(braces), LineDialect.ASSIGNMENTS.withBraces()));
  }
}
