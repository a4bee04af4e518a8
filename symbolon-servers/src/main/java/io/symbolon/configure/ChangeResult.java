// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.server.machine.CommandResult;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * What came of a change.
 *
 * @param end where it ended
 * @param written the files that were written and stay; nothing where they were put back
 * @param check what the server's own check said
 * @param reload what the reload said
 * @param probes what the running server answered, one probe for each kind of client
 * @param findings why it was put back, and what else is to be said
 * @param left files that could not be put back, because somebody else has changed them since
 */
public record ChangeResult(
    End end,
    List<WrittenItem> written,
    Optional<CommandResult> check,
    Optional<CommandResult> reload,
    List<PlaceProbe.Answer> probes,
    List<Finding> findings,
    List<Path> left) {
  /** Where a change ended. */
  public enum End {
    /** There was nothing to change. */
    NOTHING,
    /** The files are written; the running server has not been told. */
    WRITTEN,
    /** The running server does what is wanted. */
    RUNNING,
    /** It is as it was before. */
    PUT_BACK,
    /** It failed, and a part of it could not be put back: the findings say which. */
    PARTLY_BACK
  }

  /** Copies the lists. */
  public ChangeResult {
    written = List.copyOf(written);
    probes = List.copyOf(probes);
    findings = List.copyOf(findings);
    left = List.copyOf(left);
  }
}
