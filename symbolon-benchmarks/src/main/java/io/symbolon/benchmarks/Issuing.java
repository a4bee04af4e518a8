// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;
import org.openjdk.jmh.annotations.Warmup;

/**
 * A thousand client credentials on P-256, made, signed and on record in the folder of an authority,
 * beside what the platform needs to make as many keys and signatures on the same cores.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 6, time = 3)
@Measurement(iterations = 8, time = 3)
@Fork(2)
public class Issuing {
  private static final int CREDENTIALS = 1_000;

  private final SecureRandom random = new SecureRandom();
  private Path folder;
  private SigningAuthority authority;
  private List<SigningOrder> orders;
  private KeyPair signer;
  private int run;

  /** A folder in the working directory: a disk, and not a file system in memory. */
  @Setup(Level.Trial)
  public void prepare() throws IOException, GeneralSecurityException {
    folder = Files.createTempDirectory(Path.of("").toAbsolutePath(), ".issuing-");
    signer = BareSigning.pair();
    orders =
        IntStream.range(0, CREDENTIALS)
            .mapToObj(
                i ->
                    new SigningOrder(
                        new RequestDraft(
                            DistinguishedName.parse("CN=buoy-" + i + ",O=Lanternfish Observatory"),
                            List.of(),
                            Use.CLIENT),
                        Lifetime.days(397)))
            .toList();
  }

  /** A new authority for each iteration, so that the register does not grow without end. */
  @Setup(Level.Iteration)
  public void found() {
    authority =
        SigningAuthority.found(
            folder.resolve("authority-" + run++),
            AuthorityPlan.of(
                DistinguishedName.parse("CN=Lanternfish Root"),
                KeyKind.EC_P256,
                Lifetime.years(10)),
            Optional.empty(),
            Secret.of("a password".toCharArray(), "benchmark"),
            random,
            Clock.systemUTC());
  }

  /** Removes what was written. */
  @TearDown(Level.Trial)
  public void remove() throws IOException {
    BareSigning.delete(folder);
  }

  /** Ours: keys, certificates, register and files. */
  @Benchmark
  public List<Object> symbolon() {
    List<Object> all = new ArrayList<>();
    authority.issue(orders, KeyKind.EC_P256, all::addAll);
    return all;
  }

  /** The platform's: keys and signatures alone. */
  @Benchmark
  public List<byte[]> platform() {
    return IntStream.range(0, CREDENTIALS).parallel().mapToObj(i -> keyAndSignature()).toList();
  }

  private byte[] keyAndSignature() {
    try {
      return BareSigning.sign(signer, BareSigning.pair().getPublic().getEncoded());
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(e);
    }
  }
}
