// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.Locale;
import java.util.Optional;

/** Parts of names, in the form in which they are compared. */
final class NameParts {
  private NameParts() {}

  /** A DNS name in small letters, without the point that may end it. */
  static String plain(String name) {
    String text = name.toLowerCase(Locale.ROOT);
    return text.endsWith(".") && text.length() > 1 ? text.substring(0, text.length() - 1) : text;
  }

  /** The host of a URI, if it has one that is no address. */
  static Optional<String> uriHost(String uri) {
    try {
      return Optional.ofNullable(new URI(uri).getHost())
          .filter(host -> !host.startsWith("[") && IpAddress.octets(host).isEmpty());
    } catch (URISyntaxException e) {
      return Optional.empty();
    }
  }
}
