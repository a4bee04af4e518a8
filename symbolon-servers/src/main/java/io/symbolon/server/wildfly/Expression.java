// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.server.text.Placeholders;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A value that a property of the process may give, such as <code>${jboss.https.port:8443}</code>;
 * what stands behind the colon counts where none does.
 */
record Expression(String text) {
  private static final Pattern ONE = Pattern.compile("\\$\\{([^:${}]+(?::[^{}$]*)?)\\}");

  /** The value where no property is set; nothing where it needs one. */
  Optional<String> usual() {
    return Placeholders.of(Placeholders.Syntax.COLON, name -> Optional.empty()).resolved(text);
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
