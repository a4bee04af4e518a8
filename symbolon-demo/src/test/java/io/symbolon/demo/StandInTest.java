// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.cli.Run;
import io.symbolon.demo.standin.RunningStandIn;
import io.symbolon.demo.standin.StandIn;
import io.symbolon.fixture.FreePort;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Invented programs that read their files with the JDK alone, configured by their descriptions. */
class StandInTest {
  private static final Credential BUOY =
      ISSUING.issue(
          Lanternfish.name("buoy-017"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR);

  @TempDir Path temp;

  @BeforeEach
  void material() {
    file(temp, "ingest.pem", pem(INGEST.certificate(), issuing()));
    file(temp, "ingest.key", keyPem(INGEST));
    file(temp, "trust.pem", pem(root(), issuing()));
    file(temp, "buoy.pem", pem(BUOY.certificate(), issuing()));
    file(temp, "buoy.key", keyPem(BUOY));
  }

  private Run configure(StandIn kind, Path home, Object... more) {
    List<Object> line = new ArrayList<>();
    line.addAll(List.of("configure", "--description", description(kind), "--home", home));
    line.addAll(List.of(more));
    return Run.of(line.toArray());
  }

  private static Path description(StandIn kind) {
    return Path.of("../docs/descriptions", kind.word() + ".yaml");
  }

  private Object[] write(String mode) {
    List<Object> line = new ArrayList<>(List.of("--credential", temp.resolve("ingest.key")));
    line.addAll(List.of(temp.resolve("ingest.pem"), temp.resolve("trust.pem"), "--host", HOST));
    line.addAll(List.of("--mode", mode));
    if (!mode.equals("one-way")) {
      line.addAll(List.of("--client-trust", temp.resolve("trust.pem")));
      line.addAll(List.of("--client", temp.resolve("buoy.key"), temp.resolve("buoy.pem")));
    }
    line.add("--write");
    return line.toArray();
  }

  @ParameterizedTest
  @EnumSource
  void whatADescriptionSaysIsWhatTheProgramTakes(StandIn kind) throws IOException {
    Path home = temp.resolve(kind.word());
    int port = FreePort.take();
    kind.install(home, port);
    String before = Files.readString(home.resolve(kind.file()));
    Run tried = configure(kind, home, "--try");
    assertEquals(0, tried.code(), tried.out() + tried.err());
    assertEquals(before, Files.readString(home.resolve(kind.file())), "a trial writes nothing");
    RunningStandIn running = RunningStandIn.start(kind, home);
    try {
      for (String mode : List.of("one-way", "optional", "mutual")) {
        List<Object> line = new ArrayList<>(List.of(write(mode)));
        if (mode.equals("mutual")) {
          line.add("--reload");
        }
        Run written = configure(kind, home, line.toArray());
        assertEquals(0, written.code(), written.out() + written.err());
        assertTrue(
            written.out().contains(mode.equals("mutual") ? "does what is wanted" : "  written"),
            written.out());
      }
      Run again = configure(kind, home, write("mutual"));
      assertTrue(again.out().contains("nothing was written"), again.out() + again.err());
      Run read = configure(kind, home, "--json");
      assertTrue(read.out().contains("\"mode\" : \"mutual\""), read.out() + read.err());
      assertTrue(read.out().contains(HOST), read.out());
    } finally {
      running.close();
    }
  }
}
