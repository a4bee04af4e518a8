// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.file;

import io.symbolon.cli.MadeFiles.Shown;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Apache httpd: virtual hosts, what they inherit, conditions, variables and includes. */
final class MadeHttpd extends MadeServer {
  MadeHttpd() {
    super("httpd", "/usr/sbin/apache2", ServerTalk.HTTP);
  }

  @Override
  void make(Path home, Chance chance, MadeFiles files, List<Integer> ports) throws IOException {
    Files.createDirectories(home.resolve("sites-enabled"));
    Files.createDirectories(home.resolve("run"));
    Files.createDirectories(home.resolve("page"));
    file(home, "page/index.html", "17 buoys\n");
    StringBuilder text =
        new StringBuilder(
            """
            LoadModule mpm_event_module /usr/lib/apache2/modules/mod_mpm_event.so
            LoadModule authz_core_module /usr/lib/apache2/modules/mod_authz_core.so
            LoadModule dir_module /usr/lib/apache2/modules/mod_dir.so
            LoadModule setenvif_module /usr/lib/apache2/modules/mod_setenvif.so
            LoadModule socache_shmcb_module /usr/lib/apache2/modules/mod_socache_shmcb.so
            LoadModule ssl_module /usr/lib/apache2/modules/mod_ssl.so
            ServerName localhost
            ServerRoot {home}
            DocumentRoot {home}/page
            DefaultRuntimeDir {home}/run
            PidFile {home}/run/httpd.pid
            ErrorLog {home}/run/httpd.log
            Mutex file:{home}/run
            User www-data
            Group www-data
            """
                .replace("{home}", home.toString()));
    for (int port : ports.subList(0, 3)) {
      String address = chance.one("127.0.0.1:" + port, String.valueOf(port), "0.0.0.0:" + port);
      text.append(
          chance.in(15)
              ? "<IfModule ssl_module>\n  Listen " + address + "\n</IfModule>\n"
              : chance.one("Listen ", "listen ", "LISTEN  ") + address + "\n");
    }
    text.append(chance.maybe(30, "Define folder " + home.resolveSibling("files") + "\n"));
    boolean variable = text.indexOf("Define folder") > 0;
    text.append(chance.maybe(30, "SSLProtocol " + versions(chance) + "\n"));
    if (chance.in(15)) {
      text.append(asks(chance, files));
    }
    List<String> names = chance.mixed(MadeFiles.NAMES);
    int count = 1 + chance.below(4);
    StringBuilder inside = new StringBuilder();
    for (int i = 0; i < count; i++) {
      String host =
          host(home, chance, files, ports, i < names.size() ? names.get(i) : "", variable);
      if (chance.in(50)) {
        file(home, "sites-enabled/" + i + "-site.conf", host);
      } else {
        inside.append(host);
      }
    }
    String include =
        chance.one(
            "IncludeOptional sites-enabled/*.conf\n",
            "Include \"" + home + "/sites-enabled/\"\n",
            "IncludeOptional " + home + "/sites-enabled/[0-9]*.conf\n");
    file(home, "apache2.conf", text + (chance.in(50) ? include + inside : inside + include));
  }

  private static String versions(Chance chance) {
    return chance.one(
        "all -SSLv3",
        "TLSv1.2 TLSv1.3",
        "-all +TLSv1.3",
        "-all +TLSv1.2",
        "all -SSLv3 -TLSv1 -TLSv1.1",
        "+TLSv1.2 +TLSv1.3",
        "TLSv1.3",
        "all -TLSv1.3",
        "\"all\" \"-TLSv1.3\"");
  }

