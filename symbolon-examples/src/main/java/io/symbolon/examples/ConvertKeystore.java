// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.convert.ContentPart;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.convert.EncodedFile;
import io.symbolon.convert.SealOptions;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import io.symbolon.seal.Secret;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;

/**
 * A keystore in two other forms: the certificates alone for a web server, as PEM, and a JKS for a
 * program that takes nothing else. Run it with a keystore whose password is the example's; without
 * arguments it makes one.
 */
public final class ConvertKeystore {
  private ConvertKeystore() {}

  /** Converts the keystore in the first argument into files beside it. */
  public static void main(String[] arguments) throws IOException {
    try (Secret secret = Secret.of("only for the example".toCharArray(), "the example")) {
      Path keystore = arguments.length > 0 ? Path.of(arguments[0]) : make(secret);
      Survey survey = Surveyor.create().withUnlock(List.of(secret)).survey(List.of(keystore));
      write(
          survey,
          ConvertOptions.of(ContentPart.FULL_CHAIN),
          Format.PEM,
          keystore.resolveSibling("chain.pem"),
          SealOptions.open());
      write(
          survey,
          ConvertOptions.everything(),
          Format.JKS,
          keystore.resolveSibling("agent.jks"),
          SealOptions.sealed(secret));
    } catch (SymbolonException e) {
      System.out.println(e.statement());
      System.out.println(e.seen());
      System.out.println(e.remedy().advice());
      System.exit(1);
    }
  }

  /** Plans, tells what the format can't hold, encodes (which proves what was made), and writes. */
  static void write(
      Survey survey, ConvertOptions options, Format target, Path into, SealOptions wrapping) {
    Conversion conversion =
        Conversion.plan(survey, options, target, KeyForm.PKCS8, into.toString());
    conversion.findings().forEach(finding -> System.out.println("  " + finding.statement()));
    EncodedFile file =
        conversion.encode(String.valueOf(into.getFileName()), wrapping, new SecureRandom());
    SafeFile.write(
        into,
        file.content(),
        file.secret() ? Privacy.OWNER_ONLY : Privacy.SYSTEM_DEFAULT,
        Existing.KEEP);
    System.out.println("wrote " + into);
  }

  private static Path make(Secret secret) throws IOException {
    Path pile = JoinPile.makePile();
    Path keystore = Files.createTempDirectory("symbolon-convert").resolve("ingest.p12");
    JoinPile.join(pile, keystore, secret);
    return keystore;
  }
}
