// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A value that a property of the process may give, such as <code>${jboss.https.port:8443}</code>;
 * what stands behind the colon counts where none does.
 */
record Expression(String text) {
  private static final Pattern ONE = Pattern.compile("\\$\\{([^:${}]+(?::[^{}$]*)?)\\}");
  private static final int MOST = 10;

  /** The value where no property is set; nothing where it needs one. */
  Optional<String> usual() {
    String value = text;
    for (int i = 0; i < MOST; i++) {
      Matcher inner = ONE.matcher(value);
      if (!inner.find()) {
        return value.contains("${") ? Optional.empty() : Optional.of(value);
      }
      int colon = inner.group(1).indexOf(':');
      if (colon < 0) {
        return Optional.empty();
      }
      value =
          value.substring(0, inner.start())
              + inner.group(1).substring(colon + 1)
              + value.substring(inner.end());
    }
    return Optional.empty();
  }

  /** The number where no property is set. */
  Optional<Integer> number() {
    return usual().filter(one -> one.matches("\\d{1,5}")).map(Integer::parseInt);
  }

  /** The same property with another value where it is not set. */
  String withUsual(String value) {
    Matcher whole = ONE.matcher(text);
    if (!whole.matches()) {
      return value;
    }
    int colon = whole.group(1).indexOf(':');
    String name = colon < 0 ? whole.group(1) : whole.group(1).substring(0, colon);
    return "${" + name + ":" + value + "}";
  }
}
