package io.symbolon.tls;

import io.symbolon.Finding;
import java.util.List;
import java.util.Optional;

/**
 * What came of a rehearsal.
 *
 * @param server the server's name
 * @param client the client's name
 * @param tries what came of each protocol version
 * @param findings what is to be said, the worst first
 */
public record RehearsalReport(
    String server, String client, List<Try> tries, List<Finding> findings) {
  /** Copies the lists. */
  public RehearsalReport {
    tries = List.copyOf(tries);
    findings = List.copyOf(findings);
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
      String protocol, Optional<String> cipherSuite, Optional<Side> refusedBy, String raw) {
    /** Whether both sides accepted each other. */
    public boolean isAccepted() {
      return cipherSuite.isPresent();
    }
  }

  /** Whether both sides accepted each other in every protocol version. */
  public boolean isAccepted() {
    return tries.stream().allMatch(Try::isAccepted);
  }

  /** Whether they did in one at least. */
  public boolean isAcceptedOnce() {
    return tries.stream().anyMatch(Try::isAccepted);
  }
}
