// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** lighttpd: TLS for all, or for one socket. */
final class MadeLighttpd extends MadeServer {
  MadeLighttpd() {
    super("lighttpd", "/usr/sbin/lighttpd", ServerTalk.HTTP);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    file(home, "page.html", "17 buoys\n");
    Shown shown = files.of(chance.one(MadeFiles.NAMES), chance.in(50));
    boolean whole = chance.in(30); // the main port speaks TLS
    StringBuilder text =
        new StringBuilder(
            "server.modules = ( \"mod_access\""
                + chance.one(
                    ", \"mod_openssl\" )\n", " )\nserver.modules += ( \"mod_openssl\" )\n"));
    text.append("server.document-root = \"" + home + "\"\nindex-file.names = ( \"page.html\" )\n");
    text.append("server.port = ")
        .append(ports.get(whole ? 0 : 1))
        .append("\nserver.bind = \"")
        .append(chance.one("127.0.0.1", "0.0.0.0"))
        .append("\"\n");
    List<String> lines = new ArrayList<>();
    boolean one = chance.in(30);
    lines.add("ssl.pemfile = \"" + (one ? shown.both() : shown.chain()) + "\"");
    lines.add(one ? "" : "ssl.privkey = \"" + shown.key() + "\"");
    String trust = files.trust(chance.one("own", "own", "reef", "all")).toString();
    String asks =
        "ssl.verifyclient.activate = \"enable\"\nssl.ca-file = \""
            + trust
            + "\"\nssl.verifyclient.depth = 3\n";
    lines.add(
        chance.one(
            "",
            "",
            asks + "ssl.verifyclient.enforce = \"enable\"",
            asks + "ssl.verifyclient.enforce = \"disable\"",
            asks));
    lines.add(
        chance.one(
            "",
            "",
            "ssl.openssl.ssl-conf-cmd = ( \"MinProtocol\" => \"TLSv1.3\" )",
            "ssl.openssl.ssl-conf-cmd = (\"MinProtocol\" => \"TLSv1.2\",\n  \"MaxProtocol\" => \"TLSv1.2\")"));
    String all = String.join("\n", chance.mixed(lines)).replaceAll("\n\n+", "\n").strip() + "\n";
    text.append(
        whole
            ? "ssl.engine = \"enable\"\n" + all
            : "$SERVER[\"socket\"] == \""
                + chance.one("127.0.0.1", "0.0.0.0", "")
                + ":"
                + ports.get(0)
                + "\" {\n  ssl.engine = \"enable\"\n"
                + all
                + "}\n");
    file(home, "lighttpd.conf", text.toString());
  }

  @Override
  List<String> start(Path home) {
    return List.of(program(), "-D", "-f", home + "/lighttpd.conf");
  }
}
