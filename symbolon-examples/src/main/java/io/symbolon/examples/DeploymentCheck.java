// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.Material;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.DatedCertificate;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Set;

/**
 * A check in a deployment job: the files of a server must hold one credential that is good for 45
 * days more. It decides by kinds and values, never by reading sentences. Run it with files or
 * folders; without arguments it makes some.
 */
public final class DeploymentCheck {
  private static final Duration ENOUGH = Duration.ofDays(45);

  /** What stops this deployment although Symbolon only warns of it. */
  private static final Set<FindingKind> STOPPING =
      Set.of(FindingKind.EXPIRES_SOON, FindingKind.WEAK_KEY, FindingKind.WEAK_SIGNATURE);

  private DeploymentCheck() {}

  /** Checks, tells, and ends with 0 or 1. */
  public static void main(String[] arguments) throws IOException {
    Path[] files =
        arguments.length > 0
            ? java.util.Arrays.stream(arguments).map(Path::of).toArray(Path[]::new)
            : new Path[] {JoinPile.makePile()};
    if (!isGood(files)) {
      System.exit(1);
    }
  }

  static boolean isGood(Path... files) {
    Material material = Material.reader().withExpiryWarning(ENOUGH).read(files);
    boolean good = true;
    for (Finding finding : material.findings()) {
      boolean stops = finding.level() == Level.PROBLEM || STOPPING.contains(finding.kind());
      good &= !stops;
      System.out.println((stops ? "stop " : "note ") + finding.id() + values(finding));
    }
    try {
      var certificate = material.credential().certificate();
      System.out.println("credential " + certificate.sha256() + " until " + certificate.notAfter());
    } catch (SymbolonException e) {
      System.out.println("stop " + e.reason() + ": " + e.statement() + " " + e.seen());
      good = false;
    }
    System.out.println(good ? "deploy" : "do not deploy");
    return good;
  }

  private static String values(Finding finding) {
    StringBuilder values = new StringBuilder();
    finding.about().file().ifPresent(file -> values.append(" file=").append(file.getFileName()));
    for (DatedCertificate certificate : finding.about().certificates()) {
      values.append(" certificate=").append(certificate.sha256(), 0, 8);
    }
    finding.about().date().ifPresent(date -> values.append(" date=").append(date));
    return values.toString();
  }
}
