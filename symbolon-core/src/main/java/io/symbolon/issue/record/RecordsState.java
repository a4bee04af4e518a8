// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.issue.Authority;
import io.symbolon.text.Hex;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.SignatureAlgorithm;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Locale;
import java.util.Optional;

/**
 * How far the records in a database go, and what the authority has signed of that. Each entry is
 * chained to the one before it, so that the last two links stand for all of them; the authority
 * signs them with every change. Whoever can write the database and does not have the key can take
 * entries away or change them, but cannot make a signature for what is left.
 *
 * @param issued how many certificates are on record
 * @param issuedLink the link of the last one; {@link #FIRST_LINK} where there is none
 * @param revoked how many revocations are on record
 * @param revokedLink the link of the last one; {@link #FIRST_LINK} where there is none
 * @param signature what the authority signed last, in Base64; empty where it signed nothing yet
 */
public record RecordsState(
    long issued, String issuedLink, long revoked, String revokedLink, String signature) {
  /** What the first entry is chained to. */
  public static final String FIRST_LINK = "0".repeat(64);

  /** {@return the state of records with nothing in them} */
  public static RecordsState empty() {
    return new RecordsState(0, FIRST_LINK, 0, FIRST_LINK, "");
  }

  /**
   * {@return the link of a certificate}
   *
   * @param before the link of the entry before it
   */
  public static String link(String before, Certificate certificate) {
    return link(before, certificate.encoding());
  }

  /**
   * {@return the link of a revocation}
   *
   * @param before the link of the entry before it
   * @param one the revocation
   */
  public static String link(String before, Authority.Revocation one) {
    String said =
        one.serial().toString(16) + " " + one.when().getEpochSecond() + " " + one.reason().word();
    return link(before, said.getBytes(StandardCharsets.US_ASCII));
  }

  private static String link(String before, byte[] entry) {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    all.writeBytes(before.getBytes(StandardCharsets.US_ASCII));
    all.writeBytes(entry);
    return Hex.sha256(all.toByteArray()).toLowerCase(Locale.ROOT);
  }

  /** {@return the same with one more certificate, not signed yet} */
  public RecordsState with(Certificate certificate) {
    return new RecordsState(
        issued + 1, link(issuedLink, certificate), revoked, revokedLink, signature);
  }

  /**
   * {@return the same with one more revocation, not signed yet}
   *
   * @param one the revocation
   */
  public RecordsState with(Authority.Revocation one) {
    return new RecordsState(issued, issuedLink, revoked + 1, link(revokedLink, one), signature);
  }

  /**
   * {@return the same, signed}
   *
   * @param authority the authority whose records these are
   */
  public RecordsState signed(Authority authority) {
    byte[] made = SignatureAlgorithm.forKey(authority.key()).sign(said(), authority.key());
    return new RecordsState(
        issued, issuedLink, revoked, revokedLink, Base64.getEncoder().encodeToString(made));
  }

  private byte[] said() {
    return ("symbolon records 1\nissued "
            + issued
            + " "
            + issuedLink
            + "\nrevoked "
            + revoked
            + " "
            + revokedLink
            + "\n")
        .getBytes(StandardCharsets.US_ASCII);
  }

  /** What is to be said of records whose last entries and signature say this. */
  Optional<Finding> check(Certificate authority, String where) {
    if (signature.isEmpty()) {
      return issued == 0 && revoked == 0
          ? Optional.empty()
          : Optional.of(wrong(where, "The signature of the records is missing."));
    }
    try {
      boolean holds =
          SignatureAlgorithm.isSigned(
              said(), Base64.getDecoder().decode(signature), authority.publicKey().toPublicKey());
      return holds
          ? Optional.empty()
          : Optional.of(
              wrong(
                  where,
                  "The records are not what they were when the authority last signed: entries were"
                      + " taken from them or changed."));
    } catch (IllegalArgumentException | io.symbolon.failure.SymbolonException e) {
      return Optional.of(wrong(where, "The signature of the records is damaged."));
    }
  }

  static Finding wrong(String where, String statement) {
    return Finding.of(
        FindingKind.REGISTER_CHANGED,
        where,
        statement + " Certificates may have been issued or revoked that they do not tell.",
        "Compare them with a backup and with what you know was issued. The next command that signs"
            + " takes the records as they are then.");
  }
}
