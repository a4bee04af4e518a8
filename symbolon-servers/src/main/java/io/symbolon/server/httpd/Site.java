// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.lossless.Directive;
import io.symbolon.server.place.Endpoint;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A site: a {@code VirtualHost}, or the main server.
 *
 * @param block the {@code VirtualHost}; nothing for the main server
 * @param main the settings of the main server, which count where the site has none of its own
 * @param enabled whether httpd loads it
 */
record Site(Optional<Directive> block, List<Directive> main, boolean enabled) {

  /** Every site that is loaded, in order. */
  static List<Site> in(HttpdTree tree) {
    List<Site> sites = new ArrayList<>();
    for (Directive one : tree.directives()) {
      if (one.is("VirtualHost") && one.block().isPresent()) {
        sites.add(new Site(Optional.of(one), tree.directives(), true));
      }
    }
    return sites;
  }

  List<Directive> inside() {
    return block.map(Directive::inside).orElse(main);
  }

  List<Directive> inside(String name) {
    return inside().stream().filter(one -> one.is(name)).toList();
  }

  /** The settings of that name that count in it. */
  List<Directive> inForce(String name) {
    List<Directive> own = inside(name);
    return own.isEmpty() ? main.stream().filter(one -> one.is(name)).toList() : own;
  }

  /** Of several, the last one counts. */
  Optional<Directive> one(String name) {
    List<Directive> all = inForce(name);
    return all.isEmpty() ? Optional.empty() : Optional.of(all.get(all.size() - 1));
  }

  String word(String name) {
    return one(name).map(one -> one.value(0).toLowerCase(Locale.ROOT)).orElse("");
  }

  boolean isTls() {
    String engine = word("SSLEngine");
    return engine.equals("on") || engine.equals("optional");
  }

  /** Its own name, else that of its file. */
  String name() {
    if (block.isEmpty()) {
      return "main server";
    }
    return serverName().orElseGet(this::file);
  }

  /** The name of its file, without the ending. */
  String file() {
    return block
        .map(one -> String.valueOf(one.source().path().getFileName()).replaceFirst("\\.conf$", ""))
        .orElse("");
  }

  Optional<String> serverName() {
    return inside("ServerName").stream()
        .reduce((first, second) -> second)
        .map(one -> one.value(0).replaceFirst("^https?://", ""))
        .map(text -> text.replaceFirst(":\\d+$", ""))
        .filter(text -> !text.isEmpty());
  }

  List<String> hosts() {
    return Stream.concat(
            serverName().stream(),
            inside("ServerAlias").stream().flatMap(one -> one.values().stream()))
        .toList();
  }

  /** The addresses of a {@code VirtualHost}, in which a star stands for every port listened on. */
  List<Endpoint> endpoints(List<Endpoint> listens) {
    List<Endpoint> endpoints = new ArrayList<>();
    for (String word : block.map(Directive::values).orElse(List.of())) {
      int close = word.indexOf(']');
      int colon = word.lastIndexOf(':');
      String host = colon > close ? word.substring(0, colon) : word;
      String port = colon > close ? word.substring(colon + 1) : "";
      if (host.startsWith("[") && close > 0) {
        host = host.substring(1, close);
      }
      String address = host.equals("*") || host.equals("_default_") ? "" : host;
      if (port.equals("*")) {
        listens.forEach(each -> endpoints.add(new Endpoint(address, each.port(), isTls())));
      } else {
        int number = port.isEmpty() ? last(listens) : number(port);
        endpoints.add(new Endpoint(address, number, isTls()));
      }
    }
    return endpoints;
  }

  private static int last(List<Endpoint> listens) {
    return listens.isEmpty() ? 80 : listens.get(listens.size() - 1).port();
  }

  private static int number(String text) {
    try {
      return Integer.parseInt(text);
    } catch (NumberFormatException e) {
      return 0;
    }
  }

  /** The addresses of the listen lines. */
  static List<Endpoint> listens(List<Directive> main) {
    List<Endpoint> listens = new ArrayList<>();
    for (Directive one : main) {
      if (one.is("Listen")) {
        String word = one.value(0);
        int colon = word.lastIndexOf(':');
        String host = colon < 0 ? "" : word.substring(0, colon).replaceAll("[\\[\\]]", "");
        int port = number(word.substring(colon + 1));
        listens.add(
            new Endpoint(host.equals("0.0.0.0") || host.equals("*") ? "" : host, port, false));
      }
    }
    return listens;
  }

  /** Whether it sends all of its clients to TLS. */
  boolean isRedirect() {
    return inside().stream().anyMatch(Site::sendsToTls);
  }

  boolean isOnlyRedirect() {
    return isRedirect() && !isTls();
  }

  private static boolean sendsToTls(Directive one) {
    boolean redirects =
        one.is("Redirect")
            || one.is("RedirectPermanent")
            || one.is("RedirectTemp")
            || one.is("RedirectMatch")
            || one.is("RewriteRule");
    return redirects && one.values().stream().anyMatch(value -> value.startsWith("https://"));
  }
}
