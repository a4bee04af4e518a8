// SPDX-License-Identifier: Apache-2.0
package io.symbolon.benchmarks;

import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Surveyor;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;
import org.openjdk.jmh.infra.Blackhole;

/** A store of 200 keys, every key of it opened, by the platform's writer with its own settings. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 2, time = 3)
@Measurement(iterations = 4, time = 4)
@Fork(2)
public class ManyKeys {
  /** The kind of store. */
  @Param({"PKCS12", "JKS", "JCEKS"})
  public String type = "PKCS12";

  private byte[] store = new byte[0];
  private final Secret secret = Secret.of(Material.PASSWORD, "benchmark");

  /** Makes the store. */
  @Setup
  public void setUp() throws GeneralSecurityException, IOException {
    store = new Material().keys(type, 200);
  }

  /** Our reader. */
  @Benchmark
  public FileSurvey symbolon() {
    return Surveyor.create().withUnlock(List.of(secret)).read(Path.of("store"), store);
  }

  /** The platform's reader, asked for each key. */
  @Benchmark
  public void platform(Blackhole hole) throws GeneralSecurityException, IOException {
    KeyStore loaded = KeyStore.getInstance(type);
    loaded.load(new ByteArrayInputStream(store), Material.PASSWORD);
    for (String alias : Collections.list(loaded.aliases())) {
      hole.consume(loaded.getKey(alias, Material.PASSWORD));
      hole.consume(loaded.getCertificateChain(alias));
    }
  }
}
