// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.x509.Certificate;
import java.io.ByteArrayInputStream;
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
import org.openjdk.jmh.annotations.OperationsPerInvocation;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.openjdk.jmh.infra.Blackhole;

/**
 * Certificates identified: from the octets to what tells one from another and says when it is valid
 * (structure checked, serial number, validity, algorithm of the key). The platform's reader has no
 * cheaper way than to read all.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.NANOSECONDS)
@Warmup(iterations = 4, time = 1)
@Measurement(iterations = 5, time = 1)
@Fork(2)
public class Identify {
  private static final int COUNT = 202;

  private List<byte[]> certificates = List.of();

  /** Makes the certificates. */
  @Setup
  public void setUp() {
    certificates = new Material().certificates(COUNT - 2);
  }

  /** Our reader. */
  @Benchmark
  @OperationsPerInvocation(COUNT)
  public void symbolon(Blackhole hole) {
    for (byte[] der : certificates) {
      Certificate certificate = Certificate.read(der);
      hole.consume(certificate.serial());
      hole.consume(certificate.notAfter());
      hole.consume(certificate.publicKey().algorithm());
    }
  }

  /** Our reader, with the fingerprint and the identifier of the key besides. */
  @Benchmark
  @OperationsPerInvocation(COUNT)
  public void symbolonWithFingerprints(Blackhole hole) {
    for (byte[] der : certificates) {
      Certificate certificate = Certificate.read(der);
      hole.consume(certificate.sha256());
      hole.consume(certificate.keyId());
    }
  }

  /** The platform's reader. */
  @Benchmark
  @OperationsPerInvocation(COUNT)
  public void platform(Blackhole hole) throws CertificateException {
    CertificateFactory factory = CertificateFactory.getInstance("X.509");
    for (byte[] der : certificates) {
      // A changed copy, since the platform keeps those it has read in a cache of 750.
      X509Certificate certificate =
          (X509Certificate) factory.generateCertificate(new ByteArrayInputStream(fresh(der)));
      hole.consume(certificate.getSerialNumber());
      hole.consume(certificate.getNotAfter());
      hole.consume(certificate.getPublicKey().getAlgorithm());
    }
  }

  private int round;

  /** The certificate with other octets at the end of its signature, which nobody checks here. */
  private byte[] fresh(byte[] der) {
    byte[] copy = der.clone();
    int value = ++round;
    copy[copy.length - 1] = (byte) value;
    copy[copy.length - 2] = (byte) (value >>> 8);
    copy[copy.length - 3] = (byte) (value >>> 16);
    return copy;
  }
}
