// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTimeout;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.records.ChallengeState;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.acme.records.OrderState;
import io.symbolon.acme.records.ProofState;
import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Certified;
import io.symbolon.acme.records.Records.Challenge;
import io.symbolon.acme.records.Records.Placed;
import io.symbolon.acme.records.Records.Proving;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The records of one authority in a real PostgreSQL, which two that answer for it share. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class SharedRecordsTest {
  private static final Clock CLOCK = Clock.systemUTC();
  private static final Instant LATER = Instant.ofEpochSecond(4_000_000_000L);
  private static final Instant NOW = Instant.ofEpochSecond(1);

  @TempDir Path temp;

  @Test
  void whatOneDoesTheOtherSeesAndNeverBothDoIt() throws Exception {
    Postgres.assume();
    Path home = Postgres.database(temp);
    ExecutorService pool = Executors.newFixedThreadPool(8);
    try (Postgres server =
        Postgres.start(home, temp, Map.of(), "host all all 127.0.0.1/32 trust")) {
      String url = "jdbc:postgresql://127.0.0.1:" + server.port() + "/postgres?user=archive";
      // Both begin at the same moment, with no table there.
      Callable<Records> begin = () -> Records.in(Database.at(url));
      var both = pool.invokeAll(List.of(begin, begin));
      try (Records one = both.get(0).get();
          Records other = both.get(1).get()) {
        for (int round = 0; round < 20; round++) {
          together(pool, one, other, "order" + round);
        }
        assertEquals(20, one.placedBy("a", 0, 1000).size());
        assertEquals(20, other.latest(100).size());
        assertTrue(one.certifiedAs("f7").isPresent());
      }
      twoHosts(pool, url);
    } finally {
      pool.shutdownNow();
    }
  }

  /** It accepts connections and questions, and says nothing. */
  @Test
  void aDatabaseThatHangsIsAwayAndComesBack() throws Exception {
    Postgres.assume();
    Path home = Postgres.database(temp);
    try (Postgres server = Postgres.start(home, temp, Map.of(), "host all all 127.0.0.1/32 trust");
        Records records =
            Records.in(
                Database.at(
                    "jdbc:postgresql://127.0.0.1:" + server.port() + "/postgres?user=archive"))) {
      records.waitForMomentsOnly();
      assertEquals(0, records.latest(1).size());
      server.hang(true);
      try {
        SymbolonException told =
            assertTimeout(
                Duration.ofSeconds(10), // the connection itself would be given up after 15
                () -> assertThrows(SymbolonException.class, () -> records.latest(1)));
        assertEquals(Reason.NO_ANSWER, told.reason());
        assertTrue(records.isAway());
      } finally {
        server.hang(false);
      }
      await().atMost(Duration.ofMinutes(1)).until(() -> !records.isAway());
      assertEquals(0, records.latest(1).size());
    }
  }

  /** Two copies of the folder, on two hosts: one authority. */
  private void twoHosts(ExecutorService pool, String url) throws Exception {
    Path here = temp.resolve("here");
    SigningAuthority founded =
        SigningAuthority.found(
            here,
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Fleet CA"),
                KeyKind.EC_P256,
                Lifetime.years(5)),
            Optional.empty(),
            secret("kelp-forest-17"),
            RANDOM,
            CLOCK);
    Certificate before = issue(founded, "before");
    Path there = Files.createDirectory(temp.resolve("there"));
    try (var all = Files.list(here)) {
      for (Path file : all.filter(Files::isRegularFile).toList()) {
        Files.copy(file, there.resolve(file.getFileName()));
      }
    }
    Certificate onlyHere = issue(founded, "only-here");
    Certificate onlyThere = issue(open(there), "only-there");
    SigningAuthority mine = moved(here, url);
    SigningAuthority yours = moved(there, url);
    try (AuthorityFolder a = mine.folder();
        AuthorityFolder b = yours.folder()) {
      List<Callable<Certificate>> work = new ArrayList<>();
      for (int i = 0; i < 20; i++) {
        SigningAuthority one = i % 2 == 0 ? mine : yours;
        String name = "buoy-" + i;
        work.add(() -> issue(one, name));
      }
      Set<Certificate> made = new HashSet<>(Set.of(before, onlyHere, onlyThere));
      for (var one : pool.invokeAll(work)) {
        made.add(one.get());
      }
      assertEquals(made, new HashSet<>(a.reconcile().issued()));
      assertEquals(made, new HashSet<>(b.reconcile().issued()));
      assertEquals(List.of(), a.checkRecords().findings());
      mine.revoke(List.of(before), RevocationReason.KEY_COMPROMISE, Lifetime.days(30));
      yours.revoke(List.of(onlyHere), RevocationReason.SUPERSEDED, Lifetime.days(30));
      assertEquals(2, a.list().orElseThrow().size(), "the other's as well");
      assertTrue(b.revocation(before.serial()).isPresent());
      assertEquals(
          Files.readString(here.resolve(AuthorityFolder.REVOCATIONS)),
          Files.readString(there.resolve(AuthorityFolder.REVOCATIONS)),
          "the copies in the folders");
      assertEquals(List.of(), b.checkRecords().findings());
    }
    // Another authority has nothing to look for there.
    SigningAuthority stranger =
        SigningAuthority.found(
            temp.resolve("stranger"),
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Another CA"), KeyKind.EC_P256, Lifetime.years(5)),
            Optional.empty(),
            secret("kelp-forest-17"),
            RANDOM,
            CLOCK);
    assertEquals(
        Reason.DOES_NOT_FIT,
        assertThrows(
                SymbolonException.class,
                () -> new IssueTablesOpener().open(url, temp, stranger.folder().identity()).close())
            .reason());
  }

  private static SigningAuthority open(Path folder) {
    return AuthorityFolder.open(folder, CLOCK).unlock(List.of(secret("kelp-forest-17")), RANDOM);
  }

  private static SigningAuthority moved(Path folder, String url) {
    SigningAuthority authority = open(folder);
    return authority.moveRecords(
        new IssueTablesOpener().open(url, folder, authority.folder().identity()), url);
  }

  private static Certificate issue(SigningAuthority authority, String name) {
    RequestDraft draft =
        new RequestDraft(
            DistinguishedName.parse("CN=" + name),
            List.of(GeneralName.ofHost(name + ".lanternfish.example")),
            Use.SERVER);
    return authority
        .issue(new SigningOrder(draft, Lifetime.days(90)), KeyKind.EC_P256)
        .certificate();
  }

  private static void together(ExecutorService pool, Records one, Records other, String id)
      throws Exception {
    List<Proving> provings = new ArrayList<>();
    List<Challenge> challenges = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      String proving = id + "p" + i;
      provings.add(new Proving(proving, "a", id, "dns:x" + i, false, ProofState.PENDING, LATER));
      challenges.add(
          new Challenge(
              proving + "c",
              proving,
              "http-01",
              "t",
              ChallengeState.PROCESSING,
              Records.NEVER,
              ""));
    }
    one.add(
        new Placed(id, "a", OrderState.PENDING, LATER, "dns:x", "", "", "", NOW),
        provings,
        challenges);
    List<Callable<Boolean>> met = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      Records records = i % 2 == 0 ? one : other;
      Challenge challenge = challenges.get(i);
      met.add(() -> records.met(challenge, NOW));
    }
    assertEquals(4, yes(pool, met));
    assertEquals(OrderState.READY, other.placed(id).orElseThrow().status(), id);

    // A nonce, and the right to finalize, belong to one of them.
    Callable<Boolean> here = () -> one.spend(id, LATER);
    Callable<Boolean> there = () -> other.spend(id, LATER);
    assertEquals(1, yes(pool, List.of(here, there, here, there)));
    Callable<Boolean> mine = () -> one.move(id, OrderState.READY, OrderState.PROCESSING, "", NOW);
    Callable<Boolean> yours =
        () -> other.move(id, OrderState.READY, OrderState.PROCESSING, "", NOW);
    assertEquals(1, yes(pool, List.of(mine, yours, mine, yours)));
    String serial = id.replace("order", "f");
    Certified certificate = new Certified(id + "x", "a", id, serial, "PEM", NOW, false);
    assertTrue(one.certify(certificate, ""));
    assertFalse(other.certify(certificate, ""), "an order has one certificate");
  }

  private static int yes(ExecutorService pool, List<Callable<Boolean>> all) throws Exception {
    int count = 0;
    for (var one : pool.invokeAll(all)) {
      count += one.get() ? 1 : 0;
    }
    return count;
  }
}
