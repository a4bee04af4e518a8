// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import static io.symbolon.fixture.Lanternfish.INGEST;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.name;
import static io.symbolon.fixture.Lanternfish.root;
import static io.symbolon.fixture.Lanternfish.secret;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTimeout;

import io.symbolon.chain.CertificateJudge;
import io.symbolon.chain.SystemRoots;
import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.fixture.Forge;
import io.symbolon.limit.WorkBudget;
import io.symbolon.oid.Oid;
import io.symbolon.seal.Secret;
import io.symbolon.x509.ExtensionText;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Files of 1 MiB that are made to cost much: each takes a fraction of a second, and what grows with
 * the square of its size would take minutes. The limit here only tells the two apart.
 */
class HostileSizesTest {
  private static final int SIZE = 1 << 20;
  private static final List<Secret> UNLOCK = List.of(secret("geheim"));

  static Stream<Arguments> files() {
    byte[] algorithm = Forge.algorithm(Oids.RSA_SHA256);
    byte[] dns = Der.contextPrimitive(2, text("a.lanternfish.example"));
    byte[] bag = Der.sequence(Der.oid(Oid.of("1.2.3")), Der.context(0, Der.nul()));
    byte[] keyBag =
        Der.sequence(
            Der.oid(Oids.KEY_BAG), Der.context(0, Der.sequence(Der.integer(0), Der.nul())));
    byte[] extension = Der.sequence(Der.oid(Oid.of("1.2.3")), Der.octets(new byte[0]));
    byte[] revoked = Der.sequence(Der.integer(17), Der.time(root().notBefore()));
    byte[] part = Der.setOf(List.of(Der.sequence(Der.oid(Oids.OU), Der.utf8("x"))));
    byte[] oid = new byte[SIZE];
    Arrays.fill(oid, (byte) 0xFF);
    return Stream.of(
        Arguments.of("zeros", new byte[SIZE]),
        Arguments.of("sequences in sequences", repeated(new byte[] {0x30, (byte) 0x80})),
        Arguments.of("empty values", Der.tagged(0x30, repeated(Der.nul()))),
        Arguments.of("lines that open", repeated(text("-----BEGIN CERTIFICATE-----\n"))),
        Arguments.of("lines that close", repeated(text("-----END CERTIFICATE-----\n"))),
        Arguments.of("glued boundaries", repeated(text("-----BEGIN A----------END A-----"))),
        Arguments.of(
            "glued boundaries behind marks of quoting",
            joined(repeated(text(">")), repeated(text("-----END A-----")))),
        Arguments.of("hyphens", repeated(text("-"))),
        Arguments.of("dashes", repeated(text("\u2014BEGIN "))),
        Arguments.of("equals signs", joined(text("-----BEGIN A-----\n"), repeated(text("=\n")))),
        Arguments.of("headers", joined(text("-----BEGIN A-----\n"), repeated(text("a: b\n c\n")))),
        Arguments.of("bare Base64", Base64.getMimeEncoder().encode(repeated(Der.nul()))),
        Arguments.of("unknown bags", pkcs12(repeated(bag))),
        Arguments.of("broken keys", pkcs12(repeated(keyBag))),
        Arguments.of("nested bags", pkcs12(nestedBags())),
        Arguments.of("entries of a Java keystore", javaStore()),
        Arguments.of(
            "names of hosts",
            certificate(Forge.extension(Oids.SUBJECT_ALT_NAME, Der.tagged(0x30, repeated(dns))))),
        Arguments.of("a long identifier", certificate(Forge.extension(Oids.KEY_USAGE, oid))),
        Arguments.of("an identifier without an end", Der.sequence(Der.tagged(6, oid), Der.nul())),
        Arguments.of("extensions", certificate(repeated(extension))),
        Arguments.of(
            "revoked certificates",
            Der.sequence(
                Der.sequence(
                    Der.integer(1),
                    algorithm,
                    name("Lanternfish Root").encoding(),
                    Der.time(root().notBefore()),
                    Der.tagged(0x30, repeated(revoked))),
                algorithm,
                Der.bits(new byte[256]))),
        Arguments.of(
            "a request for a long name",
            Der.sequence(
                Der.sequence(
                    Der.integer(0),
                    Der.tagged(0x30, repeated(part)),
                    INGEST.certificate().publicKey().encoding(),
                    Der.context(0)),
                algorithm,
                Der.bits(new byte[256]))));
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("files")
  void isReadOrRefusedInTime(String what, byte[] content) {
    assertTimeout(
        Duration.ofMinutes(1),
        () -> {
          WorkBudget budget = WorkBudget.full();
          budget.wasRead(content.length);
          FileSurvey file = new ContentReader(UNLOCK, budget).read(Path.of("x"), content);
          Survey survey =
              Survey.of(
                  List.of(file),
                  List.of(),
                  List.of(),
                  List.of(),
                  new CertificateJudge(NOW),
                  SystemRoots.none(),
                  budget);
          for (Holding holding : file.holdings()) {
            if (holding instanceof Holding.Cert cert) {
              cert.certificate().extensions().all().forEach(ExtensionText::values);
            }
          }
          assertFalse(survey.findings().size() > 5_000, "findings are bounded");
        });
  }

  private static byte[] text(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private static byte[] repeated(byte[] what) {
    byte[] all = new byte[SIZE / what.length * what.length];
    for (int i = 0; i < all.length; i++) {
      all[i] = what[i % what.length];
    }
    return all;
  }

  private static byte[] joined(byte[] a, byte[] b) {
    byte[] all = Arrays.copyOf(a, a.length + b.length);
    System.arraycopy(b, 0, all, a.length, b.length);
    return all;
  }

  private static byte[] pkcs12(byte[] bags) {
    byte[] part =
        Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.tagged(0x30, bags))));
    return Der.sequence(
        Der.integer(3),
        Der.sequence(Der.oid(Oids.DATA), Der.context(0, Der.octets(Der.sequence(part)))));
  }

  private static byte[] nestedBags() {
    byte[] bag = Der.sequence(Der.oid(Oid.of("1.2.3")), Der.context(0, Der.nul()));
    for (int i = 0; i < 2_000; i++) {
      bag = Der.sequence(Der.oid(Oids.SAFE_CONTENTS_BAG), Der.context(0, Der.sequence(bag)));
    }
    return bag;
  }

  /** A JKS that says it holds as many entries as fit, each a trusted certificate of no octets. */
  private static byte[] javaStore() {
    ByteBuffer buffer = ByteBuffer.allocate(SIZE);
    buffer.putInt(io.symbolon.store.JavaStore.JKS_MAGIC).putInt(2).putInt(99_999);
    byte[] type = text("X.509");
    while (buffer.remaining() > 100) {
      buffer.putInt(2).putShort((short) 1).put((byte) 'a').putLong(0);
      buffer.putShort((short) type.length).put(type).putInt(0);
    }
    return buffer.array();
  }

  private static byte[] certificate(byte[] extensions) {
    byte[] algorithm = Forge.algorithm(Oids.RSA_SHA256);
    return Der.sequence(
        Forge.tbs(INGEST.certificate(), algorithm, extensions), algorithm, Der.bits(new byte[256]));
  }
}
