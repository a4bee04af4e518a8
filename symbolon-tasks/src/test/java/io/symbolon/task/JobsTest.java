// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.FindingKind;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.format.Format;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.Published;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.task.authority.FoundJob;
import io.symbolon.task.authority.IssueJob;
import io.symbolon.task.authority.IssueManyJob;
import io.symbolon.task.authority.IssueReport;
import io.symbolon.task.authority.RecordsJob;
import io.symbolon.task.authority.RevokeJob;
import io.symbolon.task.authority.RevokeReport;
import io.symbolon.task.authority.SignJob;
import io.symbolon.task.compare.CompareJob;
import io.symbolon.task.convert.ConvertJob;
import io.symbolon.task.due.DueJob;
import io.symbolon.task.due.DueReport;
import io.symbolon.task.explain.ExplainJob;
import io.symbolon.task.join.JoinJob;
import io.symbolon.task.join.JoinReport;
import io.symbolon.task.rehearse.RehearseJob;
import io.symbolon.task.request.RequestContent;
import io.symbolon.task.request.RequestJob;
import io.symbolon.task.request.RequestPlan;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.survey.SurveyJob;
import io.symbolon.task.truststore.TruststoreJob;
import io.symbolon.task.undo.UndoJob;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.NameConstraints;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** An administrator's day in a Java program: each task by its job, one after the other. */
class JobsTest {
  private static final HostName HOST = HostName.parse("ingest.lanternfish.example");
  private static final RequestContent INGEST =
      new RequestContent(Optional.empty(), List.of(HOST), List.of(), Optional.empty());

  private final TaskRun run = TaskRun.open();

  @TempDir Path folder;
  private PasswordSource root;

  @BeforeEach
  void anAuthorityIsThere() {
    root = PasswordSource.file(at("root.pw"));
    new FoundJob(
            at("authority"),
            new AuthorityPlan(
                Lanternfish.name("Lanternfish Root"),
                KeyKind.EC_P256,
                Lifetime.years(5),
                OptionalInt.empty(),
                new NameConstraints(List.of(), List.of())),
            Optional.empty(),
            List.of(),
            ResultOptions.sealedWith(made("root.pw")))
        .run(run);
  }

  private Path at(String name) {
    return folder.resolve(name);
  }

  private NewPasswordFile made(String name) {
    return new NewPasswordFile(at(name).toString());
  }

  private IssueReport issued(String name, Use use) {
    return new IssueJob(
            Optional.of(at("authority")),
            new RequestContent(
                Optional.of(Lanternfish.name(name)),
                use == Use.SERVER ? List.of(HOST) : List.of(),
                List.of(),
                Optional.of(use)),
            Optional.empty(),
            Lifetime.days(20),
            Optional.empty(),
            Destination.of(at(name + ".p12")),
            Optional.empty(),
            false,
            List.of(root),
            ResultOptions.sealedWith(made(name + ".pw")),
            Published.NOTHING)
        .run(run);
  }

  private RequestPlan requested() {
    RequestJob job =
        RequestJob.of(INGEST)
            .into(Destination.of(at("ingest.csr")))
            .keyInto(Destination.of(at("ingest.key")))
            .result(ResultOptions.sealedWith(made("key.pw")))
            .build();
    RequestPlan plan = job.plan(run);
    assertFalse(plan.isRefused(), plan.findings().toString());
    assertFalse(Files.exists(at("ingest.key")), "a plan writes nothing");
    job.write(run, plan);
    return plan;
  }

  private void signed() {
    new SignJob(
            at("ingest.csr"),
            at("authority"),
            Optional.empty(),
            List.of(),
            Lifetime.days(90),
            Destination.of(at("reply.pem")),
            false,
            List.of(root),
            ResultOptions.USUAL,
            Published.NOTHING)
        .plan(run)
        .sign(run);
  }

  private JoinReport joined() {
    return JoinJob.of(at("ingest.key"), at("reply.pem"))
        .unlock(List.of(PasswordSource.file(at("key.pw"))))
        .into(at("ingest.p12"), made("ingest.pw"))
        .build()
        .run(run);
  }

  @Test
  void fromARequestToAKeystoreThatJavaOpens() throws Exception {
    RequestPlan plan = requested();
    signed();
    JoinReport report = joined();
    assertTrue(report.isProven());
    assertEquals(plan.key().publicKey(), report.joined().credential().certificate().publicKey());
    KeyStore store =
        KeyStore.getInstance(
            at("ingest.p12").toFile(), Files.readString(at("ingest.pw")).strip().toCharArray());
    assertTrue(store.isKeyEntry(report.alias()));
  }

