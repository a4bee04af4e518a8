// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renewal;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.PasswordRecipe;
import io.symbolon.task.PasswordSource;
import io.symbolon.x509.HostName;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What is stored of a renewal is read by today's version, whichever version wrote it. */
class RenewalTextTest {
  private static final String HOST = "ingest.lanternfish.example";

  private static PasswordSource file(String path) {
    return new PasswordSource(PasswordSource.Kind.FILE, path);
  }

  private static RenewalJob whole() {
    return RenewalJob.of(
            List.of(HostName.parse(HOST), HostName.parse("192.0.2.7")), Path.of("/etc/tls/web"))
        .folder()
        .format(Format.PEM)
        .alias("web")
        .owner(Owner.parse("root:tomcat"))
        .keyKind(KeyKind.RSA_3072)
        .unsealed(KeyForm.PKCS1)
        .seal(file("/etc/tls/web.pass"))
        .keySeal(new PasswordSource(PasswordSource.Kind.ENV, "KEY_PASS"))
        .strength(Pkcs12Strength.PBMAC1)
        .newPassword(new PasswordRecipe(40, "AB"), false)
        .unlock(file("/etc/tls/old.pass"))
        .unlock(new PasswordSource(PasswordSource.Kind.EMPTY, ""))
        .root("Lanternfish Root")
        .proof(ProofWay.parse("folder=/var/www"))
        .proof(ProofWay.parse("dns=192.0.2.53:5353"))
        .proof(ProofWay.parse("listen"))
        .dnsKey(Path.of("/etc/tls/dns.key"))
        .server("nginx")
        .home(Path.of("/etc/nginx"))
        .build();
  }

  private static String resource(String name) throws IOException {
    try (InputStream in = RenewalTextTest.class.getResourceAsStream(name)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  @Test
  void aWholeJobComesBackAsItWas() {
    String text = RenewalText.write(whole());
    assertTrue(RenewalText.isToday(text));
    RenewalJob back = RenewalText.read(text);
    assertEquals(text, RenewalText.write(back));
    assertEquals(List.of(HOST, "192.0.2.7"), back.hosts().stream().map(Object::toString).toList());
    assertEquals(Path.of("/etc/tls/web"), back.path());
    assertTrue(back.isFolder() && back.isUnsealed() && !back.hasLineEnd());
    assertEquals(KeyForm.PKCS1, back.keyForm());
    assertEquals(
        "root:tomcat", back.owner().map(one -> one.user() + ":" + one.group().get()).get());
    assertEquals(Pkcs12Strength.PBMAC1, back.strength().orElseThrow());
    assertEquals(new PasswordRecipe(40, "AB"), back.recipe());
    assertEquals(2, back.unlock().size());
    assertEquals("folder=/var/www", back.proofs().get(0).toString());
    assertEquals(Path.of("/etc/nginx"), back.home().orElseThrow());
  }

  @Test
  void whatIsAsUsualIsNotStored() {
    RenewalJob job = RenewalJob.of(List.of(HostName.parse(HOST)), Path.of("/a.p12")).build();
    assertEquals(
        "{\"version\":2,\"hosts\":[\"" + HOST + "\"],\"into\":{\"path\":\"/a.p12\"}}",
        RenewalText.write(job));
  }

  /** Each version that was ever written is kept as it was written. */
  @ParameterizedTest
  @ValueSource(strings = {"version-1.json", "version-2.json"})
  void eachFormThatWasEverWrittenIsReadAndSaysTheSame(String file) throws IOException {
    String stored = resource(file);
    assertEquals(file.equals("version-2.json"), RenewalText.isToday(stored));
    assertEquals(RenewalText.write(whole()), RenewalText.write(RenewalText.read(stored)));
  }

  @Test
  void whatANewerVersionWroteIsRefusedAndNotGuessed() {
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> RenewalText.read("{\"version\":3,\"hosts\":[\"a\"],\"into\":{\"path\":\"/a\"}}"));
    assertEquals(Reason.UNSUPPORTED, e.reason());
    assertTrue(e.seen().contains("3"), e.seen());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "[]",
        "{}",
        "{\"version\":2}",
        "{\"version\":2,\"hosts\":[],\"into\":{\"path\":\"/a\"}}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{}}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\"},\"surprise\":1}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\\u0000\"}}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\",\"format\":\"x\"}}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\"},\"unlock\":[{}]}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\"},\"unlock\":[null]}",
        "{\"version\":2,\"hosts\":[null],\"into\":{\"path\":\"/a\"}}",
        "{\"version\":2,\"hosts\":[\"a.example\"],\"into\":{\"path\":\"/a\"},\"dnsKey\":\"/k\"}",
        "{\"options\":[\"--host\",\"a.example\"]}",
        "{\"options\":[\"--into\",\"/a\"]}",
        "{\"options\":[\"--host\",\"a.example\",\"--into\"]}",
        "{\"options\":\"--host\"}"
      })
  void whatIsDamagedIsRefusedInOneSentence(String stored) {
    SymbolonException e =
        assertThrows(SymbolonException.class, () -> RenewalText.read(stored), stored);
    assertFalse(e.statement().isEmpty());
  }

  @Test
  void aJobThatLacksAPartIsNotMade() {
    assertThrows(
        SymbolonException.class, () -> RenewalJob.of(List.of(), Path.of("/a.p12")).build());
    assertThrows(
        SymbolonException.class,
        () ->
            RenewalJob.of(List.of(HostName.parse(HOST)), Path.of("/a.p12"))
                .home(Path.of("/etc/nginx"))
                .build());
    assertThrows(SymbolonException.class, () -> ProofWay.parse("folder"));
    assertThrows(SymbolonException.class, () -> ProofWay.parse("carrier-pigeon=7"));
    assertThrows(SymbolonException.class, () -> new PasswordSource(PasswordSource.Kind.FILE, ""));
  }
}
