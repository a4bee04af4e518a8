// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.server.text.Placeholders;
import io.symbolon.server.text.Placeholders.Syntax;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PlaceholdersTest {
  private static final Map<String, String> VALUES =
      Map.of("base", "/srv", "tls", "${base}/tls", "which", "tls", "self", "${self}", "a", "1");

  private static Optional<String> resolved(Syntax syntax, String text) {
    return Placeholders.of(syntax, name -> Optional.ofNullable(VALUES.get(name))).resolved(text);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "COLON       | ${base}/a.p12           | /srv/a.p12",
        "COLON       | ${tls}                  | /srv/tls",
        "COLON       | ${none:/x}              | /x",
        "COLON       | ${none:${base}}/y       | /srv/y",
        "COLON       | ${none:}                | ''",
        "COLON       | ${none}                 | nothing",
        "COLON       | ${self}                 | nothing",
        "COLON       | ${${which}}             | /srv/tls",
        "COLON       | a $ sign {} ${          | a $ sign {} ${",
        "SHELL       | ${none:-${base}/z}      | /srv/z",
        "SHELL       | ${none:x}               | nothing",
        "PLAIN       | ${base}$base            | /srv$base",
        "POSTFIX     | $base/$(tls)            | /srv//srv/tls",
        "POSTFIX     | a$$base                 | a$base",
        "ENVIRONMENT | $base/${none-x}         | /srv/x",
      })
  void aTextIsResolvedOrNothingIsSaid(String syntax, String text, String value) throws Exception {
    Syntax kind = (Syntax) Syntax.class.getField(syntax).get(null);
    String wanted = "''".equals(value) ? "" : value;
    assertEquals(wanted, resolved(kind, text).orElse("nothing"));
  }

  @Test
  void whatIsNotKnownStaysWhereTheServerLeavesItSo() {
    Placeholders plain = Placeholders.of(Syntax.PLAIN, n -> Optional.ofNullable(VALUES.get(n)));
    assertEquals("/srv/${none}", plain.known("${base}/${none}"));
  }

  @Test
  void namesInNamesThatStandForNothingEndSoon() {
    String many = "${x}".repeat(5_000);
    Placeholders deep =
        Placeholders.of(
            Syntax.COLON,
            name -> Optional.of(name.length() < 8 ? many.replace("x", name + "x") : ""));
    assertEquals(Optional.empty(), deep.resolved(many));
  }
}
