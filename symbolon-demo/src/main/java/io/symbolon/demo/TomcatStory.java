// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Into a server: the keystore put into Tomcat's settings, renewed, and taken back. */
final class TomcatStory {
  private static final String HOST = "catalogue.lanternfish.example";

  private final Teller teller;
  private final Path base;
  private final int port;

  private TomcatStory(Teller teller, int port) {
    this.teller = teller;
    this.base = teller.at("tomcat");
    this.port = port;
  }

  static void tell(Teller teller) throws IOException {
    int plain = DemoTomcat.freePort();
    DemoTomcat.install(teller.at("tomcat"), plain);
    new TomcatStory(teller, DemoTomcat.freePort()).tell(plain);
  }

  private void tell(int plain) throws IOException {
    teller.heading("Into a server: Tomcat's settings");
    teller.say("A Tomcat in " + base + " answers in clear text on port " + plain + ".");
    DemoTomcat.during(
        base,
        () -> {
          teller.symbolon(0, "configure", "tomcat", "--home", base.resolve("conf"));
          teller.say("");
          teller.say(
              "Its keystore, and whose clients it trusts, go into server.xml. It is rehearsed");
          teller.say("with a buoy first; then all files are written in one step:");
          configure("catalogue", "--port", port, "--write");
        });
    teller.say("");
    teller.say("It is restarted. A buoy gets in; a lost one, and whoever shows nothing, do not:");
    DemoTomcat.during(
        base,
        () -> {
          probe(0, "buoy-017");
          probe(1, "buoy-018");
          probe(1, "");
        });

    teller.heading("Renewed, and taken back");
    teller.symbolon(
        0,
        "authority",
        "issue",
        "--by",
        teller.at("issuing"),
        "--unlock",
        "file=" + teller.at("issuing.pass"),
        "--host",
        HOST,
        "--for",
        "server",
        "--into",
        teller.at("renewed.p12"),
        "--seal",
        "new=" + teller.at("renewed.pass"));
    configure("renewed", "--write");
    DemoTomcat.during(
        base,
        () -> {
          probe(0, "buoy-017", "--expect", teller.at("renewed.p12"), "--unlock", pass("renewed"));
        });
    teller.symbolon(0, "undo", base.resolve("conf/tls"));
    DemoTomcat.during(
        base,
        () -> {
          probe(
              0, "buoy-017", "--expect", teller.at("catalogue.p12"), "--unlock", pass("catalogue"));
        });
  }

  private String pass(String name) {
    return "file=" + teller.at(name + ".pass");
  }

  private void configure(String credential, Object... more) {
    List<Object> line = new ArrayList<>(List.of("configure", "tomcat"));
    line.addAll(List.of("--home", base.resolve("conf")));
    line.addAll(List.of("--credential", teller.at(credential + ".p12")));
    line.addAll(List.of("--unlock", pass(credential), "--host", HOST));
    line.add("--client-trust");
    for (String authority : List.of("root", "issuing")) {
      line.add(teller.at(authority).resolve("authority.pem"));
      line.add(teller.at(authority).resolve("revocations.pem"));
    }
    line.addAll(List.of("--client", teller.at("buoys").resolve("buoy-017.p12")));
    line.addAll(List.of("--unlock", buoy("buoy-017")));
    line.addAll(List.of(more));
    teller.symbolon(0, line.toArray());
  }

  private String buoy(String name) {
    return "file=" + teller.at("buoy-passwords").resolve(name + ".pass");
  }

  private void probe(int expected, String client, Object... more) {
    List<Object> line = new ArrayList<>(List.of("probe", "127.0.0.1:" + port, "--host", HOST));
    line.addAll(List.of("--trust", teller.at("root").resolve("authority.pem")));
    line.add("--one-handshake");
    if (!client.isEmpty()) {
      line.addAll(List.of("--credential", teller.at("buoys").resolve(client + ".p12")));
      line.addAll(List.of("--unlock", buoy(client)));
    }
    line.addAll(List.of(more));
    teller.symbolon(expected, line.toArray());
  }
}
