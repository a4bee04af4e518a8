// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.lossless.XmlText.Element;
import java.util.Optional;

/**
 * Where TLS is spoken, or could be: a listener for the web, or the management.
 *
 * @param name the name by which it is chosen
 * @param element the element that names its context
 * @param ports the element that names its bindings, where it is another one
 * @param binding the name of its binding
 */
record Listener(String name, Element element, Optional<Element> ports, String binding) {
  Optional<String> context() {
    return element.attribute("ssl-context").map(one -> one.value());
  }

  boolean isManagement() {
    return ports.isPresent();
  }

  boolean isTls() {
    return context().isPresent()
        && (!isManagement() || !ports.orElseThrow().value("https", "").isEmpty());
  }
}
