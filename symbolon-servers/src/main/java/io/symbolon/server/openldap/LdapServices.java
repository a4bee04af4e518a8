// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.openldap;

import io.symbolon.server.Installation;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.machine.RunningServer;
import io.symbolon.server.place.Endpoint;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Where it listens: as its process was started, else as its package starts it. */
final class LdapServices {
  /** The process of a server with these settings. */
  static final Pattern PROCESS = Pattern.compile("(?:\\S*/)?slapd(?: .*)?");

  private static final Pattern SETTING =
      Pattern.compile("(?m)^[ \\t]*SLAPD_(?:SERVICES|URLS)=[\"']?([^\"'\\n]*)");
  private static final Pattern URL =
      Pattern.compile("(ldaps?)://(\\[[^\\]]*\\]|[^:/]*)(?::(\\d+))?/?");

  private final List<String> urls;

  LdapServices(Machine machine, Installation installation) {
    this.urls = urls(machine, installation);
  }

  private static List<String> urls(Machine machine, Installation installation) {
    Optional<RunningServer> process = process(machine, installation);
    if (process.isPresent()) {
      int at = process.get().words().indexOf("-h");
      if (at >= 0 && at + 1 < process.get().words().size()) {
        return Arrays.asList(process.get().words().get(at + 1).strip().split("\\s+"));
      }
    }
    for (String file : List.of("default/slapd", "sysconfig/slapd")) {
      Path path = installation.home().resolveSibling(file);
      Optional<String> text =
          machine.files().read(path).map(read -> new String(read.octets(), StandardCharsets.UTF_8));
      if (text.isPresent()) {
        Matcher setting = SETTING.matcher(text.get());
        if (setting.find() && !setting.group(1).isBlank()) {
          return Arrays.asList(setting.group(1).strip().split("\\s+"));
        }
      }
    }
    return List.of("ldap:///", "ldapi:///");
  }

  static Optional<RunningServer> process(Machine machine, Installation installation) {
    if (machine.isWindows()) {
      return Optional.empty();
    }
    String folder = String.valueOf(installation.main().getParent());
    return RunningServer.find(PROCESS, words -> words.contains(folder));
  }

  /** The socket over which its settings are changed. */
  String socket() {
    return urls.stream().filter(one -> one.startsWith("ldapi://")).findFirst().orElse("ldapi:///");
  }

  boolean hasSocket() {
    return urls.stream().anyMatch(one -> one.startsWith("ldapi://"));
  }

  /** Those that speak TLS at once, else those that begin in clear text. */
  List<Endpoint> endpoints(boolean tls, boolean atOnce) {
    List<Endpoint> all = new ArrayList<>();
    for (String url : urls) {
      Matcher matcher = URL.matcher(url);
      if (matcher.matches() && matcher.group(1).equals("ldaps") == atOnce) {
        String host =
            URLDecoder.decode(matcher.group(2).replaceAll("^\\[|\\]$", ""), StandardCharsets.UTF_8);
        int port =
            matcher.group(3) == null ? (atOnce ? 636 : 389) : Integer.parseInt(matcher.group(3));
        if (port > 0 && port < 1 << 16) {
          all.add(new Endpoint(host.equals("0.0.0.0") || host.equals("*") ? "" : host, port, tls));
        }
      }
    }
    return all;
  }
}
