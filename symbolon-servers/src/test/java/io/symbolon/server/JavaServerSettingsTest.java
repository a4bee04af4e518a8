// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.file;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.root;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.issue.Lifetime;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.Wish;
import io.symbolon.x509.RevocationList;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The acceptors of Artemis, and the listeners of WildFly: what is read, changed, kept, refused. */
class JavaServerSettingsTest {
  @TempDir Path home;
  private final Machine machine = Machine.here();
  private final Server artemis = Servers.named("artemis").orElseThrow();
  private final Server wildfly = Servers.named("wildfly").orElseThrow();

  private Wish wish(Mode mode, RevocationList... lists) {
    Wish wish = Wish.of(INGEST.withoutRoot()).withFolder(home.resolve("tls"));
    return mode.asksClients()
        ? wish.withClients(mode, new ClientTrust(List.of(root(), issuing()), List.of(lists)))
        : wish.withMode(mode);
  }

  /** The settings as a change would have them; read back by the server itself. */
  private String changed(Server server, String name, String text, Wish wish) {
    file(home, name, text);
    Installation installation = server.at(machine, home);
    Proposal proposal = server.propose(machine, installation, wish);
    Settings after = server.read(machine.with(proposal.view()), installation);
    TlsPlace place =
        after.places().stream()
            .filter(one -> one.name().equals(proposal.place().name()))
            .findFirst()
            .orElseThrow();
    wish.mode().ifPresent(mode -> assertEquals(mode, place.mode()));
    Proposal again = server.propose(machine.with(proposal.view()), installation, wish);
    assertTrue(again.isNothing(), "a second change is none");
    return proposal.changes().stream()
        .filter(FileChange::settings)
        .map(change -> new String(change.after(), StandardCharsets.UTF_8))
        .findFirst()
        .orElse(text);
  }

  private static String broker(String acceptors) {
    return "<configuration><core>\n  <acceptors>\n"
        + acceptors
        + "\n  </acceptors>\n</core></configuration>\n";
  }

  @Test
  void parametersOfAnAcceptorKeepTheirPlaceAndSpelling() {
    String before =
        broker(
            "    <acceptor name=\"tls\">tcp://[::1]:61617?a=1%202&amp;sslEnabled=false;keyStorePath=old.jks;"
                + "keyStorePassword=p%2Bq;keyStoreAlias=x;z=3</acceptor>");
    String after = changed(artemis, "broker.xml", before, wish(Mode.MUTUAL).withSite("tls"));
    assertTrue(
        after.contains("tcp://[::1]:61617?a=1%202&amp;sslEnabled=true;keyStorePath=" + home),
        after);
    assertTrue(after.contains(";z=3;keyStoreType=PKCS12;enabledProtocols=TLSv1.2,TLSv1.3"), after);
    assertFalse(after.contains("keyStoreAlias"), after);
    assertTrue(after.contains("needClientAuth=true"), after);
    String back = changed(artemis, "broker.xml", after, wish(Mode.ONE_WAY));
    assertFalse(back.contains("trustStore"), back);
    assertFalse(back.contains("needClientAuth"), back);
  }

  @Test
  void acceptorsInClearTextStayAndAreReadInEveryForm() {
    String before =
        broker(
            """
                <acceptor name="in">vm://0</acceptor>
                <acceptor name="clear"><![CDATA[tcp://0.0.0.0:61616?b=1&c=2]]></acceptor>
                <acceptor name="late">tcp://${host:x}:${port}?sslEnabled=true;trustStorePath=t.p12</acceptor>""");
    file(home, "broker.xml", before);
    Settings settings = artemis.read(machine, artemis.at(machine, home));
    assertEquals(List.of("clear", "late"), settings.places().stream().map(TlsPlace::name).toList());
    assertEquals(List.of(), settings.places().get(1).endpoints());
    assertEquals(
        List.of("trust-without-verify", "clear-text-open"),
        settings.findings().stream().map(Finding::id).toList());
    String after = changed(artemis, "broker.xml", before, wish(Mode.ONE_WAY).withPort(61_620));
    assertTrue(after.startsWith(before.substring(0, before.indexOf("\n  </acceptors>"))), after);
    assertTrue(after.contains("<acceptor name=\"tls\">tcp://0.0.0.0:61620?b=1&amp;c=2;ssl"), after);
    assertThrows(
        SymbolonException.class,
        () -> changed(artemis, "broker.xml", broker("<!-- none -->"), wish(Mode.ONE_WAY)));
    assertThrows(
        SymbolonException.class,
        () -> changed(artemis, "broker.xml", "<configuration><core>", wish(Mode.ONE_WAY)));
  }

