// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import static io.symbolon.fixture.Lanternfish.HOST;
import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.party.Party;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.HostName;
import java.util.List;
import org.junit.jupiter.api.Test;

class RehearsalTest {
  private static final Party SERVER =
      Party.of(
          "ingest",
          "ingest.p12",
          Credential.of(INGEST.key(), List.of(INGEST.certificate(), issuing())));
  private static final Party CLIENT = Party.nobody("buoy").withTrust(List.of(root()));

  private static final Rehearsal REHEARSAL = Rehearsal.create().withHost(HostName.parse(HOST));

  private static List<String> ids(RehearsalReport report) {
    return report.findings().stream()
        .map(f -> f.id())
        .filter(id -> !id.equals("not-known-to-systems")) // true of every authority of ours
        .toList();
  }

  @Test
  void aGoodPairAcceptsEachOtherInEveryVersion() {
    RehearsalReport report = REHEARSAL.run(SERVER, CLIENT);
    assertTrue(report.isAccepted(), report.toString());
    assertEquals(List.of(), ids(report));
  }

  @Test
  void aMissingIntermediateIsTold() {
    Party bare = Party.of("x", "x.p12", Credential.of(INGEST.key(), List.of(INGEST.certificate())));
    RehearsalReport report = REHEARSAL.run(bare, CLIENT);
    assertEquals(List.of("issuer-not-sent"), ids(report), report.toString());
  }

  @Test
  void validityIsJudgedAtTheMomentThatIsGiven() {
    Certificate end = INGEST.certificate();
    assertEquals(
        List.of("expired"), ids(REHEARSAL.at(end.notAfter().plusSeconds(60)).run(SERVER, CLIENT)));
    assertTrue(REHEARSAL.at(NOW.plusSeconds(3600)).run(SERVER, CLIENT).isAccepted());
  }
}
