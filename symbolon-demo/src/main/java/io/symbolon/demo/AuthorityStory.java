// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/** From nothing to an accepted certificate: authorities, a request with rules, the reply. */
final class AuthorityStory {
  private static final String HOST = "catalogue.lanternfish.example";
  private static final String BUOYS =
      """
      # name    user id
      buoy-017  L00017
      buoy-018  L00018
      buoy-019  L00019
      """;

  private AuthorityStory() {}

  static void tell(Teller teller) throws IOException {
    rules(teller.at("rules"));
    teller.heading("An authority of the observatory's own");
    Path root = teller.at("root");
    Path issuing = teller.at("issuing");
    String rootKey = "file=" + teller.at("root.pass");
    String issuingKey = "file=" + teller.at("issuing.pass");
    teller.symbolon(
        0,
        "authority",
        "found",
        root,
        "--subject",
        "CN=Lanternfish Root,O=Lanternfish Observatory",
        "--seal",
        "new=" + teller.at("root.pass"));
    teller.symbolon(
        0,
        "authority",
        "found",
        issuing,
        "--under",
        root,
        "--unlock",
        rootKey,
        "--subject",
        "CN=Lanternfish Issuing A,O=Lanternfish Observatory",
        "--seal",
        "new=" + teller.at("issuing.pass"));

    teller.heading("A request for " + HOST);
    teller.say("What its receiver would reject days later is told at once, all of it:");
    Path request = teller.at("catalogue.csr");
    Path keystore = teller.at("catalogue.p12");
    String keystoreKey = "file=" + teller.at("catalogue.pass");
    teller.symbolon(
        4,
        "request",
        "--subject",
        "CN=www." + HOST + ",O=Lanternfish,L=Pt. Nilsen,C=UK",
        "--rules",
        teller.at("rules").resolve("tidewater-servers.yaml"),
        "--into",
        request,
        "--key-into",
        keystore,
        "--seal",
        "new=" + teller.at("catalogue.pass"));
    teller.symbolon(
        0,
        "request",
        "--subject",
        "CN=" + HOST + ",O=Lanternfish Observatory,L=Port Nilsen,C=IS",
        "--rules",
        teller.at("rules").resolve("tidewater-servers.yaml"),
        "--into",
        request,
        "--key-into",
        keystore,
        "--seal",
        "new=" + teller.at("catalogue.pass"));

    teller.heading("Its reply");
    Path reply = teller.at("reply.p7b");
    teller.symbolon(
        0,
        "authority",
        "sign",
        request,
        "--by",
        issuing,
        "--unlock",
        issuingKey,
        "--into",
        reply,
        "--yes");
    teller.say("");
    teller.say("The key waits in a keystore; the reply finds it there by itself:");
    teller.symbolon(0, "join", reply, keystore, "--unlock", keystoreKey, "--replace");
    teller.symbolon(0, "survey", request, keystore, reply, "--unlock", keystoreKey);

    teller.heading("It serves");
    Path truststore = teller.at("catalogue-trust.p12");
    String truststoreKey = "file=" + teller.at("catalogue-trust.pass");
    teller.symbolon(
        0,
        "truststore",
        reply,
        "--into",
        truststore,
        "--seal",
        "new=" + teller.at("catalogue-trust.pass"));
    try (DemoServer server =
        DemoServer.start(teller.folder(), keystore, teller.at("catalogue.pass"), "catalogue")) {
      teller.symbolon(
          0,
          "probe",
          "127.0.0.1:" + server.port(),
          "--host",
          HOST,
          "--trust",
          truststore,
          "--unlock",
          truststoreKey);
    }

    teller.heading("Clients from a list, and one that is lost");
    SafeFile.write(
        teller.at("buoys.txt"),
        BUOYS.getBytes(StandardCharsets.UTF_8),
        Privacy.SYSTEM_DEFAULT,
        Existing.KEEP);
    teller.symbolon(
        0,
        "authority",
        "issue",
        "--by",
        issuing,
        "--unlock",
        issuingKey,
        "--list",
        teller.at("buoys.txt"),
        "--subject",
        "O=Lanternfish Observatory",
        "--into",
        teller.at("buoys") + "/",
        "--seal",
        "new=" + teller.at("buoy-passwords") + "/");
    teller.say("Mutual TLS between one of them and the catalogue, before anything is configured:");
    teller.symbolon(
        0,
        "rehearse",
        "--server",
        keystore.toString(),
        "--server-trust",
        truststore,
        "--client",
        teller.at("buoys").resolve("buoy-017.p12"),
        "--client-trust",
        truststore,
        "--host",
        HOST,
        "--unlock",
        "file=" + teller.at("catalogue.pass"),
        "--unlock",
        truststoreKey,
        "--unlock",
        "file=" + teller.at("buoy-passwords").resolve("buoy-017.pass"));
    teller.symbolon(
        0,
        "authority",
        "revoke",
        "buoy-018",
        "--by",
        issuing,
        "--unlock",
        issuingKey,
        "--reason",
        "key-compromise");
    teller.symbolon(0, "authority", "list", issuing);
  }

  private static void rules(Path folder) throws IOException {
    Files.createDirectory(folder);
    for (String name :
        List.of("tidewater-servers.yaml", "observatory-internal.yaml", "buoys.yaml")) {
      try (InputStream in = AuthorityStory.class.getResourceAsStream("/demo/rules/" + name)) {
        if (in == null) {
          throw new IOException("the demo's own file " + name + " is missing");
        }
        SafeFile.write(
            folder.resolve(name), in.readAllBytes(), Privacy.SYSTEM_DEFAULT, Existing.KEEP);
      }
    }
  }
}
