// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** nginx: several server blocks on two ports, what they inherit, and what is included. */
final class MadeNginx extends MadeServer {
  MadeNginx() {
    super("nginx", "/usr/sbin/nginx", ServerTalk.HTTP);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    Files.createDirectories(home.resolve("conf.d"));
    StringBuilder http = new StringBuilder();
    http.append(chance.maybe(30, "  ssl_protocols " + versions(chance) + ";\n"));
    if (chance.in(25)) {
      http.append(shows(chance, files, chance.one(MadeFiles.NAMES), home));
    }
    if (chance.in(20)) {
      http.append(asks(chance, files));
    }
    if (chance.in(20)) {
      http.append("  map $ssl_server_name $folder {\n    default ")
          .append(chance.one("ingest", "\"ingest\""))
          .append(";\n  }\n");
    }
    List<String> blocks = new ArrayList<>();
    List<String> names = chance.mixed(MadeFiles.NAMES);
    int count = 1 + chance.below(4);
    for (int i = 0; i < count; i++) {
      String block = block(home, chance, files, ports, i < names.size() ? names.get(i) : "");
      if (chance.in(50)) {
        file(home, "conf.d/" + i + "-site.conf", block);
      } else {
        blocks.add(block);
      }
    }
    String include =
        "  include "
            + chance.one("conf.d/*.conf", home + "/conf.d/*.conf", "\"conf.d/*.conf\"")
            + ";\n";
    StringBuilder temporary = new StringBuilder();
    for (String kind : new String[] {"client_body", "proxy", "fastcgi", "uwsgi", "scgi"}) {
      temporary
          .append("  ")
          .append(kind)
          .append("_temp_path ")
          .append(home)
          .append("/run/")
          .append(kind)
          .append(";\n");
    }
    Files.createDirectories(home.resolve("run"));
    boolean last = chance.in(60);
    file(
        home,
        "nginx.conf",
        "daemon off;\npid "
            + home
            + "/run/pid;\nerror_log "
            + home
            + "/run/error.log info;\nevents {}\nhttp {\n  access_log off;\n"
            + temporary
            + http
            + (last ? "" : include)
            + String.join("", blocks)
            + (last ? include : "")
            + "}\n");
  }

  private static String versions(Chance chance) {
    return chance.one(
        "TLSv1.2 TLSv1.3", "TLSv1.3", "TLSv1.2", "TLSv1 TLSv1.1 TLSv1.2", "\"TLSv1.2\" 'TLSv1.3'");
  }

  private static String block(
      Path home, Chance chance, MadeFiles files, List<Integer> ports, String name) {
    StringBuilder text = new StringBuilder(chance.maybe(30, "# A site.\n")).append("server {\n");
    boolean tls = chance.in(85);
    int port = ports.get(tls ? chance.below(2) : 2);
    text.append("  listen ")
        .append(address(chance, port))
        .append(tls ? " ssl" : "")
        .append(tls ? chance.maybe(15, " http2") : "")
        .append(chance.maybe(10, " default_server"))
        .append(";\n");
    if (tls && chance.in(15)) {
      text.append("  listen 127.0.0.1:").append(ports.get(3)).append(";\n");
    }
    text.append(names(chance, name));
    if (tls) {
      List<String> parts = new ArrayList<>();
      String whose = name.isEmpty() ? chance.one(MadeFiles.NAMES) : name;
      if (chance.in(85)) {
        parts.add(shows(chance, files, whose, home));
      }
      if (chance.in(45)) {
        parts.add(asks(chance, files));
      }
      parts.add(chance.maybe(35, "  ssl_protocols " + versions(chance) + ";\n"));
      parts.add(chance.maybe(6, "  ssl_reject_handshake on;\n"));
      parts.add(chance.maybe(10, "  if ($host = kelp) {\n    return 403;\n  }\n"));
      String all = String.join("", chance.mixed(parts));
      if (chance.in(20)) {
        String snippet = "snippet-" + chance.below(100_000) + ".conf";
        file(home, snippet, all);
        text.append("  include ").append(snippet).append(";\n");
      } else {
        text.append(all);
      }
    }
    return text.append("  location / { return 200 \"17 buoys; reporting }\"; }\n}\n").toString();
  }

  private static String address(Chance chance, int port) {
    return chance.one(
        "127.0.0.1:" + port,
        "127.0.0.1:" + port,
        String.valueOf(port),
        "*:" + port,
        "localhost:" + port,
        "0.0.0.0:" + port);
  }

  private static String names(Chance chance, String name) {
    if (name.isEmpty()) {
      return chance.one(
          "",
          "  server_name _;\n",
          "  server_name \"\";\n",
          "  server_name *.lanternfish.example;\n",
          "  server_name ~^kelp\\d+\\.lanternfish\\.example$;\n");
    }
    return chance.one(
        "  server_name " + name + ";\n",
        "  server_name " + name + " www." + name + ";\n",
        "  server_name\n    " + name + "\n    \"\";\n",
        "  server_name \"" + name + "\"; # by this name\n",
        "  server_name ." + name + ";\n",
        "  server_name " + name.toUpperCase(java.util.Locale.ROOT) + ";\n");
  }

  private static String shows(Chance chance, MadeFiles files, String name, Path home) {
    List<Boolean> kinds =
        chance.one(List.of(false), List.of(true), List.of(false, true), List.of(true, false));
    StringBuilder text = new StringBuilder();
    for (boolean ec : kinds) {
      Shown shown = files.of(name, ec);
      boolean one = chance.in(20);
      Path chain = one ? shown.both() : shown.chain();
      Path key = one ? shown.both() : shown.key();
      String mark = chance.one("", "", "\"", "'");
      boolean relative = chance.in(10);
      text.append("  ssl_certificate ")
          .append(mark)
          .append(relative ? home.relativize(chain) : chain)
          .append(mark)
          .append(";\n");
      text.append(chance.one("  ", "\t", "      "))
          .append("ssl_certificate_key")
          .append(chance.one(" ", "\n    "))
          .append(key)
          .append(";")
          .append(chance.maybe(20, " # key"))
          .append("\n");
    }
    return text.toString();
  }

  private static String asks(Chance chance, MadeFiles files) {
    String trust = files.trust(chance.one("own", "own", "reef", "all")).toString();
    return chance.one(
        "  ssl_client_certificate " + trust + ";\n  ssl_verify_client on;\n  ssl_verify_depth 3;\n",
        "  ssl_client_certificate "
            + trust
            + ";\n  ssl_verify_client optional;\n  ssl_verify_depth 2;\n",
        "  ssl_verify_client on;\n  ssl_trusted_certificate "
            + trust
            + ";\n  ssl_client_certificate "
            + files.trust("reef")
            + ";\n  ssl_verify_depth 2;\n",
        "  ssl_client_certificate " + trust + ";\n",
        "  ssl_client_certificate " + trust + ";\n  ssl_verify_client off;\n",
        "  ssl_client_certificate " + trust + ";\n  ssl_verify_client optional_no_ca;\n",
        "  ssl_client_certificate " + trust + ";\n  ssl_verify_client on;\n");
  }

  @Override
  List<String> start(Path home) {
    return List.of(
        program(),
        "-e",
        home + "/run/error.log",
        "-p",
        home.toString(),
        "-c",
        home + "/nginx.conf");
  }
}
