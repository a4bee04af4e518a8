// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Redis: TLS beside clear text or alone, in any case, with an included file; or no TLS yet. */
final class MadeRedis extends MadeServer {
  MadeRedis() {
    super("redis", "/usr/bin/redis-server", ServerTalk.REDIS);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    List<String> lines = new ArrayList<>();
    lines.add(
        chance.one(
            "bind 127.0.0.1",
            "bind 127.0.0.1 -::1",
            "BIND 127.0.0.1",
            "bind 0.0.0.0\nprotected-mode no"));
    boolean tls = chance.in(75);
    lines.add(tls && chance.in(60) ? "port 0" : "port " + ports.get(1));
    if (tls) {
      tls(lines, chance, files, ports.get(0));
    }
    lines.add("save \"\"");
    String all = String.join("\n", chance.mixed(lines)).replaceAll("\n\n+", "\n").strip() + "\n";
    Files.createDirectories(home.resolve("run"));
    String rest = "dir " + home + "/run\n" + chance.maybe(20, "tls-auth-clients no\n");
    if (chance.in(30)) {
      file(home, "tls.conf", all);
      String include = "include " + home + "/tls.conf\n";
      file(home, "redis.conf", chance.in(50) ? rest + include : include + rest);
    } else {
      file(home, "redis.conf", "# one store\n" + all + rest);
    }
  }

  private static void tls(List<String> lines, Chance chance, MadeFiles files, int port) {
    Shown shown = files.of(chance.one(MadeFiles.NAMES), chance.in(50));
    lines.add(chance.one("tls-port ", "TLS-PORT ", "tls-port  ") + port);
    String mark = chance.one("", "\"");
    lines.add("tls-cert-file " + mark + shown.chain() + mark);
    lines.add("tls-key-file " + mark + shown.key() + mark);
    lines.add("tls-ca-cert-file " + files.trust(chance.one("own", "own", "reef", "all")));
    lines.add(
        chance.one(
            "",
            "",
            "tls-auth-clients yes",
            "tls-auth-clients no",
            "tls-auth-clients optional",
            "tls-auth-clients \"no\""));
    lines.add(
        chance.one(
            "",
            "",
            "tls-protocols \"TLSv1.2 TLSv1.3\"",
            "tls-protocols TLSv1.3",
            "tls-protocols \"TLSv1.2\""));
  }

  @Override
  List<String> start(Path home) {
    return List.of(program(), home + "/redis.conf");
  }
}
