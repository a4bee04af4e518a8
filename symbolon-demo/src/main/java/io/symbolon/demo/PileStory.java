// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;

/** From a pile of files that were sent to a server that answers. */
final class PileStory {
  private PileStory() {}

  static void tell(Teller teller, Clock clock) throws IOException {
    Path pile = teller.at("pile");
    Files.createDirectory(pile);
    DemoPile.write(pile, clock.instant());

    teller.heading("The files that were sent for " + DemoPile.HOST);
    teller.say(
        "A key, a reply and a bundle, with names that mislead. What are they, and do they fit?");
    teller.symbolon(0, "survey", pile.toString(), "--host", DemoPile.HOST);

    teller.heading("A keystore for the server");
    Path keystore = teller.at("ingest.p12");
    Path keyPassword = teller.at("ingest.pass");
    teller.symbolon(
        0, "join", pile.toString(), "--into", keystore.toString(), "--seal", "new=" + keyPassword);

    teller.heading("A truststore for its clients");
    Path truststore = teller.at("truststore.p12");
    Path trustPassword = teller.at("truststore.pass");
    teller.symbolon(
        0,
        "truststore",
        pile.resolve("bundle.crt").toString(),
        "--into",
        truststore.toString(),
        "--seal",
        "new=" + trustPassword);

    teller.heading("The same for others");
    teller.say(
        "A web server wants the chain in PEM, without the key; an old agent a JKS with two passwords.");
    teller.symbolon(
        0,
        "convert",
        keystore.toString(),
        "--unlock",
        "file=" + keyPassword,
        "--part",
        "full-chain",
        "--into",
        teller.at("chain.pem").toString());
    teller.symbolon(
        0,
        "convert",
        keystore.toString(),
        "--unlock",
        "file=" + keyPassword,
        "--into",
        teller.at("agent.jks").toString(),
        "--seal",
        "new=" + teller.at("agent.pass"),
        "--seal-key",
        "new=" + teller.at("agent-key.pass"));

    teller.heading("Will both sides accept each other?");
    teller.symbolon(
        0,
        "rehearse",
        "--server",
        keystore.toString(),
        "--client-trust",
        truststore.toString(),
        "--host",
        DemoPile.HOST,
        "--unlock",
        "file=" + keyPassword,
        "--unlock",
        "file=" + trustPassword);

    teller.heading("A server with that keystore");
    try (DemoServer server =
        DemoServer.start(teller.folder(), keystore, keyPassword, DemoPile.HOST)) {
      teller.say("An embedded Tomcat serves " + keystore + " on 127.0.0.1:" + server.port() + ".");
      teller.symbolon(
          0,
          "probe",
          "127.0.0.1:" + server.port(),
          "--host",
          DemoPile.HOST,
          "--trust",
          truststore.toString(),
          "--unlock",
          "file=" + trustPassword);

      teller.heading("A plain Java client");
      String url = "https://" + DemoPile.HOST + ":" + server.port() + "/";
      ClientProcess client = new ClientProcess(teller.folder(), url);
      teller.say("With the truststore it gets the page " + url + ":");
      teller.client(client.withTruststore(truststore, trustPassword), 0);
      teller.say("Without the truststore the same client refuses the server, as it should:");
      teller.client(client.withoutTruststore(), 1);
    }
  }
}
