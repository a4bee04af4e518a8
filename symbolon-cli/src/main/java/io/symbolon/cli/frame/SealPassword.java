// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.seal.PasswordPlace;
import io.symbolon.seal.Secret;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The password for what is written, and the file that a new one is saved in.
 *
 * @param secret the password
 * @param saveTo where a new one shall be saved
 * @param existing what to do about a file that is there
 * @param made how a new one is made and saved
 */
public record SealPassword(
    Secret secret, Optional<Path> saveTo, Existing existing, NewPassword made) {
  private static final int LEAST = 8; // characters; fewer are guessed in no time

  /** One that is known. */
  public SealPassword(Secret secret, Existing existing) {
    this(secret, Optional.empty(), existing, NewPassword.USUAL);
  }

  /** The file that a new password is saved in, owner-only; the caller wipes its content. */
  public Optional<FileSet.Item> item() {
    if (saveTo.isEmpty()) {
      return Optional.empty();
    }
    byte[] characters = secret.revealUtf8();
    byte[] line = Arrays.copyOf(characters, characters.length + (made.lineEnd() ? 1 : 0));
    if (made.lineEnd()) {
      line[characters.length] = '\n';
    }
    Arrays.fill(characters, (byte) 0);
    return Optional.of(new FileSet.Item(saveTo.get(), line, Privacy.OWNER_ONLY, existing));
  }

  /** What is to be said of the password for a private key. */
  public List<Finding> remarks(String where) {
    List<Finding> findings = new ArrayList<>();
    weakness(where).ifPresent(findings::add);
    Set<PasswordPlace> places = PasswordPlace.misreading(secret);
    if (!places.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.PASSWORD_TAKEN_APART,
              where,
              "The password has characters that are not taken as they stand in "
                  + places.stream().map(PasswordPlace::title).collect(Collectors.joining(", "))
                  + ".",
              "Where it is written there, write them as that place wants; or let a password of"
                  + " letters and digits be made with --seal new=PATH."));
    }
    return findings;
  }

  private Optional<Finding> weakness(String where) {
    if (saveTo.isPresent() && made.recipe().isWeak()) {
      return Optional.of(
          Finding.of(
              FindingKind.WEAK_PASSWORD,
              where,
              "The new password has "
                  + made.recipe().bits()
                  + " bits: whoever has the file can guess it with much work.",
              "Make it longer with --new-length, if its place takes that."));
    }
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
