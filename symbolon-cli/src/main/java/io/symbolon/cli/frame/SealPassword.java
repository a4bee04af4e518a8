// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Optional;

/**
 * The password for what is written, and the file that a new one is saved in.
 *
 * @param secret the password
 * @param saveTo where a new one shall be saved
 * @param existing what to do about a file that is there
 * @param lineEnd whether a line end is written behind a new one
 */
public record SealPassword(
    Secret secret, Optional<Path> saveTo, Existing existing, boolean lineEnd) {
  private static final int LEAST = 8; // characters; fewer are guessed in no time

  /** With a line end behind a new one. */
  public SealPassword(Secret secret, Optional<Path> saveTo, Existing existing) {
    this(secret, saveTo, existing, true);
  }

  /** The same with a line end behind a new one, or without. */
  public SealPassword withLineEnd(boolean wanted) {
    return new SealPassword(secret, saveTo, existing, wanted);
  }

  /** The file that a new password is saved in, owner-only; the caller wipes its content. */
  public Optional<FileSet.Item> item() {
    if (saveTo.isEmpty()) {
      return Optional.empty();
    }
    byte[] characters = secret.revealUtf8();
    byte[] line = Arrays.copyOf(characters, characters.length + (lineEnd ? 1 : 0));
    if (lineEnd) {
      line[characters.length] = '\n';
    }
    Arrays.fill(characters, (byte) 0);
    return Optional.of(new FileSet.Item(saveTo.get(), line, Privacy.OWNER_ONLY, existing));
  }

  /** What is to be said of the password for a private key. */
  public Optional<Finding> weakness(String where) {
    if (secret.length() >= LEAST) {
      return Optional.empty();
    }
    return Optional.of(
        Finding.of(
            FindingKind.WEAK_PASSWORD,
            where,
            secret.isEmpty()
                ? "The private key is sealed with the empty password: it is not protected at all."
                : "The password has " + secret.length() + " characters and can be guessed.",
            "Seal it with a longer one, or let one be made with --seal new=PATH."));
  }

  /** Where the password can be read again, as {@code --unlock} takes it. */
  public String source() {
    return saveTo.map(path -> "file=" + path).orElse(secret.source());
  }

  /** Where the password is, in words. */
  public String description() {
    return saveTo
        .map(path -> "the new password in " + io.symbolon.text.VisibleText.of(path.toString()))
        .orElse("the password from " + secret.source());
  }
}
