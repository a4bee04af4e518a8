// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.party.ProtocolVersion;
import io.symbolon.server.place.VersionWords;
import java.util.stream.Collectors;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class VersionWordsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "TLSv1.2 TLSv1.3                        | 1.2 1.3",
        "TLSv1 TLSv1.1 TLSv1.2                  | 1.0 1.1 1.2",
        "TLSv1.3                                | 1.3",
        "TLSv1.2 and newer                      | 1.2 1.3",
        "TLSv1 and newer                        | 1.0 1.1 1.2 1.3",
        ">=TLSv1.2                              | 1.2 1.3",
        "!SSLv2, !SSLv3, !TLSv1, !TLSv1.1       | 1.2 1.3",
        "all -SSLv3 -TLSv1 -TLSv1.1             | 1.2 1.3",
        "-all +TLSv1.3                          | 1.3",
        "all                                    | 1.0 1.1 1.2 1.3",
        "NORMAL:-VERS-ALL:+VERS-TLS1.3          | 1.3",
        "-VERS-ALL:+VERS-TLS1.3:+VERS-TLS1.2    | 1.2 1.3",
        "tlsv1.2,tlsv1.3                        | 1.2 1.3",
        "TLSv1.2+TLSv1.3                        | 1.2 1.3",
        "tls1_2                                 | 1.2",
        "TLSv1 to TLSv1.2                       | 1.0 1.1 1.2",
        "SSLv3 TLSv1.2                          | 3.0 1.2",
        "no words of this kind                  | ''"
      })
  void wordsOfAnyServerAreUnderstood(String words, String versions) {
    String seen =
        VersionWords.of(words).stream()
            .sorted()
            .map(ProtocolVersion::title)
            .map(title -> title.substring(4))
            .collect(Collectors.joining(" "));
    assertEquals(versions.equals("''") ? "" : versions, seen);
  }
}
