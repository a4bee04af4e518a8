// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.acme.answer.AnswerPlan;
import io.symbolon.acme.answer.AnswerPlan.Lookup;
import io.symbolon.acme.answer.AnswerPlan.RequestLimits;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.Usage;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.task.authority.ServeJob;
import io.symbolon.task.words.NetworkAddress;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Which authority answers, and how, as options say it. */
final class ServeOptions {
  private static final int USUAL_PORT = 8443;
  private static final int DNS = 53;
  private static final int MOST = 4 << 20;

  private ServeOptions() {}

  static ServeJob job(GivenOptions given) {
    InetSocketAddress listen = NetworkAddress.of(given.value("listen").orElse(""), USUAL_PORT);
    List<HostName> hosts = given.hosts();
    if (hosts.size() != 1) {
      throw Usage.wrong(
          hosts.isEmpty()
              ? "No name is given by which clients reach it."
              : "It answers under one name, and several are given.",
          "Name it with --host, such as --host authority.lanternfish.example.");
    }
    HostName host = GivenOptions.oneHost(hosts.get(0).toString());
    Lookup lookup =
        new Lookup(
            given.pathOf("hosts").map(ServeOptions::addresses).orElse(Map.of()),
            given.value("dns").map(text -> NetworkAddress.of(text, DNS)),
            port(given, "http-port", 80),
            port(given, "tls-port", 443));
    RequestLimits usual = RequestLimits.USUAL;
    AnswerPlan plan =
        new AnswerPlan(
            listen,
            host,
            given.lasts().orElse(AnswerPlan.LASTS),
            given.values("allow"),
            given.pathOf("account-keys").map(ServeOptions::thumbprints).orElse(Set.of()),
            given.pathOf("bind-keys").map(ServeOptions::bindKeys).orElse(Map.of()),
            given.value("terms").map(ServeOptions::address),
            lookup,
            new RequestLimits(
                number(given, "orders-per-account", usual.ordersOfAccount()),
                number(given, "orders-per-address", usual.ordersOfAddress()),
                number(given, "orders", usual.ordersOfAll()),
                number(given, "accounts-per-address", usual.accountsOfAddress()),
                number(given, "accounts", usual.accounts())),
            given.value("files").map(text -> NetworkAddress.of(text, 80)));
    return new ServeJob(given.by(), plan, given.value("records"), given.unlock());
  }

  private static int port(GivenOptions given, String option, int usual) {
    return given.value(option).map(text -> NetworkAddress.port(text, text)).orElse(usual);
  }

  private static int number(GivenOptions given, String option, int usual) {
    return given
        .value(option)
        .map(
            text -> {
              if (!text.matches("[1-9][0-9]{0,8}")) {
                throw Usage.wrong(
                    "--" + option + " is not a number.", "Give how many there may be in an hour.");
              }
              return Integer.parseInt(text);
            })
        .orElse(usual);
  }

  private static URI address(String text) {
    try {
      URI url = URI.create(text);
      if (url.getHost() != null) {
        return url;
      }
    } catch (IllegalArgumentException e) {
      // told below
    }
    throw Usage.wrong(
        "'" + VisibleText.of(text) + "' is not the address of a page.",
        "Write it like https://www.lanternfish.example/terms.");
  }

  /** The lines of a file that are neither empty nor remarks, as words. */
  private static List<String[]> lines(Path file, String what) {
    try {
      SafeRead.Content content = SafeRead.named(file, MOST, MOST);
      if (!content.whole()) {
        throw unreadable(file, what, "It has more than " + MOST + " octets.", null);
      }
      List<String[]> lines = new ArrayList<>();
      for (String line : new String(content.octets(), StandardCharsets.UTF_8).lines().toList()) {
        String bare = line.replaceFirst("#.*", "").strip();
        if (!bare.isEmpty()) {
          lines.add(bare.split("\\s+", -1));
        }
      }
      return lines;
    } catch (IOException e) {
      throw unreadable(file, what, "There is no such file, or the system does not let you.", e);
    }
  }

  private static SymbolonException unreadable(
      Path file, String what, String seen, @org.jspecify.annotations.Nullable Throwable cause) {
    return new SymbolonException(
        Reason.UNREADABLE,
        "The " + what + " in " + VisibleText.of(file.toString()) + " can't be read.",
        seen,
        "Check the name and the rights of the file.",
        cause);
  }

  private static SymbolonException wrongLine(Path file, String what, String form) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The " + what + " in " + VisibleText.of(file.toString()) + " can't be used.",
        "A line of it is not like: " + form,
        "Correct the file; remarks stand behind #.");
  }

  /** Addresses and the hosts that have them, in the form of a system's file of hosts. */
  private static Map<String, String> addresses(Path file) {
    Map<String, String> all = new HashMap<>();
    for (String[] words : lines(file, "addresses of hosts")) {
      if (words.length < 2 || !HostName.isAddressText(words[0])) {
        throw wrongLine(file, "addresses of hosts", "192.0.2.17 ingest.lanternfish.example");
      }
      for (int i = 1; i < words.length; i++) {
        all.put(HostName.parse(words[i]).toString(), words[0]);
      }
    }
    return all;
  }

  private static Set<String> thumbprints(Path file) {
    Set<String> all = new HashSet<>();
    for (String[] words : lines(file, "account keys")) {
      if (!words[0].matches("[A-Za-z0-9_-]{43}")) {
        throw wrongLine(
            file, "account keys", "a thumbprint of 43 characters (RFC 7638), a name behind it");
      }
      all.add(words[0]);
    }
    if (all.isEmpty()) {
      throw wrongLine(file, "account keys", "one thumbprint at least");
    }
    return all;
  }

  private static Map<String, byte[]> bindKeys(Path file) {
    Map<String, byte[]> all = new HashMap<>();
    for (String[] words : lines(file, "keys to bind accounts")) {
      try {
        all.put(words[0], Base64.getUrlDecoder().decode(words[words.length - 1]));
      } catch (IllegalArgumentException e) {
        throw wrongLine(file, "keys to bind accounts", "NAME KEY-IN-BASE64URL");
      }
      if (words.length != 2 || all.get(words[0]).length < 16) {
        throw wrongLine(
            file, "keys to bind accounts", "NAME KEY-IN-BASE64URL, with 16 octets at least");
      }
    }
    return all;
  }
}
