// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.RANDOM;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.name;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.der.Der;
import io.symbolon.key.KeyKind;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateBuilder;
import io.symbolon.x509.Extension;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.cert.CertPathValidator;
import java.security.cert.CertPathValidatorException;
import java.security.cert.CertificateFactory;
import java.security.cert.PKIXParameters;
import java.security.cert.PKIXReason;
import java.security.cert.TrustAnchor;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.OptionalInt;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Policies of a path (RFC 5280, 6.1): what is refused is what Java's own validator refuses. */
class PolicyCheckTest {
  private static final String ANY = "2.5.29.32.0";
  private static final List<String> POLICIES = List.of("1.2.3.1", "1.2.3.2", ANY);
  private static final int PATHS = 600;

  private final KeyPair pair = KeyKind.EC_P256.generate(RANDOM); // one signs all: names tell apart
  private final Random random = new Random(42);
  private final StringBuilder made = new StringBuilder();

  private boolean oneIn(int many) {
    return random.nextInt(many) == 0;
  }

  private static byte[] oid(String dotted) {
    return Der.oid(Oid.of(dotted));
  }

  /** Policies, mappings and constraints as chance has it. */
  private void extensions(CertificateBuilder builder, boolean authority) {
    if (!oneIn(4)) {
      List<byte[]> policies = new ArrayList<>();
      for (String policy : POLICIES) {
        if (oneIn(2)) {
          policies.add(Der.sequence(oid(policy)));
          made.append(' ').append(policy);
        }
      }
      if (!policies.isEmpty()) {
        add(builder, "2.5.29.32", Der.sequence(policies));
      }
    }
    if (authority && oneIn(3)) {
      String from = POLICIES.get(random.nextInt(2));
      String to = POLICIES.get(random.nextInt(2));
      made.append(" maps ").append(from).append(" to ").append(to);
      add(builder, "2.5.29.33", Der.sequence(Der.sequence(oid(from), oid(to))));
    }
    if (oneIn(2)) {
      List<byte[]> constraints = new ArrayList<>();
      for (int tag = 0; tag < 2; tag++) {
        if (oneIn(2) || (tag == 1 && constraints.isEmpty())) {
          int skip = random.nextInt(3);
          made.append(tag == 0 ? " requires after " : " maps no more after ").append(skip);
          constraints.add(Der.tagged(0x80 | tag, new byte[] {(byte) skip}));
        }
      }
      add(builder, "2.5.29.36", Der.sequence(constraints));
    }
    if (authority && oneIn(4)) {
      int skip = random.nextInt(3);
      made.append(" any no more after ").append(skip);
      add(builder, "2.5.29.54", Der.integer(skip));
    }
  }

  /** Constraints are critical (RFC 5280, 4.2.1.11 and 14); Java ignores one that is not. */
  private static void add(CertificateBuilder builder, String oid, byte[] value) {
    boolean critical = oid.equals("2.5.29.36") || oid.equals("2.5.29.54");
    builder.add(new Extension(Oid.of(oid), critical, value));
  }

  private CertificateBuilder builder(String commonName) {
    return CertificateBuilder.of(name(commonName), SubjectPublicKeyInfo.of(pair.getPublic()))
        .validity(NOW.minus(Duration.ofDays(1)), NOW.plus(YEAR));
  }

  /** End-entity first, the root last; some intermediates are issued by their own name. */
  private List<Certificate> path() {
    List<Certificate> path = new ArrayList<>();
    Certificate root =
        builder("Root").authority(OptionalInt.empty()).signSelf(pair.getPrivate(), RANDOM);
    path.add(root);
    Certificate above = root;
    String above1 = "Root";
    int intermediates = 1 + random.nextInt(3);
    for (int i = 0; i < intermediates; i++) {
      String own = oneIn(5) ? above1 : "Intermediate " + i;
      made.append("\n").append(own);
      CertificateBuilder builder = builder(own).authority(OptionalInt.empty());
      extensions(builder, true);
      above = builder.sign(above, pair.getPrivate(), RANDOM);
      above1 = own;
      path.add(above);
    }
    made.append("\nend");
    CertificateBuilder end = builder("buoy-017").endEntity();
    extensions(end, false);
    path.add(end.sign(above, pair.getPrivate(), RANDOM));
    Collections.reverse(path);
    return path;
  }

  private static boolean isAcceptedByJava(List<Certificate> path) throws GeneralSecurityException {
    List<X509Certificate> certificates =
        path.subList(0, path.size() - 1).stream().map(Certificate::toX509Certificate).toList();
    PKIXParameters parameters =
        new PKIXParameters(
            Set.of(new TrustAnchor(path.get(path.size() - 1).toX509Certificate(), null)));
    parameters.setRevocationEnabled(false);
    try {
      CertPathValidator.getInstance("PKIX")
          .validate(
              CertificateFactory.getInstance("X.509").generateCertPath(certificates), parameters);
      return true;
    } catch (CertPathValidatorException e) {
      assertEquals(PKIXReason.INVALID_POLICY, e.getReason(), e.toString());
      return false;
    }
  }

  @Test
  void whatJavaRefusesForItsPoliciesIsRefused() throws Exception {
    int refused = 0;
    for (int i = 0; i < PATHS; i++) {
      made.setLength(0);
      List<Certificate> path = path();
      boolean java = isAcceptedByJava(path);
      assertEquals(java, PolicyCheck.firstRefused(path).isEmpty(), () -> made.toString());
      refused += java ? 0 : 1;
    }
    assertTrue(refused > PATHS / 10 && refused < PATHS * 9 / 10, "both happen: " + refused);
  }
}
