// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import static org.junit.jupiter.api.Assertions.assertEquals;

import io.symbolon.party.ProtocolVersion;
import java.util.stream.Collectors;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * What a client met at a HAProxy 2.6 with these words, the global ones before those of the line.
 */
class BindVersionsTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "no-tlsv12                            | 1.3",
        "no-tlsv13                            | 1.2",
        "ssl-min-ver TLSv1.2 no-tlsv13        | 1.2 1.3",
        "no-tlsv13 ssl-min-ver TLSv1.2        | 1.2 1.3",
        "ssl-min-ver TLSv1.3 no-tlsv13        | 1.3",
        "force-tlsv12                         | 1.2",
        "ssl-min-ver TLSv1.3 force-tlsv12     | 1.2",
        "force-tlsv12 ssl-min-ver TLSv1.3     | ''",
        "ssl-max-ver TLSv1.2 TLSv1.2 and newer| 1.2",
        "ssl-min-ver TLSv1.3 ssl-max-ver TLSv1.2 | ''",
        "no-tlsv10 no-tlsv11                  | 1.2 1.3",
        "ssl-min-ver TLSv1.0                  | 1.0 1.1 1.2 1.3",
        "' '                                  | ''",
      })
  void wordsLetInWhatTheServerLetIn(String words, String versions) {
    assertEquals(
        versions,
        BindVersions.of(words).stream()
            .sorted()
            .map(ProtocolVersion::title)
            .map(title -> title.substring(4))
            .collect(Collectors.joining(" ")));
  }
}
