// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.name;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.Extension;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import io.symbolon.x509.RequestBuilder;
import java.security.KeyPair;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What an authority takes from requests that ask for more than they should. */
class ReceivedRequestTest {
  private static final KeyPair PAIR = KeyKind.EC_P256.generate(RANDOM);
  private static final SubjectPublicKeyInfo KEY = SubjectPublicKeyInfo.of(PAIR.getPublic());

  private static ReceivedRequest take(RequestBuilder request, Optional<Use> use, String... hosts) {
    return ReceivedRequest.of(
        request.sign(PAIR.getPrivate()),
        use,
        Arrays.stream(hosts).map(HostName::parse).toList(),
        "x");
  }

  private static List<String> ids(ReceivedRequest intake) {
    return intake.findings().stream().map(Finding::id).toList();
  }

  private static Certificate signed(ReceivedRequest intake) {
    return Lanternfish.ISSUING.sign(
        new SigningOrder(intake.draft(), Lifetime.days(30)), KEY, Lanternfish.NOW);
  }

  @Test
  void nobodyBecomesAnAuthorityByAskingForIt() throws Exception {
    byte[] authority = Der.sequence(Der.bool(true), Der.integer(3));
    ReceivedRequest intake =
        take(
            RequestBuilder.of(name("a.lanternfish.example"), KEY)
                .add(new Extension(Oids.BASIC_CONSTRAINTS, true, authority))
                .add(new Extension(Oids.CERTIFICATE_POLICIES, false, Der.sequence()))
                .keyUsage(Set.of(io.symbolon.x509.KeyUsage.CERTIFICATE_SIGNING)),
            Optional.empty());
    assertEquals(List.of("authority-flag-not-granted", "extension-not-copied"), ids(intake));
    Certificate certificate = signed(intake);
    assertFalse(certificate.isAuthority());
    assertEquals(-1, certificate.toX509Certificate().getBasicConstraints());
    assertFalse(certificate.toX509Certificate().getKeyUsage()[5], "it may sign certificates");
    assertTrue(certificate.extensions().find(Oids.CERTIFICATE_POLICIES).isEmpty());
  }

  @Test
  void namesAreTakenByUseAndHostsCanBeOverridden() {
    RequestBuilder asked =
        RequestBuilder.of(name("a.lanternfish.example"), KEY)
            .extendedKeyUsage(Use.BOTH.purposes())
            .alternativeNames(
                List.of(
                    GeneralName.ofHost("a.lanternfish.example"),
                    GeneralName.ofEmail("buoys@lanternfish.example"),
                    GeneralName.ofUri("https://a.lanternfish.example/")));
    assertEquals(List.of(), ids(take(asked, Optional.empty())));
    ReceivedRequest server = take(asked, Optional.of(Use.SERVER), "b.lanternfish.example");
    assertEquals(List.of("use-overridden", "name-not-copied"), ids(server));
    assertEquals(
        List.of(
            "DNS a.lanternfish.example", // the common name
            "DNS b.lanternfish.example",
            "URI https://a.lanternfish.example/"),
        server.draft().names().stream().map(GeneralName::toString).toList());
    assertEquals(
        Use.SERVER.purposes(), signed(server).extensions().extendedKeyUsage().orElseThrow());
  }

  @Test
  void aRequestThatItsKeyDidNotSignIsRefused() {
    KeyPair other = KeyKind.EC_P256.generate(RANDOM);
    CertificateRequest stolen =
        RequestBuilder.of(name("a.lanternfish.example"), KEY).sign(other.getPrivate());
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> ReceivedRequest.of(stolen, Optional.empty(), List.of(), "stolen.csr"));
    assertEquals(Reason.DOES_NOT_FIT, e.reason());
    assertTrue(e.statement().contains("stolen.csr"), e.statement());
  }

  @Test
  void tenThousandHostsAreRefused() {
    List<GeneralName> many = new ArrayList<>();
    for (int i = 0; i < 10_000; i++) {
      many.add(GeneralName.ofHost("h" + i + ".lanternfish.example"));
    }
    ReceivedRequest intake =
        take(
            RequestBuilder.of(name("a.lanternfish.example"), KEY).alternativeNames(many),
            Optional.empty());
    List<Finding> judged =
        Lanternfish.ISSUING.judge(
            new SigningOrder(intake.draft(), Lifetime.days(9)), Lanternfish.NOW, "x");
    assertEquals(List.of("too-many-names"), judged.stream().map(Finding::id).toList());
    assertThrows(SymbolonException.class, () -> signed(intake));
  }
}
