// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme;

import static io.symbolon.acme.ServedAuthority.hosts;
import static io.symbolon.acme.ServedAuthority.pair;
import static io.symbolon.acme.ServedAuthority.request;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.acme.proof.HttpFolder;
import io.symbolon.acme.proof.Proof;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.der.Der;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationReason;
import io.symbolon.x509.SignatureAlgorithm;
import io.symbolon.x509.StatusResponse;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.MessageDigest;
import java.security.cert.CertPathValidator;
import java.security.cert.CertificateFactory;
import java.security.cert.PKIXParameters;
import java.security.cert.PKIXRevocationChecker;
import java.security.cert.TrustAnchor;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Both halves together: from an account to a certificate, and what comes after it. */
@Timeout(value = 5, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
@SuppressWarnings("NullAway.Init") // made before each test
class WholeOrderTest {
  private static final String INGEST = "ingest.lanternfish.example";
  private static final String CATALOGUE = "catalogue.lanternfish.example";

  @TempDir Path temp;
  private ServedAuthority served;

  @BeforeEach
  void serve() {
    served = ServedAuthority.in(temp);
  }

  @AfterEach
  void stop() {
    served.close();
  }

  private List<Certificate> obtain(
      RemoteAccount account, KeyPair pair, Proof proof, String... names) {
    Order order = account.order(hosts(names));
    return new Ordering(account, List.of(proof), Ordering.Progress.SILENT)
        .obtain(order, request(pair, names));
  }

  private static Set<String> names(Certificate certificate) {
    return certificate.alternativeNames().stream()
        .map(GeneralName::value)
        .collect(Collectors.toSet());
  }

  @Test
  void severalHostsAreProvenByFilesAndThePlatformTrustsWhatComes() throws Exception {
    RemoteAccount account = served.account();
    KeyPair pair = pair();
    List<Certificate> chain = obtain(account, pair, served.http(), INGEST, CATALOGUE);
    assertEquals(Set.of(INGEST, CATALOGUE), names(chain.get(0)));

    // The platform is the judge: the chain leads to the root.
    var factory = CertificateFactory.getInstance("X.509");
    var path =
        factory.generateCertPath(chain.stream().map(Certificate::toX509Certificate).toList());
    Certificate root = served.signing.folder().chain().get(1);
    PKIXParameters parameters =
        new PKIXParameters(Set.of(new TrustAnchor(root.toX509Certificate(), null)));
    parameters.setRevocationEnabled(false);
    assertTrue(
        CertPathValidator.getInstance("PKIX").validate(path, parameters).toString().length() > 0);

    // What was handed out is on record in the folder as well.
    assertTrue(served.signing.folder().reconcile().issued().contains(chain.get(0)));

    // With a third of its life left it should be renewed.
    RenewalWindow window = served.remote().renewal(chain.get(0)).orElseThrow();
    Instant end = chain.get(0).notAfter();
    assertTrue(window.start().isBefore(end) && window.start().isAfter(Instant.now()), window + "");

    // An order says what it replaces, once (RFC 9773, 5).
    Order next = account.order(hosts(INGEST), chain.get(0));
    var again =
        new Ordering(account, List.of(served.http()), Ordering.Progress.SILENT)
            .obtain(next, request(pair(), INGEST));
    assertEquals(Set.of(INGEST), names(again.get(0)));
  }

  @Test
  void aCertificateOverTlsProvesHostsAndAddressesThatTheOperatorPermits() throws Exception {
    RemoteAccount stranger = served.account();
    for (String refused : List.of("127.0.0.1", "224.0.0.1", "169.254.1.1", "*.example")) {
      assertThrows(RefusedException.class, () -> stranger.order(hosts(refused)), refused);
    }
    try (ServedAuthority permits =
        ServedAuthority.in(
            java.nio.file.Files.createDirectory(temp.resolve("permits")),
            plan -> plan.withAllowed(List.of(INGEST, "127.0.0.1")))) {
      List<Certificate> chain =
          obtain(permits.account(), pair(), permits.tls(), INGEST, "127.0.0.1");
      assertEquals(Set.of(INGEST, "127.0.0.1"), names(chain.get(0)));
    }
  }

  @Test
  void whoeverOrderedItRevokesItAndSoDoesWhoeverHasItsKey() {
    RemoteAccount account = served.account();
    KeyPair pair = pair();
    Certificate mine = obtain(account, pair, served.http(), INGEST).get(0);
    RemoteAccount stranger = served.account();
    RefusedException refused = assertThrows(RefusedException.class, () -> stranger.revoke(mine));
    assertEquals("unauthorized", refused.type());

    served.remote().revoke(mine, AccountKey.of(pair), RevocationReason.KEY_COMPROMISE);
    var revoked = served.signing.folder().reconcile().revoked();
    assertEquals(
        List.of(RevocationReason.KEY_COMPROMISE),
        revoked.values().stream().map(one -> one.reason()).toList());
    RefusedException twice = assertThrows(RefusedException.class, () -> account.revoke(mine));
    assertEquals("alreadyRevoked", twice.type());

    // Somebody who has proven all of its names may as well (RFC 8555, 7.6).
    Certificate other = obtain(account, pair(), served.http(), CATALOGUE).get(0);
    Certificate unused = obtain(stranger, pair(), served.http(), CATALOGUE).get(0);
    stranger.revoke(other);
    assertTrue(
        served.signing.folder().reconcile().revoked().containsKey(other.serial()), "by proof");
  }

  /** The list is where the certificate says, and the platform, which fetches it, heeds it. */
  @Test
  void thePlatformFetchesTheListAndRefusesWhatIsRevoked() throws Exception {
    served.close();
    int port = io.symbolon.fixture.FreePort.take();
    served =
        ServedAuthority.in(
            java.nio.file.Files.createDirectory(temp.resolve("with-files")),
            plan -> plan.withFiles(ServedAuthority.loopback(port)));
    RemoteAccount account = served.account();
    List<Certificate> chain = obtain(account, pair(), served.http(), INGEST);
    String before = System.getProperty("com.sun.security.enableCRLDP", "false");
    System.setProperty("com.sun.security.enableCRLDP", "true");
    try {
      java.net.URI list = java.net.URI.create("http://127.0.0.1:" + port + "/revocations.crl");
      try (var in = list.toURL().openStream()) {
        CertificateFactory factory = CertificateFactory.getInstance("X.509");
        var fetched = (java.security.cert.X509CRL) factory.generateCRL(in);
        assertFalse(fetched.isRevoked(chain.get(0).toX509Certificate()));
      }
      Certificate own = served.signing.folder().certificate();
      Certificate unrecorded = unrecorded();
      assertEquals("GOOD", asked(chain.get(0), own));
      assertEquals(
          StatusResponse.Status.UNKNOWN,
          behindAddress(unrecorded, own, port).about(unrecorded, own).orElseThrow().status());
      StatusResponse told = behindAddress(chain.get(0), own, port);
      assertEquals(SignatureAlgorithm.Validity.VALID, told.verify(own));
      assertEquals(
          StatusResponse.Status.GOOD, told.about(chain.get(0), own).orElseThrow().status());
      account.revoke(chain.get(0), RevocationReason.SUPERSEDED);
      assertEquals("REVOKED", asked(chain.get(0), own), "at once");
      assertTrue(
          behindAddress(chain.get(0), own, port)
              .about(chain.get(0), own)
              .orElseThrow()
              .revokedAt()
              .isPresent());
      Exception refused =
          assertThrows(java.security.cert.CertPathValidatorException.class, () -> judge(chain));
      assertTrue(String.valueOf(refused.getMessage()).contains("revoked"), refused + "");
    } finally {
      System.setProperty("com.sun.security.enableCRLDP", before);
    }
  }

  /** What the authority has signed and nothing on record tells of. */
  private Certificate unrecorded() {
    var draft =
        new io.symbolon.issue.RequestDraft(
            io.symbolon.x509.DistinguishedName.parse("CN=unrecorded"),
            List.of(io.symbolon.x509.GeneralName.ofHost("unrecorded.lanternfish.example")),
            io.symbolon.issue.Use.SERVER);
    return served
        .signing
        .signUnrecorded(
            new io.symbolon.issue.SigningOrder(draft, io.symbolon.issue.Lifetime.days(9)),
            io.symbolon.key.SubjectPublicKeyInfo.of(pair().getPublic()))
        .value();
  }

  /** The platform asks the responder that the certificate names, in a question of its own. */
  private static String asked(Certificate one, Certificate issuer) throws Exception {
    CertPathValidator validator = CertPathValidator.getInstance("PKIX");
    PKIXRevocationChecker checker = (PKIXRevocationChecker) validator.getRevocationChecker();
    checker.setOptions(Set.of(PKIXRevocationChecker.Option.NO_FALLBACK));
    PKIXParameters parameters =
        new PKIXParameters(Set.of(new TrustAnchor(issuer.toX509Certificate(), null)));
    parameters.addCertPathChecker(checker);
    try {
      var unused =
          validator.validate(
              CertificateFactory.getInstance("X.509")
                  .generateCertPath(List.of(one.toX509Certificate())),
              parameters);
      return "GOOD";
    } catch (java.security.cert.CertPathValidatorException e) {
      return e.getReason().toString();
    }
  }

  /** The same question in an address (RFC 6960, appendix A). */
  private static StatusResponse behindAddress(Certificate one, Certificate issuer, int port)
      throws Exception {
    MessageDigest sha = MessageDigest.getInstance("SHA-256");
    byte[] id =
        Der.sequence(
            Der.sequence(Der.oid(Oid.of("2.16.840.1.101.3.4.2.1"))),
            Der.octets(sha.digest(one.issuer().encoding())),
            Der.octets(sha.digest(issuer.publicKey().keyOctets())),
            Der.integer(one.serial()));
    byte[] question = Der.sequence(Der.sequence(Der.sequence(Der.sequence(id))));
    String text =
        java.net.URLEncoder.encode(
            java.util.Base64.getEncoder().encodeToString(question),
            java.nio.charset.StandardCharsets.US_ASCII);
    try (var in =
        java.net.URI.create("http://127.0.0.1:" + port + "/status/" + text).toURL().openStream()) {
      return StatusResponse.read(in.readAllBytes());
    }
  }

  /** The platform's verdict, with the list that it fetches where the certificate says. */
  private void judge(List<Certificate> chain) throws Exception {
    CertificateFactory factory = CertificateFactory.getInstance("X.509");
    Certificate issuer = served.signing.folder().chain().get(0);
    PKIXParameters parameters =
        new PKIXParameters(Set.of(new TrustAnchor(issuer.toX509Certificate(), null)));
    parameters.setRevocationEnabled(true);
    var path = factory.generateCertPath(List.of(chain.get(0).toX509Certificate()));
    var unused = CertPathValidator.getInstance("PKIX").validate(path, parameters);
  }

  /** Killed after the order was placed and before it was written down: it is found again. */
  @Test
  void anOrderThatNothingKnowsOfIsFoundAgain() {
    var folder =
        io.symbolon.acme.folder.AccountFolder.make(
            temp.resolve("account"),
            java.net.URI.create(served.server.directory()),
            served.signing.folder().chain(),
            pair(),
            io.symbolon.fixture.Lanternfish.secret("kelp-forest-17"),
            List.of(),
            io.symbolon.fixture.Lanternfish.RANDOM);
    RemoteAccount account = served.account();
    var standing = io.symbolon.acme.folder.Standing.begun("ingest", "{}");
    KeyPair waiting = pair();
    folder.save(standing);
    folder.keepKey(
        standing,
        waiting,
        io.symbolon.fixture.Lanternfish.secret("kelp-forest-17"),
        io.symbolon.fixture.Lanternfish.RANDOM);
    Order placed = account.order(hosts(INGEST));
    Order other = account.order(hosts(CATALOGUE));
    var obtained =
        new io.symbolon.acme.folder.FolderOrdering(
                folder,
                account,
                io.symbolon.fixture.Lanternfish.secret("kelp-forest-17"),
                List.of(served.http()),
                Ordering.Progress.SILENT,
                io.symbolon.fixture.Lanternfish.RANDOM)
            .obtain(standing, hosts(INGEST), io.symbolon.key.KeyKind.EC_P256, Optional.empty());
    assertEquals(waiting.getPublic(), obtained.pair().getPublic(), "the key that waited");
    assertEquals(Order.Status.VALID, account.order(placed.url()).status());
    assertEquals(Order.Status.PENDING, account.order(other.url()).status());
  }

  @Test
  void anAccountGetsAnotherKeyAndIsGivenUp() {
    AccountKey first = ServedAuthority.key();
    RemoteAccount account =
        served.remote().register(first, List.of("mailto:buoys@lanternfish.example"), true);
    assertEquals(account.url(), served.remote().account(first).url());
    AccountKey second = ServedAuthority.key();
    RemoteAccount moved = account.changeKey(second);
    assertEquals(account.url(), served.remote().account(second).url());
    assertThrows(RefusedException.class, () -> served.remote().account(first), "the old key");
    assertThrows(RefusedException.class, () -> account.order(hosts(INGEST)), "old key");
    moved.changeContacts(List.of("mailto:kelp@lanternfish.example"));
    RefusedException contact =
        assertThrows(RefusedException.class, () -> moved.changeContacts(List.of("tel:+100")));
    assertEquals("unsupportedContact", contact.type());
    moved.deactivate();
    RefusedException given = assertThrows(RefusedException.class, () -> moved.order(hosts(INGEST)));
    assertEquals("unauthorized", given.type());
  }

  @Test
  void aProofThatNobodyShowsIsToldWithWhatWasSeen() {
    RemoteAccount account = served.account();
    Order order = account.order(hosts(INGEST));
    Proof elsewhere = new HttpFolder(temp.resolve("root")); // which no web server serves
    Ordering ordering = new Ordering(account, List.of(elsewhere), Ordering.Progress.SILENT);
    RefusedException refused =
        assertThrows(RefusedException.class, () -> ordering.obtain(order, request(pair(), INGEST)));
    assertEquals("connection", refused.type());
    assertTrue(refused.seen().contains(INGEST), refused.seen());
    assertEquals(Order.Status.INVALID, account.order(order.url()).status());
    assertFalse(temp.resolve("root/.well-known").toFile().exists(), "what was shown is gone");
  }

  @Test
  void anOrderIsGoneOnWithWhereItStopped() {
    RemoteAccount account = served.account();
    Order order = account.order(hosts(INGEST));
    KeyPair pair = pair();
    List<String> steps = new ArrayList<>();
    Proof dies =
        new Proof() {
          @Override
          public String type() {
            return "http-01";
          }

          @Override
          public String title() {
            return "a proof that fails";
          }

          @Override
          public boolean suits(io.symbolon.acme.protocol.Identifier name, boolean wildcard) {
            return true;
          }

          @Override
          public Shown show(Task task) {
            throw new SymbolonException(Reason.NOT_WRITABLE, "no", "the disk is full", "");
          }
        };
    assertThrows(
        SymbolonException.class,
        () ->
            new Ordering(account, List.of(dies), Ordering.Progress.SILENT)
                .obtain(order, request(pair, INGEST)));
    Order later = account.order(order.url());
    assertEquals(Order.Status.PENDING, later.status());
    List<Certificate> chain =
        new Ordering(account, List.of(served.http()), (step, about) -> steps.add(step + about))
            .obtain(later, request(pair, INGEST));
    assertEquals(Set.of(INGEST), names(chain.get(0)));
    assertEquals("FETCHED", steps.get(steps.size() - 1));
    // And once more, when all is done already.
    List<Certificate> same =
        new Ordering(account, List.of(), Ordering.Progress.SILENT)
            .obtain(account.order(order.url()), request(pair, INGEST));
    assertEquals(chain, same);
  }
}
