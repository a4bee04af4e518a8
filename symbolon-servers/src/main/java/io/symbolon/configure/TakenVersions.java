// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import java.util.Locale;
import java.util.regex.Pattern;

/** Protocol versions in the words of any server's settings. */
final class TakenVersions {
  private static final Pattern LATEST =
      Pattern.compile("(?:tlsv?1?[._]?3|(?<![\\d.])1\\.3|3\\.4)\\b");
  private static final Pattern EARLIER =
      Pattern.compile(
          "tlsv1(?![._]?3)|tls1[._]?[012]|(?<![\\d.])1\\.[012]\\b|ssl|\\ball\\b|3\\.[0-3]\\b");

  private TakenVersions() {}

  /** Whether these words let TLS 1.3 alone in; where they are not understood, they do not. */
  static boolean areLatestAlone(String words) {
    String lower = words.toLowerCase(Locale.ROOT);
    return LATEST.matcher(lower).find()
        && !EARLIER.matcher(lower.replaceAll("[-!]\\s*(?:ssl|tls)[\\w.]*", "")).find();
  }
}
