// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.session;

import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** A stream for results that remembers why something could not be written to it. */
final class CheckedOutput extends PrintStream {
  private final Remembering target;

  private CheckedOutput(Remembering target) {
    super(new java.io.BufferedOutputStream(target, 8192), false, StandardCharsets.UTF_8);
    this.target = target;
  }

  static CheckedOutput to(OutputStream target) {
    return new CheckedOutput(new Remembering(target));
  }

  /** The first failure. */
  Optional<IOException> failure() {
    return Optional.ofNullable(target.failure);
  }

  private static final class Remembering extends FilterOutputStream {
    private @org.jspecify.annotations.Nullable IOException failure;

    Remembering(OutputStream target) {
      super(target);
    }

    @Override
    public void write(byte[] octets, int from, int length) throws IOException {
      try {
        out.write(octets, from, length);
      } catch (IOException e) {
        failure = failure == null ? e : failure;
        throw e;
      }
    }

    @Override
    public void write(int octet) throws IOException {
      write(new byte[] {(byte) octet}, 0, 1);
    }
  }
}
