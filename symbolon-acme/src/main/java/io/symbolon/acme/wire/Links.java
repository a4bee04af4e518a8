// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.wire;

import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Links in the header of an answer (RFC 8288). */
final class Links {
  private static final Pattern LINK = Pattern.compile("<([^<>]{0,2000})>([^<]*)");
  private static final Pattern RELATION =
      Pattern.compile(";\\s*rel\\s*=\\s*(?:\"([^\"]*)\"|([^\\s;,\"]+))", Pattern.CASE_INSENSITIVE);

  private Links() {}

  static List<URI> of(URI base, List<String> headers, String relation, int most) {
    List<URI> found = new ArrayList<>();
    for (String header : headers) {
      Matcher link = LINK.matcher(header);
      while (found.size() < most && link.find()) {
        Matcher named = RELATION.matcher(link.group(2));
        if (named.find() && has(named, relation)) {
          try {
            found.add(base.resolve(link.group(1)));
          } catch (IllegalArgumentException e) {
            // what is no address leads nowhere
          }
        }
      }
    }
    return found;
  }

  private static boolean has(Matcher named, String relation) {
    String all = named.group(1) != null ? named.group(1) : named.group(2);
    return (' ' + all + ' ').contains(' ' + relation + ' ');
  }
}