  @Test
  void whatIsConvertedTrustedAndComparedIsTheSame() {
    issued("buoy-17", Use.CLIENT);
    var written =
        ConvertJob.of(at("buoy-17.p12"), at("buoy-17.jks"))
            .unlock(PasswordSource.file(at("buoy-17.pw")))
            .seal(made("jks.pw"))
            .build()
            .run(run);
    assertEquals(Format.JKS, written.destination().target());
    var comparison =
        new CompareJob(
                at("buoy-17.p12"),
                at("buoy-17.jks"),
                List.of(PasswordSource.file(at("buoy-17.pw")), PasswordSource.file(at("jks.pw"))))
            .run(run);
    assertTrue(comparison.failure().isEmpty());
    TruststoreJob trust =
        TruststoreJob.of(at("authority/authority.pem"), at("trust.p12"))
            .seal(made("trust.pw"))
            .build();
    assertEquals(1, trust.run(run).trust().entries().size());
    assertThrows(SymbolonException.class, () -> trust.run(run), "it is there already");
    var again =
        TruststoreJob.of(at("authority/authority.pem"), at("trust.p12"))
            .unlock(List.of(PasswordSource.file(at("trust.pw"))))
            .add()
            .build()
            .run(run);
    assertTrue(again.result().isEmpty(), "nothing is new in it");
  }

  @Test
  void bothSidesAreRehearsedFromTheirFiles() {
    issued("server", Use.SERVER);
    issued("client", Use.CLIENT);
    List<PasswordSource> unlock =
        List.of(PasswordSource.file(at("server.pw")), PasswordSource.file(at("client.pw")));
    Path trust = at("authority/authority.pem");
    RehearseJob.Builder job =
        RehearseJob.of(List.of(at("server.p12")))
            .serverTrust(List.of(trust))
            .clientTrust(List.of(trust))
            .host(HOST)
            .unlock(unlock);
    assertFalse(job.build().run(run).isAccepted(), "a client without a certificate is refused");
    assertTrue(job.client(List.of(at("client.p12"))).build().run(run).isAccepted());
    assertThrows(WrongJob.class, () -> RehearseJob.of(List.of()).build());
  }

  @Test
  void whatEndsIsDueUntilItIsReplacedAndWhatIsRevokedIsNot() {
    issued("buoy-17", Use.CLIENT);
    DueJob due = DueJob.of(at("authority")).unlock(List.of(root)).build();
    DueReport report = due.run(run);
    assertEquals(1, report.due().size(), report.toString());
    assertFalse(report.isQuiet());
    RevokeJob revoke = RevokeJob.of(at("authority"), List.of("buoy-17")).unlocking(List.of(root));
    RevokeReport revoked = revoke.run(run);
    assertEquals(1, revoked.certificates().size());
    assertFalse(revoke.run(run).listWritten(), "it is revoked already");
    assertTrue(due.run(run).due().stream().noneMatch(one -> one.name().contains("buoy-17")));
  }

  @Test
  void recordsMoveAndStayWhole() {
    issued("buoy-17", Use.CLIENT);
    var moved = new RecordsJob(at("authority"), Optional.of("folder"), List.of(root)).run(run);
    assertTrue(moved.moved() && moved.isWhole(), moved.where());
    assertEquals("folder", moved.folder().recordsPlace().orElseThrow());
  }

  @Test
  void whatWasReplacedComesBack() throws Exception {
    requested();
    signed();
    joined();
    byte[] first = Files.readAllBytes(at("ingest.p12"));
    ConvertJob again =
        ConvertJob.of(List.of(at("ingest.p12")), Destination.of(at("ingest.p12")))
            .unlock(List.of(PasswordSource.file(at("ingest.pw"))))
            .result(ResultOptions.sealedWith(PasswordSource.file(at("ingest.pw"))).replacing())
            .build();
    again.run(run);
    assertNotEquals(-1, java.util.Arrays.mismatch(first, Files.readAllBytes(at("ingest.p12"))));
    assertEquals(1, UndoJob.list(List.of(at("ingest.p12"))).run(run).replacements().size());
    UndoJob.bringBack(List.of(at("ingest.p12"))).run(run);
    assertEquals(-1, java.util.Arrays.mismatch(first, Files.readAllBytes(at("ingest.p12"))));
    assertEquals(1, UndoJob.forget(List.of(at("ingest.p12"))).run(run).forgotten());
    assertThrows(
        SymbolonException.class, () -> UndoJob.bringBack(List.of(at("ingest.p12"))).run(run));
  }

