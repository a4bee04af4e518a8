// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.pem.PemBlock;
import io.symbolon.pem.PemReader;
import io.symbolon.pem.PemWriter;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.security.cert.CertificateException;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.openjdk.jmh.infra.Blackhole;

/**
 * Certificates decoded whole: both names as text, validity, public key, and every extension that
 * says something for TLS. Alone, and out of a PEM bundle of 10,000 (a hundred different ones, each
 * changed where nobody looks, so that no cache helps).
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 4, time = 1)
@Measurement(iterations = 5, time = 1)
@Fork(2)
public class Decode {
  private static final int DIFFERENT = 100;
  private static final int BUNDLE = 10_000;

  private List<byte[]> certificates = List.of();
  private byte[] bundle = new byte[0];
  private int round;

  /** Makes the certificates and the bundle. */
  @Setup
  public void setUp() {
    certificates = new Material().certificates(DIFFERENT - 2);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (int i = 0; i < BUNDLE; i++) {
      out.writeBytes(PemWriter.write("CERTIFICATE", fresh(certificates.get(i % DIFFERENT))));
    }
    bundle = out.toByteArray();
  }

  /** A hundred certificates, our reader. */
  @Benchmark
  public void wholeSymbolon(Blackhole hole) {
    for (byte[] der : certificates) {
      Certificate certificate = Certificate.readWhole(fresh(der));
      hole.consume(certificate.subject().toString());
      hole.consume(certificate.issuer().toString());
      hole.consume(certificate.serial());
      hole.consume(certificate.notBefore());
      hole.consume(certificate.notAfter());
      hole.consume(certificate.publicKey().description());
      hole.consume(certificate.extensions().basicConstraints());
      hole.consume(certificate.extensions().keyUsage());
      hole.consume(certificate.extensions().extendedKeyUsage());
      hole.consume(certificate.alternativeNames());
      hole.consume(certificate.extensions().subjectKeyIdentifier());
      hole.consume(certificate.extensions().authorityKeyIdentifier());
    }
  }

  /** A hundred certificates, the platform's reader. */
  @Benchmark
  public void wholePlatform(Blackhole hole) throws CertificateException {
    CertificateFactory factory = CertificateFactory.getInstance("X.509");
    for (byte[] der : certificates) {
      X509Certificate certificate =
          (X509Certificate) factory.generateCertificate(new ByteArrayInputStream(fresh(der)));
      hole.consume(certificate.getSubjectX500Principal().getName());
      hole.consume(certificate.getIssuerX500Principal().getName());
      hole.consume(certificate.getSerialNumber());
      hole.consume(certificate.getNotBefore());
      hole.consume(certificate.getNotAfter());
      hole.consume(certificate.getPublicKey());
      hole.consume(certificate.getBasicConstraints());
      hole.consume(certificate.getKeyUsage());
      hole.consume(certificate.getExtendedKeyUsage());
      hole.consume(certificate.getSubjectAlternativeNames());
      hole.consume(certificate.getExtensionValue("2.5.29.14"));
      hole.consume(certificate.getExtensionValue("2.5.29.35"));
    }
  }

  /** The bundle, our readers. */
  @Benchmark
  public void bundleSymbolon(Blackhole hole) {
    for (PemBlock block : PemReader.read(bundle).blocks()) {
      hole.consume(Certificate.readWhole(block.content()));
    }
  }

  /** The bundle, the platform's reader. */
  @Benchmark
  public void bundlePlatform(Blackhole hole) throws CertificateException {
    hole.consume(
        CertificateFactory.getInstance("X.509")
            .generateCertificates(new ByteArrayInputStream(bundle)));
  }

  private byte[] fresh(byte[] der) {
    byte[] copy = der.clone();
    int value = ++round;
    copy[copy.length - 1] = (byte) value;
    copy[copy.length - 2] = (byte) (value >>> 8);
    copy[copy.length - 3] = (byte) (value >>> 16);
    return copy;
  }
}
