// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** HAProxy: frontends with several bind lines, folders and lists of certificates, defaults. */
final class MadeHaproxy extends MadeServer {
  MadeHaproxy() {
    super("haproxy", "/usr/sbin/haproxy", ServerTalk.HTTP);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    StringBuilder text = new StringBuilder("global\n  stats timeout 30s\n");
    boolean base = chance.in(25);
    text.append(base ? "  crt-base " + home.resolveSibling("files") + "\n" : "");
    text.append(chance.maybe(20, "  ca-base " + home.resolveSibling("files") + "\n"));
    text.append(
        chance.maybe(
            40,
            "  ssl-default-bind-options "
                + chance.one(
                    "ssl-min-ver TLSv1.2",
                    "ssl-min-ver TLSv1.3",
                    "ssl-min-ver TLSv1.2 ssl-max-ver TLSv1.2",
                    "no-tlsv13",
                    "no-sslv3 no-tlsv10 no-tlsv11",
                    "force-tlsv13")
                + "\n"));
    text.append(
        "defaults\n  mode http\n  timeout connect 20s\n  timeout client 20s\n  timeout server 20s\n");
    int count = 1 + chance.below(3);
    for (int i = 0; i < count; i++) {
      text.append(chance.one("frontend", "listen", "frontend"))
          .append(" site")
          .append(i)
          .append(chance.maybe(20, " # a site"))
          .append('\n');
      text.append(bind(home, chance, files, ports.get(i), base, i));
      text.append(i == 0 ? chance.maybe(25, "  bind 127.0.0.1:" + ports.get(3) + "\n") : "");
      text.append("  http-request return status 200\n");
    }
    file(home, "haproxy.cfg", text.toString());
  }

  private static String bind(
      Path home, Chance chance, MadeFiles files, int port, boolean base, int number)
      throws IOException {
    String address =
        chance.one(
            "127.0.0.1:" + port,
            ":" + port,
            "*:" + port,
            "0.0.0.0:" + port,
            "ipv4@127.0.0.1:" + port);
    StringBuilder line = new StringBuilder("  bind ").append(address);
    if (chance.in(10)) {
      return line.append('\n').toString();
    }
    line.append(chance.maybe(20, " name tls")).append(" ssl");
    String name = chance.one(MadeFiles.NAMES);
    switch (chance.below(5)) {
      case 0 -> {
        Path folder = Files.createDirectories(home.resolve("certs" + number));
        for (String one : chance.mixed(MadeFiles.NAMES).subList(0, 1 + chance.below(3))) {
          Files.copy(files.of(one, chance.in(50)).both(), folder.resolve(one + ".pem"));
        }
        line.append(" crt ").append(folder).append(chance.maybe(50, "/"));
      }
      case 1 -> {
        StringBuilder list = new StringBuilder("# certificates\n");
        for (String one : chance.mixed(MadeFiles.NAMES).subList(0, 1 + chance.below(3))) {
          list.append(files.of(one, chance.in(50)).both())
              .append(chance.maybe(40, " " + one))
              .append('\n');
        }
        line.append(" crt-list ").append(file(home, "list" + number, list.toString()));
      }
      case 2 -> {
        boolean ec = chance.in(50);
        line.append(" crt ")
            .append(files.of(name, ec).both())
            .append(" crt ")
            .append(files.of(name, !ec).both());
      }
      default -> {
        Shown shown = files.of(name, chance.in(50));
        line.append(" crt ")
            .append(
                base && chance.in(50)
                    ? shown.both().getFileName()
                    : chance.one("", "\"").isEmpty() ? shown.both() : "\"" + shown.both() + "\"");
      }
    }
    String trust = files.trust(chance.one("own", "own", "reef", "all")).toString();
    line.append(
        chance.one(
            "",
            "",
            " ca-file " + trust + " verify required",
            " verify required ca-file \"" + trust + "\"",
            " ca-file " + trust + " verify optional",
            " ca-file " + trust + " verify none",
            " ca-file " + trust));
    line.append(
        chance.maybe(
            30,
            chance.one(
                " ssl-min-ver TLSv1.3",
                " ssl-min-ver TLSv1.2",
                " no-tlsv13",
                " force-tlsv12",
                " ssl-max-ver TLSv1.2")));
    line.append(chance.maybe(20, " alpn h2,http/1.1"));
    line.append(chance.maybe(15, " strict-sni"));
    return line.append('\n').toString();
  }

  @Override
  boolean namesInCertificates() {
    return true;
  }

  @Override
  List<String> start(Path home) {
    return List.of(program(), "-db", "-f", home + "/haproxy.cfg");
  }
}
