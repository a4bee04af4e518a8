// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlText;
import io.symbolon.lossless.XmlText.Element;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A standalone.xml: what is named in it, and where. */
final class Model {
  static final String STORES = "key-stores";
  static final String KEYS = "key-managers";
  static final String TRUST = "trust-managers";
  static final String CONTEXTS = "server-ssl-contexts";
  private static final String SNI = "server-ssl-sni-contexts";

  private static final Pattern VERSION = Pattern.compile(":(\\d{1,4})\\.\\d+$");

  private final Element root;

  Model(SourceText source) {
    this.root = XmlText.read(source);
  }

  boolean isServer() {
    return root.name().equals("server");
  }

  /** The parts of the server that begin with a namespace, whatever its version. */
  private List<Element> subsystems(String namespace) {
    List<Element> found = new ArrayList<>();
    for (Element profile : root.children("profile")) {
      for (Element one : profile.children("subsystem")) {
        if (one.value("xmlns", "").startsWith(namespace)) {
          found.add(one);
        }
      }
    }
    return found;
  }

  Optional<Element> elytron() {
    return subsystems("urn:wildfly:elytron:").stream().findFirst();
  }

  /** The version of its settings for Elytron, such as 18. */
  int elytronVersion() {
    return elytron()
        .map(one -> VERSION.matcher(one.value("xmlns", "")))
        .filter(Matcher::find)
        .map(version -> Integer.parseInt(version.group(1)))
        .orElse(0);
  }

  Optional<Element> tls() {
    return elytron().flatMap(one -> one.children("tls").stream().findFirst());
  }

  Optional<Element> group(String name) {
    return tls().flatMap(one -> one.children(name).stream().findFirst());
  }

  Optional<Element> named(String group, String name) {
    return group(group).stream()
        .flatMap(one -> one.children().stream())
        .filter(one -> one.value("name", "").equals(name))
        .findFirst();
  }

  /** Whether a context chooses among others by the name that a client asks for. */
  boolean isByName(String context) {
    return named(SNI, context).isPresent();
  }

  /** A context; of those that choose among others, the one for everybody else. */
  Optional<Element> context(String name) {
    return named(CONTEXTS, name)
        .or(
            () ->
                named(SNI, name)
                    .flatMap(one -> one.attribute("default-ssl-context"))
                    .flatMap(one -> named(CONTEXTS, one.value())));
  }

  /** Where TLS is spoken, or could be. */
  List<Listener> listeners() {
    List<Listener> all = new ArrayList<>();
    for (Element undertow : subsystems("urn:jboss:domain:undertow:")) {
      List<Element> servers = undertow.children("server");
      for (Element server : servers) {
        for (Element one : server.children("https-listener")) {
          String name = one.value("name", "https");
          all.add(
              new Listener(
                  servers.size() == 1 ? name : server.value("name", "server") + "/" + name,
                  one,
                  Optional.empty(),
                  one.value("socket-binding", "")));
        }
      }
    }
    for (Element management : root.children("management")) {
      for (Element group : management.children("management-interfaces")) {
        for (Element one : group.children("http-interface")) {
          Optional<Element> binding = one.children("socket-binding").stream().findFirst();
          if (binding.isPresent()) {
            String https = binding.get().value("https", "");
            all.add(
                new Listener(
                    "management",
                    one,
                    binding,
                    https.isEmpty() ? binding.get().value("http", "") : https));
          }
        }
      }
    }
    return all;
  }

  Optional<Element> binding(String name) {
    return root.children("socket-binding-group").stream()
        .flatMap(group -> group.children("socket-binding").stream())
        .filter(one -> one.value("name", "").equals(name))
        .findFirst();
  }

  private Optional<Element> bindings() {
    return root.children("socket-binding-group").stream().findFirst();
  }

  /** What is added to every port. */
  int offset() {
    return bindings()
        .flatMap(group -> new Expression(group.value("port-offset", "0")).number())
        .orElse(0);
  }

  /** The address that a binding listens on; empty for all, and where it is not known. */
  String address(Element binding) {
    String name =
        binding
            .attribute("interface")
            .map(XmlText.Attribute::value)
            .orElseGet(() -> bindings().map(one -> one.value("default-interface", "")).orElse(""));
    String address =
        root.children("interfaces").stream()
            .flatMap(all -> all.children("interface").stream())
            .filter(one -> one.value("name", "").equals(name))
            .flatMap(one -> one.children("inet-address").stream())
            .findFirst()
            .flatMap(one -> new Expression(one.value("value", "")).usual())
            .orElse("");
    return address.equals("0.0.0.0") || address.equals("::") ? "" : address;
  }

  /** Whether the key of a manager is made by WildFly itself when it is asked. */
  static boolean isMadeByItself(Element manager) {
    return manager.attribute("generate-self-signed-certificate-host").isPresent();
  }
}
