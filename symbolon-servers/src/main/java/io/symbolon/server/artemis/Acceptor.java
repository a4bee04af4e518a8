// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.artemis;

import io.symbolon.lossless.XmlText;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import java.util.List;
import java.util.Optional;

/** An acceptor: its element, and the address in it. */
record Acceptor(XmlText.Element element, AcceptorAddress address) {
  String name() {
    return element.value("name", "acceptor");
  }

  Mode mode() {
    if (!address.is("sslEnabled")) {
      return Mode.CLEAR;
    }
    return address.is("needClientAuth")
        ? Mode.MUTUAL
        : address.is("wantClientAuth") ? Mode.OPTIONAL : Mode.ONE_WAY;
  }

  /** The port; nothing where a property of the process says it. */
  Optional<Integer> port() {
    return address.port().matches("[1-9]\\d{0,4}")
        ? Optional.of(Integer.parseInt(address.port()))
        : Optional.empty();
  }

  List<Endpoint> endpoints() {
    String host = address.host().replaceAll("^\\[|\\]$", "");
    boolean all = host.equals("0.0.0.0") || host.startsWith("${");
    return port().map(one -> new Endpoint(all ? "" : host, one, mode() != Mode.CLEAR)).stream()
        .toList();
  }
}
