// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.CATALOGUE;
import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.fasterxml.jackson.databind.JsonNode;
import io.symbolon.chain.Credential;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.fixture.PlatformStore;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CompareCommandTest {
  private static final Map<String, String> PW = Map.of("PW", "lantern-7");

  @TempDir Path temp;

  private Path store(String file, String type, Credential... credentials) {
    return Lanternfish.file(
        temp, file, PlatformStore.of(type, "lantern-7", "lantern-7", root(), credentials));
  }

  private static Run compare(Path one, Path other, Object... more) {
    Object[] line = new Object[5 + more.length];
    System.arraycopy(new Object[] {"compare", one, other, "--unlock", "env=PW"}, 0, line, 0, 5);
    System.arraycopy(more, 0, line, 5, more.length);
    return Run.with(PW, List.of(), line);
  }

  /**
   * The relation of each thing with what differs, such as {@code certificate renewed key names}.
   */
  private static List<String> told(JsonNode document) {
    return StreamSupport.stream(document.get("things").spliterator(), false)
        .map(
            thing ->
                String.join(
                    " ",
                    thing.get("kind").asText(),
                    thing.get("relation").asText(),
                    String.join(" ", thing.get("differences").findValuesAsText("field"))))
        .map(String::strip)
        .sorted()
        .toList();
  }

  @Test
  void theSameContentIsTheSameInWhateverFormat() {
    Path jks = store("old.jks", "JKS", INGEST);
    Path p12 = store("new.p12", "PKCS12", INGEST);
    Run same = compare(jks, p12);
    assertEquals(0, same.code(), same.err());
    assertTrue(same.out().contains("They hold the same."), same.out());
    assertTrue(compare(jks, p12, "--json").json().get("same").asBoolean());
    // A PEM file has no aliases to differ in.
    Path pem =
        Lanternfish.file(
            temp,
            "all.pem",
            new String(Lanternfish.keyPem(INGEST), java.nio.charset.StandardCharsets.US_ASCII)
                + new String(
                    Lanternfish.pem(INGEST.certificate(), issuing(), root()),
                    java.nio.charset.StandardCharsets.US_ASCII));
    JsonNode flat = compare(p12, pem, "--json").json();
    assertTrue(flat.get("same").asBoolean(), flat.toString());
  }

  @Test
  void whatWasRenewedIsToldWithAllThatDiffers() {
    Credential before =
        ISSUING.issue(
            name(HOST),
            KeyKind.EC_P256,
            List.of(HostName.parse(HOST), HostName.parse("10.7.0.4")),
            Use.SERVER,
            NOW,
            YEAR);
    Credential after =
        ISSUING.issue(
            name(HOST),
            KeyKind.EC_P384,
            List.of(HostName.parse(HOST), HostName.parse("ingest-2.lanternfish.example")),
            Use.BOTH,
            NOW.plus(Duration.ofHours(2)),
            YEAR);
    Path one = store("one.p12", "PKCS12", before, CATALOGUE);
    Path other = store("other.p12", "PKCS12", after);
    Run run = compare(one, other, "--json");
    assertEquals(0, run.code(), run.err());
    assertEquals(
        List.of(
            "certificate only-one",
            "certificate renewed validity key names use",
            "certificate same",
            "certificate same",
            "private-key different",
            "private-key only-one"),
        told(run.json()));
    assertEquals(List.of("renewed-without-hosts"), run.findingIds());
    Run text = compare(one, other);
    assertTrue(text.out().contains("- IP 10.7.0.4"), text.out());
    assertTrue(text.out().contains("+ DNS ingest-2.lanternfish.example"), text.out());
    assertTrue(text.out().contains("They differ: 1 renewed, 1 different, 2 only in"), text.out());
    // The other way round nothing was renewed.
    assertTrue(
        told(compare(other, one, "--json").json())
            .contains("certificate older validity key names use"));
  }

  @Test
  void anotherAliasIsADifferenceAndWhatIsLockedIsNeverTheSame() {
    Path one = store("one.p12", "PKCS12", INGEST);
    Path other = temp.resolve("other.p12");
    assertEquals(
        0,
        Run.with(
                PW,
                List.of(),
                "convert",
                one,
                "--unlock",
                "env=PW",
                "--rename",
                "ingest=tomcat",
                "--into",
                other,
                "--seal",
                "env=PW")
            .code());
    Run renamed = compare(one, other, "--json");
    assertFalse(renamed.json().get("same").asBoolean());
    assertTrue(told(renamed.json()).contains("private-key same alias"), renamed.out());
    Run locked = Run.of("compare", one, one);
    assertEquals(3, locked.code());
    assertFalse(locked.out().contains("the same"), locked.out());
    Run nothing = Run.of("compare", one, temp.resolve("none.p12"));
    assertEquals(3, nothing.code());
    assertEquals(2, Run.of("compare", one).code());
  }
}
