// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeRead;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.text.Hex;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.SignatureAlgorithm;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.security.PrivateKey;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;

/**
 * How long the register was when the authority last signed something, and what it said: signed with
 * the authority's key. Whoever can write the folder and does not have the key can take lines from
 * the register, but cannot make a head for what is left; the next command tells. Only an older
 * register together with the older head that belonged to it goes unseen: against that helps a copy
 * elsewhere.
 */
final class RegisterHead {
  static final String NAME = "register.head";

  private static final String FIRST_LINE = "symbolon register head 1";

  private final Path file;

  RegisterHead(Path file) {
    this.file = file;
  }

  /** The head of a register with this content. */
  static byte[] of(byte[] register, PrivateKey key) {
    String said =
        FIRST_LINE + "\nlength " + register.length + "\nsha256 " + Hex.sha256(register) + "\n";
    byte[] signature =
        SignatureAlgorithm.forKey(key).sign(said.getBytes(StandardCharsets.US_ASCII), key);
    return (said + "signature " + Base64.getEncoder().encodeToString(signature) + "\n")
        .getBytes(StandardCharsets.US_ASCII);
  }

  /** Writes the head of the register as it is now; the one before it is not kept. */
  void write(byte[] register, PrivateKey key) {
    List<WrittenItem> unused =
        FileSet.write(
            List.of(
                new FileItem(file, of(register, key), Privacy.SYSTEM_DEFAULT, Existing.REPLACE)
                    .withoutUndo()));
  }

  /** What is to be said of the register, which must go on from where its head says. */
  Optional<Finding> check(byte[] register, Certificate authority) {
    String where = VisibleText.of(file.toString());
    byte[] content;
    try {
      content =
          SafeRead.named(file, Limits.REGISTER_HEAD_BYTES, Limits.REGISTER_HEAD_BYTES).octets();
    } catch (NoSuchFileException e) {
      return Optional.of(wrong(where, "The signed head of the register is missing."));
    } catch (IOException e) {
      return Optional.of(wrong(where, "The signed head of the register can't be read."));
    }
    String text = new String(content, StandardCharsets.US_ASCII);
    int at = text.indexOf("signature ");
    String[] lines = text.split("\n", -1);
    if (at < 0 || lines.length < 4 || !lines[0].equals(FIRST_LINE)) {
      return Optional.of(wrong(where, "The signed head of the register is damaged."));
    }
    try {
      byte[] signature = Base64.getDecoder().decode(text.substring(at + 10).strip());
      byte[] said = text.substring(0, at).getBytes(StandardCharsets.US_ASCII);
      if (!SignatureAlgorithm.isSigned(said, signature, authority.publicKey().toPublicKey())) {
        return Optional.of(
            wrong(where, "The head of the register is not signed by the authority's key."));
      }
      int length = Integer.parseInt(lines[1].substring("length ".length()));
      String digest = lines[2].substring("sha256 ".length());
      if (register.length < length || !Hex.sha256(Arrays.copyOf(register, length)).equals(digest)) {
        return Optional.of(
            wrong(
                where,
                "The register is not what it was when the authority last signed: lines were taken"
                    + " from it, changed or written anew."));
      }
      return Optional.empty();
    } catch (IllegalArgumentException | IndexOutOfBoundsException | SymbolonException e) {
      return Optional.of(wrong(where, "The signed head of the register is damaged."));
    }
  }

  private static Finding wrong(String where, String statement) {
    return Finding.of(
        FindingKind.REGISTER_CHANGED,
        where,
        statement + " Certificates may have been issued or revoked that it does not tell.",
        "Compare it with a backup and with what you know was issued. The next command that signs"
            + " takes the register as it is then.");
  }
}
