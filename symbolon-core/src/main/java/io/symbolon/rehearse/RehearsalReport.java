// SPDX-License-Identifier: Apache-2.0
package io.symbolon.rehearse;

import io.symbolon.finding.Finding;
import io.symbolon.finding.Side;
import io.symbolon.party.ProtocolVersion;
import java.util.List;
import java.util.Optional;

/**
 * What came of a rehearsal.
 *
 * @param server the server's name
 * @param client the client's name
 * @param tries what came of each protocol version
 * @param findings what is to be said, the worst first
 * @param others what servers of other kinds would do with the same files, where that is known
 */
public record RehearsalReport(
    String server,
    String client,
    List<Try> tries,
    List<Finding> findings,
    List<OtherServer> others) {
  /** Copies the lists. */
  public RehearsalReport {
    tries = List.copyOf(tries);
    findings = List.copyOf(findings);
    others = List.copyOf(others);
  }

  /**
   * What came of one protocol version.
   *
   * @param protocol the version
   * @param cipherSuite what was agreed on, where both sides accepted each other
   * @param refusedBy the side that refused first
   * @param raw what the platform said
   */
  public record Try(
      ProtocolVersion protocol,
      Optional<String> cipherSuite,
      Optional<Side> refusedBy,
      String raw) {
    /** {@return whether both sides accepted each other} */
    public boolean isAccepted() {
      return cipherSuite.isPresent();
    }
  }

  /** What a rehearsal comes to. */
  public enum Verdict {
    /** The sides accept each other, and nothing else is a problem. */
    ACCEPTED,
    /** Java's handshakes succeed; other clients or servers refuse, as the findings say. */
    ACCEPTED_BY_JAVA_ALONE,
    /** They accept each other in some protocol versions and not in others. */
    ACCEPTED_IN_PART,
    /** They accept each other in no protocol version. */
    REFUSED
  }

  /** {@return what it comes to: the one place where that is decided} */
  public Verdict verdict() {
    if (tries.stream().allMatch(Try::isAccepted)) {
      return Finding.anyProblem(findings) ? Verdict.ACCEPTED_BY_JAVA_ALONE : Verdict.ACCEPTED;
    }
    return tries.stream().anyMatch(Try::isAccepted) ? Verdict.ACCEPTED_IN_PART : Verdict.REFUSED;
  }

  /**
   * {@return whether both sides accept each other, in every protocol version and for every client}
   */
  public boolean isAccepted() {
    return verdict() == Verdict.ACCEPTED;
  }
}
