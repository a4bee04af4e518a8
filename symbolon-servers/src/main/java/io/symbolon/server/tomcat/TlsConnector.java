// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

import io.symbolon.lossless.XmlText;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * A connector, with one of the hosts that it has certificates for.
 *
 * @param host the settings of the host; nothing where it has none
 */
record TlsConnector(XmlText.Element connector, Optional<XmlText.Element> host) {
  static final String USUAL_HOST = "_default_";

  int port() {
    try {
      return Integer.parseInt(connector.value("port", "0"));
    } catch (NumberFormatException e) {
      return 0;
    }
  }

  boolean isTls() {
    return connector.value("SSLEnabled", "false").equalsIgnoreCase("true");
  }

  Endpoint endpoint() {
    String address = connector.value("address", "");
    return new Endpoint(address.equals("0.0.0.0") ? "" : address, port(), isTls());
  }

  /** The port, and the name where it is not the only one. */
  String name() {
    String name = host.map(one -> one.value("hostName", USUAL_HOST)).orElse(USUAL_HOST);
    return name.equals(USUAL_HOST)
        ? connector.value("port", "0")
        : connector.value("port", "0") + "/" + name;
  }

  List<XmlText.Element> certificates() {
    return host.map(one -> one.children("Certificate")).orElse(List.of());
  }

  Mode mode() {
    if (!isTls()) {
      return Mode.CLEAR;
    }
    String word =
        host.map(one -> one.value("certificateVerification", "none"))
            .orElse("none")
            .toLowerCase(Locale.ROOT);
    return switch (word) {
      case "required", "require", "true", "yes" -> Mode.MUTUAL;
      case "optional", "want", "optionalnoca" -> Mode.OPTIONAL;
      default -> Mode.ONE_WAY;
    };
  }
}