  @Test
  void whatIsReplacedIsReadWithAPasswordThatWasTypedTwice() throws Exception {
    requested();
    signed();
    joined();
    Surroundings person = mock(Surroundings.class);
    when(person.isAttended()).thenReturn(true);
    when(person.clock()).thenReturn(Clock.systemUTC());
    when(person.progress()).thenReturn((done, total) -> {});
    when(person.askPassword(anyString()))
        .thenAnswer(call -> Optional.of("typed-at-the-terminal".toCharArray()));
    try (TaskRun asking = TaskRun.in(person)) {
      JoinReport report =
          JoinJob.of(at("ingest.key"), at("reply.pem"))
              .unlock(List.of(PasswordSource.file(at("key.pw"))))
              .into(Destination.of(at("ingest.p12")))
              .result(ResultOptions.sealedWith(PasswordSource.ASKED).replacing())
              .build()
              .run(asking);
      assertTrue(report.result().files().get(0).aside().isPresent(), "the old one is kept");
    }
  }

  @Test
  void passwordsThatAProgramHasAreTriedWheneverItGivesThem() {
    issued("buoy-17", Use.CLIENT);
    SurveyJob job = SurveyJob.of(at("buoy-17.p12")).build();
    assertTrue(job.run(run).survey().certificates().isEmpty(), "nobody opens it");
    try (Secret known = run.unlock(List.of(PasswordSource.file(at("buoy-17.pw")))).get(0)) {
      assertFalse(job.run(run.trying(known)).survey().certificates().isEmpty());
    }
  }

  @Test
  void aSurveyFindsWhatALogIsAbout() {
    requested();
    var survey = SurveyJob.of(folder).unlock(List.of(root)).hosts(List.of(HOST)).build().run(run);
    assertEquals(1, survey.survey().requests().size());
    assertTrue(survey.onlyFailure().isEmpty());
    var explained =
        ExplainJob.of(
                new ByteArrayInputStream(
                    "PKIX path building failed: unable to find valid certification path"
                        .getBytes(StandardCharsets.UTF_8)))
            .run();
    assertEquals(1, explained.texts().get(0).explanations().size());
    assertFalse(explained.isQuiet());
  }

  @Test
  void aJobWithoutASenseIsRefusedBeforeAnythingIsRead() {
    assertEquals(
        Reason.INVALID_ARGUMENT,
        assertThrows(WrongJob.class, () -> JoinJob.of(at("none")).build()).reason());
    assertThrows(WrongJob.class, () -> RequestJob.of(INGEST).sameKey().build());
    assertThrows(
        WrongJob.class,
        () ->
            new IssueManyJob(
                at("authority"),
                at("list"),
                Lanternfish.name("all"),
                Use.CLIENT,
                Lifetime.days(9),
                KeyKind.EC_P256,
                at("many"),
                Format.DER,
                Optional.empty(),
                false,
                List.of(root),
                ResultOptions.USUAL,
                Published.NOTHING));
    assertThrows(WrongJob.class, () -> TruststoreJob.of(at("none"), at("none.p12")).add().build());
  }

  @Test
  void aPasswordThatAProgramHasOpensTheKeyOfItsAuthority() {
    try (TaskRun own = TaskRun.open();
        Secret known = Lanternfish.secret("nautilus-ballast-17")) {
      own.trying(known);
      new FoundJob(
              at("own"),
              new AuthorityPlan(
                  Lanternfish.name("Lanternfish Own"),
                  KeyKind.EC_P256,
                  Lifetime.years(5),
                  OptionalInt.empty(),
                  NameConstraints.ofHosts(
                      List.of(NameConstraints.Area.parse("lanternfish.example")), List.of())),
              Optional.empty(),
              List.of(),
              ResultOptions.sealedWith(new GivenPassword(known)))
          .run(own);
      RevokeReport fresh = RevokeJob.freshList(at("own")).run(own);
      assertTrue(fresh.listWritten(), "nobody had to be asked");
      var constraints = fresh.folder().certificate().extensions().nameConstraints().orElseThrow();
      assertTrue(
          constraints.refusal(GeneralName.ofHost("192.0.2.17"), "it").isPresent(),
          "a domain is permitted, and no address");
    }
  }

  @Test
  void aProblemKeepsACredentialFromBeingIssued() {
    IssueReport refused =
        new IssueJob(
                Optional.of(at("authority")),
                new RequestContent(
                    Optional.of(Lanternfish.name("short")),
                    List.of(),
                    List.of(),
                    Optional.of(Use.SERVER)),
                Optional.empty(),
                Lifetime.years(50),
                Optional.empty(),
                Destination.of(at("short.p12")),
                Optional.empty(),
                false,
                List.of(root),
                ResultOptions.sealedWith(made("short.pw")),
                Published.NOTHING)
            .run(run);
    assertTrue(refused.issued().isEmpty(), refused.toString());
    assertFalse(Files.exists(at("short.p12")) || Files.exists(at("short.pw")));
    assertFalse(refused.refusal().orElseThrow().is(FindingKind.REGISTER_CHANGED));
  }
}
