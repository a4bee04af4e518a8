// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.pem.PemWriter;
import io.symbolon.store.JavaStoreWriter;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * How one format is written. Another format is one more line of the table.
 *
 * @param fit what is left out of a bundle for it
 * @param encode how it is encoded
 * @param protection how it is sealed, in words
 */
record WrittenFormat(Fit fit, Encode encode, Function<Pkcs12Strength, String> protection) {
  private static final Map<Format, WrittenFormat> ALL =
      Map.of(
          Format.PEM, bare(Encoder::pem),
          Format.DER, bare(Encoder::der),
          Format.PKCS12,
              new WrittenFormat(
                  (fitting, bundle, form) -> fitting.pkcs12(bundle),
                  Encoder::pkcs12,
                  WrittenFormat::withRounds),
          Format.JKS, javaStore(JavaStoreWriter.StoreType.JKS, "SHA-1"),
          Format.JCEKS, javaStore(JavaStoreWriter.StoreType.JCEKS, "MD5 and 3DES for keys, SHA-1"),
          Format.PKCS7, bundle((encoder, bundle) -> Encoder.pkcs7(bundle)),
          Format.PKCS7_PEM,
              bundle((encoder, bundle) -> PemWriter.write("PKCS7", Encoder.pkcs7(bundle))));

  /** Fits a bundle to the format. */
  interface Fit {
    Bundle fit(FormatFitting fitting, Bundle bundle, KeyForm form);
  }

  /** Encodes what was fitted. */
  interface Encode {
    byte[] encode(Encoder encoder, Bundle bundle);
  }

  /**
   * The line of a format.
   *
   * @throws IllegalArgumentException if it is none that is written
   */
  static WrittenFormat of(Format format) {
    return Optional.ofNullable(ALL.get(format))
        .orElseThrow(() -> new IllegalArgumentException("never written: " + format));
  }

  private static WrittenFormat bare(Encode encode) {
    return new WrittenFormat(FormatFitting::bare, encode, WrittenFormat::withRounds);
  }

  private static WrittenFormat javaStore(JavaStoreWriter.StoreType kind, String protection) {
    return new WrittenFormat(
        (fitting, bundle, form) -> fitting.javaStore(bundle),
        (encoder, bundle) -> encoder.javaStore(bundle, kind),
        strength -> protection);
  }

  private static WrittenFormat bundle(Encode encode) {
    return new WrittenFormat(
        (fitting, bundle, form) -> fitting.pkcs7(bundle), encode, strength -> "");
  }

  private static String withRounds(Pkcs12Strength strength) {
    return strength.description() + ", " + rounds(strength);
  }

  private static String rounds(Pkcs12Strength strength) {
    return String.format(Locale.ROOT, "%,d rounds", strength.rounds());
  }
}
