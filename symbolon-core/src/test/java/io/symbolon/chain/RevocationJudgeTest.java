// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.ROOT;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.fixture.Forge;
import io.symbolon.key.KeyKind;
import io.symbolon.oid.Oid;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.RevocationList;
import java.io.ByteArrayOutputStream;
import java.math.BigInteger;
import java.security.PrivateKey;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A revocation list says something that counts, or it is told why it does not. */
class RevocationJudgeTest {
  private static final PrivateKey ISSUING_KEY = ISSUING.credential().key().toPrivateKey();
  private static final BigInteger SERIAL = INGEST.certificate().serial();

  /** A list as it should be, in which anything may be changed. */
  private static final class Draft {
    Instant from = NOW.minus(Duration.ofDays(1));
    Instant until = NOW.plus(Duration.ofDays(30));
    PrivateKey key = ISSUING_KEY;
    DistinguishedName issuer = ISSUING.certificate().subject();
    byte[] entries = new byte[0];
    final List<byte[]> extensions = new ArrayList<>();
    boolean sha1;
    boolean endless;

    RevocationList make() {
      byte[] algorithm = Der.sequence(Der.oid(sha1 ? Oids.ECDSA_SHA1 : Oids.ECDSA_SHA256));
      List<byte[]> fields = new ArrayList<>();
      fields.add(Der.integer(1));
      fields.add(algorithm);
      fields.add(issuer.encoding());
      fields.add(Der.time(from));
      if (!endless) {
        fields.add(Der.time(until));
      }
      if (entries.length > 0) {
        fields.add(Der.tagged(0x30, entries));
      }
      if (!extensions.isEmpty()) {
        fields.add(Der.context(0, Der.sequence(extensions)));
      }
      return RevocationList.read(
          Forge.signed(
              Der.sequence(fields),
              algorithm,
              sha1 ? "SHA1withECDSA" : "SHA256withECDSA",
              null,
              key));
    }
  }

  private static byte[] entry(BigInteger serial, byte[]... extensions) {
    return extensions.length == 0
        ? Der.sequence(Der.integer(serial), Der.time(NOW))
        : Der.sequence(Der.integer(serial), Der.time(NOW), Der.sequence(extensions));
  }

  private static byte[] critical(Oid oid, byte[] value) {
    return Der.sequence(Der.oid(oid), Der.bool(true), Der.octets(value));
  }

  private static List<Finding> judge(RevocationList... lists) {
    RevocationList ofRoot =
        ROOT.revocationList(List.of(), BigInteger.ONE, NOW, io.symbolon.issue.Lifetime.days(30));
    List<RevocationList> all = new ArrayList<>(List.of(lists));
    all.add(ofRoot);
    return new RevocationJudge(all, NOW, "x").judge(INGEST.chain(), List.of(root()));
  }

  private static List<String> ids(List<Finding> findings) {
    return findings.stream().map(Finding::id).toList();
  }

  private static void notUsable(Draft draft, String why) {
    List<Finding> findings = judge(draft.make());
    assertEquals(List.of("revocation-list-not-usable"), ids(findings), why);
    assertEquals(Level.PROBLEM, findings.get(0).level());
    assertTrue(findings.get(0).statement().contains(why), findings.get(0).statement());
    // Beside one that counts it is only a warning.
    List<Finding> beside = judge(draft.make(), new Draft().make());
    assertEquals(Level.WARNING, beside.get(0).level(), beside.toString());
  }

  @Test
  void aListThatIsAsItShouldBeRevokesWhatIsOnItAndNothingElse() {
    assertEquals(List.of(), judge(new Draft().make()));
    Draft other = new Draft();
    other.entries = entry(SERIAL.add(BigInteger.ONE));
    assertEquals(List.of(), judge(other.make()));
    Draft revoked = new Draft();
    revoked.entries = entry(SERIAL);
    assertEquals(List.of("revoked"), ids(judge(revoked.make())));
    revoked.until = NOW.minusSeconds(60);
    assertEquals(List.of("revoked"), ids(judge(revoked.make())), "also on one that ended");
  }

  @Test
  void aMissingListAndOneThatEndedAreProblems() {
    assertEquals(List.of("revocation-not-checked"), ids(judge()));
    Draft ended = new Draft();
    ended.until = NOW.minusSeconds(60);
    assertEquals(List.of("revocation-list-expired"), ids(judge(ended.make())));
  }

  @Test
  void aListThatCantBeReliedOnIsToldWithTheReason() {
    Draft namesake = new Draft();
    namesake.key = KeyKind.EC_P256.generate(RANDOM).getPrivate();
    notUsable(namesake, "did not sign it");
    Draft weak = new Draft();
    weak.sha1 = true;
    notUsable(weak, "can be forged");
    Draft future = new Draft();
    future.from = NOW.plusSeconds(86_400);
    notUsable(future, "from the future");
    Draft old = new Draft();
    old.from = NOW.minus(Duration.ofDays(3_000));
    old.endless = true;
    notUsable(old, "until when it counts");
    Draft delta = new Draft();
    delta.extensions.add(critical(Oids.DELTA_CRL, Der.integer(7)));
    notUsable(delta, "what has changed");
    Draft unknown = new Draft();
    unknown.extensions.add(critical(Oid.of("1.3.6.1.4.1.99999.1"), Der.nul()));
    notUsable(unknown, "not known here");
    Draft authorities = new Draft();
    authorities.extensions.add(
        critical(
            Oids.ISSUING_POINT, Der.sequence(Der.contextPrimitive(2, new byte[] {(byte) 0xFF}))));
    notUsable(authorities, "about authorities alone");
    Draft entries = new Draft();
    entries.entries =
        entry(SERIAL.add(BigInteger.ONE), critical(Oid.of("1.3.6.1.4.1.99999.1"), Der.nul()));
    notUsable(entries, "critical extension");
  }

  @Test
  void anEntryOfAnIndirectListCountsForTheIssuerItNames() {
    byte[] indirect =
        critical(
            Oids.ISSUING_POINT, Der.sequence(Der.contextPrimitive(4, new byte[] {(byte) 0xFF})));
    byte[] another =
        critical(Oids.CERTIFICATE_ISSUER, Der.sequence(Der.context(4, name("Another").encoding())));
    byte[] ours =
        critical(
            Oids.CERTIFICATE_ISSUER,
            Der.sequence(Der.context(4, ISSUING.certificate().subject().encoding())));
    Draft list = new Draft();
    list.extensions.add(indirect);
    list.entries = entry(SERIAL, another);
    assertEquals(List.of(), judge(list.make()));
    list.entries = entry(SERIAL, ours);
    assertEquals(List.of("revoked"), ids(judge(list.make())));
  }

  @Test
  void theLastOfAMillionEntriesIsFound() {
    ByteArrayOutputStream entries = new ByteArrayOutputStream();
    byte[] one = entry(BigInteger.valueOf(17));
    for (int i = 0; i < 1_000_001; i++) {
      entries.writeBytes(one);
    }
    entries.writeBytes(entry(SERIAL));
    Draft list = new Draft();
    list.entries = entries.toByteArray();
    assertEquals(List.of("revoked"), ids(judge(list.make())));
  }
}
