// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.convert.ContentPart;
import io.symbolon.convert.ConvertOptions;
import io.symbolon.failure.SymbolonException;
import io.symbolon.seal.Secret;
import io.symbolon.task.GivenPassword;
import io.symbolon.task.TaskRun;
import io.symbolon.task.convert.ConvertJob;
import io.symbolon.task.result.WrittenResult;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * A keystore in two other forms: the certificates alone for a web server, as PEM, and a JKS for a
 * program that takes nothing else. Run it with a keystore whose password is the example's; without
 * arguments it makes one.
 */
public final class ConvertKeystore {
  private ConvertKeystore() {}

  /** Converts the keystore in the first argument into files beside it. */
  public static void main(String[] arguments) throws IOException {
    try (Secret secret = Secret.of("only-for-the-example".toCharArray(), "the example")) {
      Path keystore = arguments.length > 0 ? Path.of(arguments[0]) : make(secret);
      Path chain = keystore.resolveSibling("chain.pem");
      try (TaskRun run = TaskRun.open().trying(secret)) {
        ConvertJob certificates =
            ConvertJob.of(keystore, chain)
                .content(ConvertOptions.of(ContentPart.FULL_CHAIN))
                .build();
        tell(certificates.run(run));
        Path other = keystore.resolveSibling("agent.jks");
        tell(ConvertJob.of(keystore, other).seal(new GivenPassword(secret)).build().run(run));
      }
    } catch (SymbolonException e) {
      System.out.println(e.statement());
      System.out.println(e.seen());
      System.out.println(e.remedy().advice());
      System.exit(1);
    }
  }

  /** What was written was read again and compared before it got its name. */
  private static void tell(WrittenResult written) {
    written.findings().forEach(finding -> System.out.println("  " + finding.statement()));
    System.out.println("wrote " + written.destination().path());
  }

  private static Path make(Secret secret) throws IOException {
    Path pile = JoinPile.makePile();
    Path keystore = Files.createTempDirectory("symbolon-convert").resolve("ingest.p12");
    JoinPile.join(pile, keystore, secret);
    return keystore;
  }
}
