// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.haproxy;

import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** A bind line: its addresses, and the words behind them. */
record Bind(HaproxyText.Line line) {
  /** Words with a value behind them; the others stand alone. */
  private static final Set<String> WITH_VALUE =
      Set.of(
          "crt",
          "crt-list",
          "ca-file",
          "ca-verify-file",
          "crl-file",
          "verify",
          "ciphers",
          "ciphersuites",
          "alpn",
          "npn",
          "ssl-min-ver",
          "ssl-max-ver",
          "curves",
          "ecdhe",
          "sigalgs",
          "client-sigalgs",
          "backlog",
          "maxconn",
          "mode",
          "user",
          "group",
          "uid",
          "gid",
          "name",
          "nice",
          "process",
          "thread",
          "interface",
          "mss",
          "namespace",
          "level",
          "expose-fd",
          "id",
          "severity-output",
          "tcp-ut",
          "proto",
          "ca-ignore-err",
          "crt-ignore-err",
          "shards",
          "tls-ticket-keys",
          "ca-sign-file",
          "ca-sign-pass",
          "ocsp-update",
          "idle-ping",
          "cc");

  static boolean is(HaproxyText.Line line) {
    boolean listens = line.section().equals("frontend") || line.section().equals("listen");
    return listens && line.word(0).equals("bind") && line.words().size() > 1;
  }

  LineOptions options() {
    return new LineOptions(line, 2, WITH_VALUE);
  }

  boolean has(String option) {
    return options().has(option);
  }

  List<Integer> places(String option) {
    return options().places(option);
  }

  Optional<String> value(String option) {
    return options().value(option);
  }

  Mode mode() {
    if (!has("ssl") || !(has("crt") || has("crt-list"))) {
      return Mode.CLEAR;
    }
    return switch (value("verify").orElse("none")) {
      case "required" -> Mode.MUTUAL;
      case "optional" -> Mode.OPTIONAL;
      default -> Mode.ONE_WAY;
    };
  }

  List<Endpoint> endpoints() {
    return endpoints(line.word(1));
  }

  /** The addresses of a text in which nothing stands for something else. */
  List<Endpoint> endpoints(String addresses) {
    List<Endpoint> endpoints = new ArrayList<>();
    for (String one : addresses.split(",", -1)) {
      String address = one.replaceFirst("^(ipv4|ipv6|ipv6v6only|tcp4|tcp6|tcp)@", "");
      int colon = address.lastIndexOf(':');
      String port = colon < 0 ? "" : address.substring(colon + 1);
      if (port.matches("[1-9]\\d{0,4}")) {
        String host = address.substring(0, colon).replaceAll("^\\[|\\]$", "");
        endpoints.add(
            new Endpoint(host.equals("*") ? "" : host, Integer.parseInt(port), mode().isTls()));
      }
    }
    return endpoints;
  }
}
