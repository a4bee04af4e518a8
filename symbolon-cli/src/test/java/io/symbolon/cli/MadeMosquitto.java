// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Mosquitto: listeners in one file or in an included folder. */
final class MadeMosquitto extends MadeServer {
  MadeMosquitto() {
    super("mosquitto", "/usr/sbin/mosquitto", ServerTalk.MQTT);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    Files.createDirectories(home.resolve("conf.d"));
    boolean several = chance.in(30);
    StringBuilder text =
        new StringBuilder(several ? "per_listener_settings false\n" : "")
            .append("user root\nallow_anonymous true\n")
            .append(chance.maybe(30, "# readings of buoys\n"));
    StringBuilder more = new StringBuilder();
    int count = 1 + chance.below(2);
    for (int i = 0; i < count; i++) {
      more.append("listener ")
          .append(ports.get(i))
          .append(chance.one("", " 127.0.0.1", " 0.0.0.0"))
          .append('\n');
      if (chance.in(85)) {
        more.append(tls(chance, files));
      }
    }
    if (chance.in(40)) {
      file(home, "conf.d/tls.conf", more.toString());
      text.append("include_dir ").append(home).append("/conf.d\n");
    } else {
      text.append(more);
    }
    file(home, "mosquitto.conf", text.toString());
  }

  private String tls(Chance chance, MadeFiles files) {
    Shown shown = files.of(chance.one(MadeFiles.NAMES), chance.in(50));
    boolean one = chance.in(20);
    List<String> lines = new ArrayList<>();
    lines.add("certfile " + (one ? shown.both() : shown.chain()));
    lines.add(chance.one("keyfile ", "keyfile  ") + (one ? shown.both() : shown.key()));
    lines.add(chance.one("", "", "tls_version tlsv1.2", "tls_version tlsv1.3"));
    String trust = files.trust(chance.one("own", "own", "reef", "all")).toString();
    lines.add(
        chance.one(
            "",
            "cafile " + trust,
            "cafile " + trust + "\nrequire_certificate true",
            "cafile " + trust + "\nrequire_certificate true",
            "cafile " + trust + "\nrequire_certificate false",
            "require_certificate true\ncafile " + trust + "\nuse_identity_as_username true"));
    return String.join("\n", chance.mixed(lines)).replaceAll("\n\n+", "\n").strip() + "\n";
  }

  @Override
  List<String> start(Path home) {
    return List.of(program(), "-c", home + "/mosquitto.conf");
  }
}