  private static String standalone(String version, String tls, String listener) {
    return """
    <server xmlns="urn:jboss:domain:20.0">
      <management><management-interfaces><http-interface>
        <socket-binding http="management-http"/>
      </http-interface></management-interfaces></management>
      <profile>
        <subsystem xmlns="urn:wildfly:elytron:{version}">{tls}</subsystem>
        <subsystem xmlns="urn:wildfly:elytron-oidc-client:2.0"/>
        <subsystem xmlns="urn:jboss:domain:undertow:14.0">
          <server name="s">{listener}</server>
        </subsystem>
      </profile>
      <interfaces><interface name="public"><inet-address value="${b:0.0.0.0}"/></interface></interfaces>
      <socket-binding-group name="g" default-interface="public" port-offset="${o:100}">
        <socket-binding name="https" port="${p:${q:8443}}"/>
        <socket-binding name="management-http" port="9990"/>
        <socket-binding name="management-https" port="9993"/>
      </socket-binding-group>
    </server>
    """
        .replace("{version}", version)
        .replace("{tls}", tls)
        .replace("{listener}", listener);
  }

  private static final String LISTENER =
      "<https-listener name='https' socket-binding='https' verify-client='REQUIRED'/>";

  @Test
  void aListenerGetsPartsOfItsOwn() {
    String after =
        changed(
            wildfly,
            "standalone.xml",
            standalone("18.0", "", LISTENER),
            wish(Mode.MUTUAL).withPort(9_443));
    assertTrue(after.contains("port=\"9343\""), after); // and 100 are added to it
    assertTrue(after.contains("cipher-suite-names=\"TLS_AES_256_GCM_SHA384:"), after);
    assertFalse(after.contains("verify-client"), after);
    String back = changed(wildfly, "standalone.xml", after, wish(Mode.OPTIONAL));
    assertTrue(back.contains("want-client-auth=\"true\""), back);
    assertFalse(back.contains("need-client-auth"), back);
    String management =
        changed(wildfly, "standalone.xml", back, wish(Mode.ONE_WAY).withSite("management"));
    assertTrue(management.contains("https=\"management-https\""), management);
    assertTrue(management.contains("name=\"symbolon-https\""), "the other one stays");
  }

  /** Nobody stops asking clients by the way. */
  @Test
  void aRenewalAsksAsTheContextOfBeforeDid() {
    String tls =
        "<tls><trust-managers><trust-manager name='t' key-store='k'/></trust-managers>"
            + "<server-ssl-contexts><server-ssl-context name='c' need-client-auth='true'"
            + " protocols='TLSv1.3'"
            + " trust-manager='t'/></server-ssl-contexts></tls>";
    String before =
        standalone(
            "8.0", tls, "<https-listener name='https' socket-binding='https' ssl-context='c'/>");
    file(home, "standalone.xml", before);
    Installation installation = wildfly.at(machine, home);
    Wish renewal = Wish.of(INGEST.withoutRoot()).withFolder(home.resolve("tls"));
    Proposal proposal = wildfly.propose(machine, installation, renewal);
    TlsPlace place = wildfly.read(machine.with(proposal.view()), installation).places().get(0);
    assertEquals(Mode.MUTUAL, place.mode());
    assertEquals(Optional.of("TLSv1.3"), place.protocols());
    assertEquals(8_543, place.endpoints().get(0).port());
  }

  @Test
  void whatAnOldWildflyDoesNotHaveIsNotWritten() {
    RevocationList list = ISSUING.revocationList(List.of(), BigInteger.ONE, NOW, Lifetime.days(7));
    String one =
        changed(
            wildfly, "standalone.xml", standalone("13.0", "", LISTENER), wish(Mode.MUTUAL, list));
    assertTrue(one.contains("<certificate-revocation-list path="), one);
    assertFalse(one.contains("revocation-lists>"), one);
    assertThrows(
        SymbolonException.class,
        () ->
            changed(
                wildfly,
                "standalone.xml",
                standalone("13.0", "", LISTENER),
                wish(Mode.MUTUAL, list, list)));
    String several =
        changed(
            wildfly,
            "standalone.xml",
            standalone("14.0", "", LISTENER),
            wish(Mode.MUTUAL, list, list));
    assertTrue(several.contains("<certificate-revocation-lists>"), several);
    assertFalse(
        changed(wildfly, "standalone.xml", standalone("8.0", "", LISTENER), wish(Mode.ONE_WAY))
            .contains("cipher-suite-names"));
    String none = standalone("18.0", "", LISTENER).replace("urn:wildfly:elytron:", "urn:other:");
    assertThrows(
        SymbolonException.class,
        () -> changed(wildfly, "standalone.xml", none, wish(Mode.ONE_WAY)));
    String byName =
        standalone(
            "18.0",
            "<tls><server-ssl-sni-contexts><server-ssl-sni-context name='n' default-ssl-context='c'/>"
                + "</server-ssl-sni-contexts></tls>",
            "<https-listener name='https' socket-binding='https' ssl-context='n'/>");
    assertThrows(
        SymbolonException.class,
        () -> changed(wildfly, "standalone.xml", byName, wish(Mode.ONE_WAY)));
    assertThrows(
        SymbolonException.class,
        () -> changed(wildfly, "standalone.xml", "<domain/>", wish(Mode.ONE_WAY)));
  }
}
