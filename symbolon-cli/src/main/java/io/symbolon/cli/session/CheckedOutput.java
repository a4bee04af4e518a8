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
  private final boolean ascii;

  private CheckedOutput(Remembering target, boolean ascii) {
    super(
        new java.io.BufferedOutputStream(target, 8192),
        false,
        ascii ? StandardCharsets.US_ASCII : StandardCharsets.UTF_8);
    this.target = target;
    this.ascii = ascii;
  }

  /** To a target; for a terminal of ASCII alone, whatever else there is becomes a question mark. */
  static CheckedOutput to(OutputStream target, boolean ascii) {
    return new CheckedOutput(new Remembering(target), ascii);
  }

  @Override
  public void print(String text) {
    super.print(ascii ? text.replace('\u2514', '`').replace("\u2026", "...") : text);
  }

  @Override
  public void println(String text) {
    print(text + System.lineSeparator());
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
