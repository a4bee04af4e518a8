// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import io.symbolon.demo.standin.RunningStandIn;
import io.symbolon.demo.standin.StandIn;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/** Into a server that nobody has programmed: a page that describes it. */
final class DescribedStory {
  private static final String HOST = "catalogue.lanternfish.example";
  private static final StandIn KIND = StandIn.CURRENTFLOW;

  private final Teller teller;
  private final Path home;
  private final Path description;
  private final int port;

  private DescribedStory(Teller teller, int port) {
    this.teller = teller;
    this.home = teller.at(KIND.word());
    this.description = teller.at("descriptions").resolve(KIND.word() + ".yaml");
    this.port = port;
  }

  static void tell(Teller teller) throws IOException {
    new DescribedStory(teller, DemoTomcat.freePort()).tell();
  }

  private void tell() throws IOException {
    teller.heading("Into a server that nobody has programmed: a page that describes it");
    KIND.install(home, port);
    describe();
    teller.say(
        "Currentflow is an engine of the observatory. Its ini file wants a keystore with two");
    teller.say("passwords, both put through its own scrambling program, and the alias. The page");
    teller.say(description + " says so. First it is tried, in a copy:");
    teller.symbolon(
        0, "configure", "--description", description, "--home", home, "--try", "--mode", "mutual");
    teller.say("");
    teller.say("Now for good: written, checked by the engine itself, restarted, and asked:");
    RunningStandIn running = RunningStandIn.start(KIND, home);
    try {
      configure();
      teller.say("");
      teller.say("Whoever shows nothing does not get in:");
      probe();
    } finally {
      running.close();
    }
  }

  private void describe() throws IOException {
    Files.createDirectory(teller.at("descriptions"));
    try (InputStream in =
        Objects.requireNonNull(
            DescribedStory.class.getResourceAsStream("/demo/descriptions/" + KIND.word() + ".yaml"),
            "the description")) {
      SafeFile.write(description, in.readAllBytes(), Privacy.SYSTEM_DEFAULT, Existing.KEEP);
    }
  }

  private void configure() {
    List<Object> line = new ArrayList<>();
    line.addAll(List.of("configure", "--description", description, "--home", home));
    line.addAll(List.of("--credential", teller.at("renewed.p12")));
    line.addAll(List.of("--unlock", "file=" + teller.at("renewed.pass"), "--host", HOST));
    line.add("--client-trust");
    for (String authority : List.of("root", "issuing")) {
      line.add(teller.at(authority).resolve("authority.pem"));
    }
    line.addAll(List.of("--client", teller.at("buoys").resolve("buoy-017.p12")));
    line.addAll(List.of("--unlock", buoy("buoy-017"), "--write", "--reload"));
    teller.symbolon(0, line.toArray());
  }

  private String buoy(String name) {
    return "file=" + teller.at("buoy-passwords").resolve(name + ".pass");
  }

  private void probe() {
    teller.symbolon(
        1,
        "probe",
        "127.0.0.1:" + port,
        "--host",
        HOST,
        "--trust",
        teller.at("root").resolve("authority.pem"),
        "--one-handshake");
  }
}