  private static String host(
      Path home,
      Chance chance,
      MadeFiles files,
      List<Integer> ports,
      String name,
      boolean variable) {
    boolean tls = chance.in(85);
    int port = ports.get(tls ? chance.below(2) : 2);
    String address =
        chance.one("*:" + port, "*:" + port, "*:" + port, "127.0.0.1:" + port, "_default_:" + port);
    String tag = chance.one("VirtualHost", "VirtualHost", "virtualhost");
    StringBuilder text =
        new StringBuilder(chance.maybe(20, "# a site\n") + "<" + tag + " " + address + ">\n");
    if (!name.isEmpty()) {
      text.append(
              chance.one(
                  "  ServerName " + name,
                  "  servername \"" + name + "\"",
                  "  ServerName " + name.toUpperCase(Locale.ROOT),
                  "  ServerName https://" + name + ":" + port,
                  "  ServerName kelp." + name + "\n  ServerAlias *." + name + " " + name))
          .append('\n');
    }
    if (tls) {
      List<String> parts = new ArrayList<>();
      parts.add("  " + chance.one("SSLEngine on", "SSLEngine On", "sslengine on") + "\n");
      parts.add(
          shows(
              home, chance, files, name.isEmpty() ? chance.one(MadeFiles.NAMES) : name, variable));
      if (chance.in(45)) {
        parts.add(asks(chance, files));
      }
      parts.add(chance.maybe(35, "  SSLProtocol " + versions(chance) + "\n"));
      String all = String.join("", chance.mixed(parts));
      if (chance.in(20)) {
        String snippet = "snippet-" + chance.below(100_000) + ".conf";
        file(home, snippet, all);
        text.append("  Include ").append(snippet).append('\n');
      } else if (chance.in(15)) {
        text.append("  <IfModule mod_ssl.c>\n").append(all).append("  </IfModule>\n");
      } else if (chance.in(10)) {
        text.append("  <IfDefine !KELP>\n").append(all).append("  </IfDefine>\n");
      } else {
        text.append(all);
      }
    } else {
      text.append(chance.maybe(20, "  SSLEngine off\n"));
    }
    return text.append("  <Location />\n    Require all granted\n  </Location>\n</")
        .append(tag)
        .append(">\n")
        .toString();
  }

  private static String shows(
      Path home, Chance chance, MadeFiles files, String name, boolean variable) {
    List<Boolean> kinds =
        chance.one(List.of(false), List.of(true), List.of(false, true), List.of(true, false));
    StringBuilder text = new StringBuilder();
    for (boolean ec : kinds) {
      Shown shown = files.of(name, ec);
      boolean one = chance.in(20);
      Path chain = one ? shown.both() : shown.chain();
      String folder = String.valueOf(chain.getParent());
      String written =
          variable && chance.in(60)
              ? "${folder}/" + chain.getFileName()
              : chance.in(10)
                  ? home.relativize(chain).toString()
                  : folder + "/" + chain.getFileName();
      String mark = chance.one("", "", "\"");
      text.append(
              chance.one(
                  "  SSLCertificateFile ",
                  "  SSLCertificateFile \\\n    ",
                  "\tsslcertificatefile\t"))
          .append(mark)
          .append(written)
          .append(mark)
          .append('\n');
      if (!one || chance.in(50)) {
        text.append("  SSLCertificateKeyFile ").append(one ? chain : shown.key()).append('\n');
      }
    }
    return text.toString();
  }

  private static String asks(Chance chance, MadeFiles files) {
    String trust = files.trust(chance.one("own", "own", "reef", "all")).toString();
    return chance.one(
        "  SSLCACertificateFile " + trust + "\n  SSLVerifyClient require\n  SSLVerifyDepth 3\n",
        "  SSLCACertificateFile \""
            + trust
            + "\"\n  SSLVerifyClient Require\n  SSLVerifyDepth  2\n",
        "  SSLCACertificateFile " + trust + "\n  SSLVerifyClient optional\n  SSLVerifyDepth 2\n",
        "  SSLCACertificateFile " + trust + "\n",
        "  SSLCACertificateFile " + trust + "\n  SSLVerifyClient none\n",
        "  SSLCACertificateFile " + trust + "\n  SSLVerifyClient optional_no_ca\n",
        "  SSLCACertificateFile " + trust + "\n  SSLVerifyClient require\n");
  }

  @Override
  List<String> start(Path home) {
    return List.of(program(), "-X", "-d", home.toString(), "-f", home + "/apache2.conf");
  }
}
