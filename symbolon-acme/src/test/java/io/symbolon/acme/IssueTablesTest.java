// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.beside.BesideRecords;
import io.symbolon.acme.beside.BesideServer;
import io.symbolon.acme.records.Database;
import io.symbolon.acme.records.IssueTables;
import io.symbolon.acme.records.IssueTablesOpener;
import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Authority;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.AuthorityFolder;
import io.symbolon.issue.record.IssueRecords;
import io.symbolon.issue.record.Ledger;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import java.math.BigInteger;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.api.io.TempDir;

/** What an authority has issued and revoked, in the database of its folder. */
@Timeout(value = 3, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class IssueTablesTest {
  private static final Clock CLOCK = Clock.systemUTC();
  private static final String FOLDER = IssueTablesOpener.IN_FOLDER;

  @TempDir Path temp;
  private Path folder;

  @BeforeEach
  void found() {
    folder = temp.resolve("issuing");
    var unused =
        SigningAuthority.found(
            folder,
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Fleet CA"),
                KeyKind.EC_P256,
                Lifetime.years(5)),
            Optional.empty(),
            Secret.of("tide".toCharArray(), "the test"),
            new SecureRandom(),
            CLOCK);
  }

  private SigningAuthority open() {
    return AuthorityFolder.open(folder, CLOCK)
        .unlock(List.of(Secret.of("tide".toCharArray(), "the test")), new SecureRandom());
  }

  private static Certificate issue(SigningAuthority authority, String name) {
    return issue(authority, name, 90);
  }

  private static Certificate issue(SigningAuthority authority, String name, int days) {
    RequestDraft draft =
        new RequestDraft(
            DistinguishedName.parse("CN=" + name),
            List.of(GeneralName.ofHost(name + ".lanternfish.example")),
            Use.SERVER);
    Credential made =
        authority.issue(new SigningOrder(draft, Lifetime.days(days)), KeyKind.EC_P256);
    return made.certificate();
  }

  private IssueRecords opened() {
    return new IssueTablesOpener()
        .open(FOLDER, folder, AuthorityFolder.open(folder, CLOCK).identity());
  }

  private SigningAuthority moved() {
    SigningAuthority authority = open();
    return authority.moveRecords(opened(), FOLDER);
  }

  private static List<FindingKind> kinds(List<Finding> findings) {
    return findings.stream().map(Finding::kind).toList();
  }

  @Test
  void theRecordsMoveIntoTheDatabaseAndBack() throws Exception {
    SigningAuthority files = open();
    List<Certificate> all = new ArrayList<>();
    for (int i = 0; i < 5; i++) {
      all.add(issue(files, "buoy-" + i));
    }
    files.revoke(all.subList(1, 2), RevocationReason.SUPERSEDED, AuthorityFolder.LIST_LASTS);
    Ledger before = files.folder().reconcile();
    byte[] register = Files.readAllBytes(folder.resolve("register"));

    try (AuthorityFolder moved = moved().folder()) {
      Ledger after = moved.reconcile();
      assertEquals(before.issued(), List.copyOf(after.issued()));
      assertEquals(before.revoked(), after.revoked());
      assertTrue(number(before).compareTo(number(after)) <= 0, "no older list");
      assertEquals(List.of(), kinds(moved.checkRecords().findings()));
    }
    // Whoever had the folder open goes on nowhere; whoever opens it now finds the database.
    SymbolonException stale = assertThrows(SymbolonException.class, () -> issue(files, "late"));
    assertEquals(Reason.DOES_NOT_FIT, stale.reason());
    assertEquals(register.length, Files.size(folder.resolve("register")), "left as it was");

    SigningAuthority again = open();
    try (AuthorityFolder here = again.folder()) {
      all.add(issue(again, "buoy-5"));
      Ledger ledger =
          again.revoke(
              all.subList(0, 1), RevocationReason.KEY_COMPROMISE, AuthorityFolder.LIST_LASTS);
      assertEquals(Set.of(all.get(0).serial(), all.get(1).serial()), ledger.revoked().keySet());
      assertEquals(all, List.copyOf(here.reconcile().issued()));
      assertEquals(List.of(all.get(5)), ledger.find("BUOY-5"));
      assertEquals(List.of(all.get(4)), ledger.find(all.get(4).serialHex().substring(0, 12)));
      assertTrue(ledger.issued().contains(all.get(2)));
      assertEquals(List.of(all.get(5), all.get(4)), here.latest(2));
      assertTrue(
          here.list()
              .orElseThrow()
              .find(all.get(0).serial(), here.certificate().subject())
              .isPresent());

      SigningAuthority back = again.moveRecordsIntoFiles();
      assertFalse(back.folder().recordsPlace().isPresent());
      assertEquals(all, back.folder().reconcile().issued());
      assertEquals(ledger.revoked().keySet(), back.folder().reconcile().revoked().keySet());
      assertEquals(List.of(), kinds(back.folder().reconcile().findings()));
      all.add(issue(back, "buoy-6"));
      SymbolonException gone = assertThrows(SymbolonException.class, () -> issue(again, "late"));
      assertEquals(Reason.DOES_NOT_FIT, gone.reason());
    }
    // Once more: what is there stays, what is new is added.
    try (AuthorityFolder moved = moved().folder()) {
      assertEquals(all, List.copyOf(moved.reconcile().issued()));
      assertEquals(List.of(), kinds(moved.checkRecords().findings()));
    }
  }

  private static BigInteger number(Ledger ledger) {
    return ledger.list().orElseThrow().extensions().listNumber().orElseThrow();
  }

  @Test
  void whatIsDueIsWhatNothingFollows() {
    SigningAuthority authority = moved();
    try (AuthorityFolder here = authority.folder()) {
      Certificate soon = issue(authority, "soon", 10);
      Certificate followed = issue(authority, "followed", 12);
      Certificate follower = issue(authority, "followed", 80);
      Certificate revoked = issue(authority, "revoked", 14);
      authority.revoke(List.of(revoked), RevocationReason.UNSPECIFIED, Lifetime.days(30));
      Instant now = Instant.now();
      assertEquals(List.of(soon), here.ending(now, now.plusSeconds(30 * 86_400L), 10));
      assertEquals(List.of(soon, follower), here.ending(now, now.plusSeconds(100 * 86_400L), 10));
      authority.revoke(List.of(follower), RevocationReason.UNSPECIFIED, Lifetime.days(30));
      assertEquals(List.of(soon, followed), here.ending(now, now.plusSeconds(100 * 86_400L), 10));
      SigningAuthority back = authority.moveRecordsIntoFiles();
      assertEquals(
          List.of(soon, followed),
          back.folder().ending(now, now.plusSeconds(100 * 86_400L), 10),
          "the files say the same");
    }
  }

  /** Whoever can write the database has not the key: what they change shows. */
  @Test
  void whatIsTakenFromTheDatabaseShows() throws Exception {
    SigningAuthority authority = moved();
    Certificate first = issue(authority, "first");
    issue(authority, "second");
    authority.revoke(List.of(first), RevocationReason.UNSPECIFIED, Lifetime.days(30));
    authority.folder().close();
    List<String> crimes =
        List.of(
            "DELETE FROM issued WHERE position = 1",
            "DELETE FROM revoked",
            "UPDATE issue_state SET signature = ''",
            "UPDATE issued SET certificate = (SELECT certificate FROM issued WHERE position = 1)"
                + " WHERE position = 0");
    Path records = folder.resolve(IssueTablesOpener.NAME);
    Path clean = temp.resolve("clean");
    copy(records, clean);
    for (String crime : crimes) {
      copy(clean, records);
      sql(records, crime);
      try (AuthorityFolder here = AuthorityFolder.open(folder, CLOCK)) {
        assertTrue(
            kinds(here.checkRecords().findings()).contains(FindingKind.REGISTER_CHANGED), crime);
      }
    }
    copy(clean, records);
    SigningAuthority again = open();
    try (AuthorityFolder here = again.folder()) {
      assertEquals(List.of(), kinds(here.checkRecords().findings()));
      // An older copy of the database: the list in the folder knows better, and it stays so.
      again.revoke(List.of(here.latest(1).get(0)), RevocationReason.UNSPECIFIED, Lifetime.days(30));
    }
    copy(clean, records);
    SigningAuthority old = open();
    try (AuthorityFolder here = old.folder()) {
      assertTrue(kinds(here.reconcile().findings()).contains(FindingKind.REGISTER_CHANGED));
      assertEquals(2, here.reconcile().revoked().size());
      old.revoke(List.of(), RevocationReason.UNSPECIFIED, Lifetime.days(30));
      assertEquals(List.of(), kinds(here.checkRecords().findings()));
      assertEquals(2, here.reconcile().revoked().size());
    }
  }

  private static void sql(Path records, String statement) throws Exception {
    try (Connection connection =
            DriverManager.getConnection(
                "jdbc:h2:"
                    + records.resolve("records")
                    + ";MODE=PostgreSQL;DATABASE_TO_LOWER=TRUE");
        Statement one = connection.createStatement()) {
      one.execute(statement);
    }
  }

  private static void copy(Path from, Path to) throws Exception {
    Files.createDirectories(to);
    try (var old = Files.list(to)) {
      for (Path file : old.toList()) {
        if (Files.isRegularFile(file)) {
          Files.delete(file);
        }
      }
    }
    try (var all = Files.list(from)) {
      for (Path file : all.toList()) {
        if (Files.isRegularFile(file)) {
          Files.copy(file, to.resolve(file.getFileName()));
        }
      }
    }
  }

  /** Where the records are is not told by whoever can write a folder: nobody is sent anywhere. */
  @Test
  void aPlaceThatLeadsElsewhereIsNotGoneTo() throws Exception {
    moved().folder().close();
    Path place = folder.resolve("records.place");
    String good = Files.readString(place);
    for (String bad :
        List.of(
            good.replace("folder", "jdbc:h2:" + temp.resolve("elsewhere")),
            good.replace("folder", "JDBC:H2:mem:x"),
            good.replace("folder", "files"),
            good.replace("folder", ""),
            "",
            good + "more\n",
            "x".repeat(100_000))) {
      Files.writeString(place, bad);
      assertThrows(
          SymbolonException.class, () -> AuthorityFolder.open(folder, CLOCK).reconcile(), bad);
    }
    Files.delete(place);
    Files.writeString(temp.resolve("place"), good);
    Files.createSymbolicLink(place, temp.resolve("place"));
    assertThrows(SymbolonException.class, () -> AuthorityFolder.open(folder, CLOCK).reconcile());
    assertFalse(Files.exists(temp.resolve("elsewhere.mv.db")));
  }

  /** Several at once, through one process and beside it: no place and no serial number twice. */
  @Test
  @SuppressWarnings("try") // the server runs meanwhile
  void othersUseTheRecordsThroughTheProcessThatHasThemOpen() throws Exception {
    SigningAuthority plain = open();
    issue(plain, "before");
    Path records = folder.resolve(IssueTablesOpener.NAME);
    var pool = Executors.newFixedThreadPool(6);
    try (Database database = IssueTablesOpener.alone(records)) {
      IssueTables tables = IssueTables.in(database, plain.folder().identity(), "records");
      SigningAuthority serving = plain.moveRecords(tables, FOLDER);
      BesideServer server =
          BesideServer.start(records, tables, serving.authority(), new SecureRandom(), CLOCK)
              .orElseThrow();
      try (server) {
        assertThrows(
            SymbolonException.class, () -> IssueTablesOpener.alone(records).close(), "only one");
        List<Callable<Certificate>> work = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
          String name = "buoy-" + i;
          work.add(() -> issue(serving, name));
          work.add(
              () -> {
                SigningAuthority beside = open(); // a command of its own
                try (AuthorityFolder here = beside.folder()) {
                  return issue(beside, "beside-" + name);
                }
              });
        }
        List<Certificate> made = new ArrayList<>();
        for (var one : pool.invokeAll(work)) {
          made.add(one.get());
        }
        SigningAuthority beside = open();
        try (AuthorityFolder here = beside.folder()) {
          assertEquals(13, here.reconcile().issued().size());
          assertEquals(new HashSet<>(made), new HashSet<>(here.latest(12)));
          assertEquals(List.of(), kinds(here.checkRecords().findings()));
          Ledger ledger =
              beside.revoke(made.subList(0, 1), RevocationReason.SUPERSEDED, Lifetime.days(30));
          assertEquals(1, ledger.revoked().size());
          assertTrue(serving.folder().revocation(made.get(0).serial()).isPresent());
          assertEquals(List.of(made.get(1)), ledger.find(made.get(1).serialHex().substring(0, 14)));
          Instant now = Instant.now();
          assertEquals(12, here.ending(now, now.plusSeconds(200 * 86_400L), 50).size());
          SymbolonException twice =
              assertThrows(
                  SymbolonException.class,
                  () -> opened().add(made.subList(2, 3), serving.authority()));
          assertEquals(Reason.EXISTS, twice.reason());
        }
        SigningAuthority mover = open();
        try (AuthorityFolder here = mover.folder()) {
          SymbolonException stays =
              assertThrows(SymbolonException.class, mover::moveRecordsIntoFiles);
          assertEquals(Reason.DOES_NOT_FIT, stays.reason(), "the serving one would go on");
          assertTrue(here.recordsPlace().isPresent());
        }
        strangersChangeNothing(serving, made);
      }
      assertTrue(BesideRecords.find(records).isEmpty(), "it has ended");
    } finally {
      pool.shutdownNow();
    }
    try (AuthorityFolder here = AuthorityFolder.open(folder, CLOCK)) {
      assertEquals(13, here.reconcile().issued().size());
    }
  }

  /** The same user without the key: reads, and changes nothing. */
  private void strangersChangeNothing(SigningAuthority serving, List<Certificate> made) {
    Authority stranger =
        Authority.root(
            AuthorityPlan.of(
                serving.folder().certificate().subject(), KeyKind.EC_P256, Lifetime.years(1)),
            Instant.now(),
            new SecureRandom());
    try (IssueRecords beside = opened()) {
      long issued = beside.state().issued();
      var revocation =
          new Authority.Revocation(
              made.get(5).serial(), Instant.now(), RevocationReason.UNSPECIFIED);
      for (Executable one :
          List.<Executable>of(
              () -> beside.revoke(List.of(revocation), stranger, Instant.now(), Lifetime.days(1)),
              () -> beside.add(List.of(stranger.certificate()), stranger),
              () -> beside.add(List.of(stranger.certificate()), serving.authority()),
              () ->
                  beside.keep(
                      stranger.revocationList(
                          List.of(), BigInteger.TEN.pow(18), Instant.now(), Lifetime.days(9))))) {
        assertEquals(Reason.REFUSED, assertThrows(SymbolonException.class, one).reason());
      }
      assertEquals(issued, beside.state().issued());
      assertTrue(beside.revocation(made.get(5).serial()).isEmpty());
    }
  }
}
