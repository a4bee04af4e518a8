// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.seal.Secret;
import io.symbolon.store.Pkcs12;
import io.symbolon.store.Pkcs12Reader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.List;
import java.util.concurrent.TimeUnit;
import javax.crypto.SecretKeyFactory;
import javax.crypto.spec.PBEKeySpec;
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

/** PKCS#12 opened: one key with its chain, and 150 trusted certificates. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 4, time = 1)
@Measurement(iterations = 5, time = 1)
@Fork(2)
public class OpenStore {
  private byte[] oneKey = new byte[0];
  private byte[] trusted = new byte[0];
  private final List<Secret> secrets = List.of(Secret.of(Material.PASSWORD, "benchmark"));

  /** Makes the stores. */
  @Setup
  public void setUp() throws GeneralSecurityException, IOException {
    Material material = new Material();
    oneKey = material.oneKey();
    trusted = material.trusted(148);
  }

  /** Our reader, one key. */
  @Benchmark
  public Pkcs12 oneKeySymbolon() {
    return Pkcs12Reader.read(oneKey, secrets);
  }

  /** The platform's reader, one key, which it opens only when asked for. */
  @Benchmark
  public Object oneKeyPlatform() throws GeneralSecurityException, IOException {
    return load(oneKey).getKey("ingest", Material.PASSWORD);
  }

  /** Our reader, 150 trusted certificates. */
  @Benchmark
  public Pkcs12 trustedSymbolon() {
    return Pkcs12Reader.read(trusted, secrets);
  }

  /** The platform's reader, 150 trusted certificates. */
  @Benchmark
  public KeyStore trustedPlatform() throws GeneralSecurityException, IOException {
    return load(trusted);
  }

  /** One derivation of 10,000 rounds by the platform: the floor under all of the above. */
  @Benchmark
  public Object derivationPlatform() throws GeneralSecurityException {
    return SecretKeyFactory.getInstance("PBKDF2WithHmacSHA256")
        .generateSecret(new PBEKeySpec(Material.PASSWORD, new byte[20], 10_000, 256))
        .getEncoded();
  }

  private static KeyStore load(byte[] bytes) throws GeneralSecurityException, IOException {
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(new ByteArrayInputStream(bytes), Material.PASSWORD);
    return store;
  }
}
