// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.explain;

import io.symbolon.explain.FailureText;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.task.words.Wording;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Explains the failures of TLS in logs and stack traces. Of a file larger than {@link
 * Limits#LOG_BYTES} the end is read.
 */
public final class ExplainJob {
  private static final int MEBIBYTES = Limits.LOG_BYTES >> 20;

  private final List<Path> files;
  private final Optional<InputStream> stream;

  private ExplainJob(Collection<Path> files, Optional<InputStream> stream) {
    this.files = List.copyOf(files);
    this.stream = stream;
  }

  /** {@return a job for these files} */
  public static ExplainJob of(Collection<Path> files) {
    return new ExplainJob(files, Optional.empty());
  }

  /**
   * {@return a job for what comes in a stream, of which the beginning is read}
   *
   * @param stream what is read to its end, and not closed
   */
  public static ExplainJob of(InputStream stream) {
    return new ExplainJob(List.of(), Optional.of(stream));
  }

  /**
   * Reads and explains.
   *
   * @return the failures, in the order in which they were met
   * @throws SymbolonException if a file can't be read
   */
  public ExplainReport run() {
    List<ExplainReport.Text> texts = new ArrayList<>();
    stream.ifPresent(in -> texts.add(explained("standard input", read(in))));
    for (Path path : files) {
      texts.add(explained(Wording.shown(path), read(path)));
    }
    return new ExplainReport(texts);
  }

  /** What was read of a text, and a sentence about what was not. */
  private record Part(String read, Optional<String> notRead) {}

  private static ExplainReport.Text explained(String name, Part text) {
    return new ExplainReport.Text(name, text.notRead(), FailureText.explain(text.read(), name));
  }

  private static Part read(InputStream in) {
    try {
      byte[] read = in.readNBytes(Limits.LOG_BYTES);
      boolean more = read.length == Limits.LOG_BYTES && in.read() >= 0;
      return new Part(
          new String(read, StandardCharsets.UTF_8),
          more
              ? Optional.of(
                  "Of standard input the first "
                      + MEBIBYTES
                      + " MiB were read. What follows was not.")
              : Optional.empty());
    } catch (IOException e) {
      throw unreadable("Standard input", "The system says: " + e.getMessage() + ".", e);
    }
  }

  private static Part read(Path path) {
    try (InputStream in = Files.newInputStream(path)) {
      long before = Math.max(0, Files.size(path) - Limits.LOG_BYTES);
      in.skipNBytes(before);
      return new Part(
          new String(in.readNBytes(Limits.LOG_BYTES), StandardCharsets.UTF_8),
          before > 0
              ? Optional.of(
                  "Of "
                      + Wording.shown(path)
                      + " the last "
                      + MEBIBYTES
                      + " MiB were read, and lines are counted from there. The "
                      + before
                      + " bytes before were not.")
              : Optional.empty());
    } catch (IOException e) {
      throw unreadable(
          "The file " + Wording.shown(path),
          Files.exists(path) ? "The system does not let you." : "There is no such file.",
          e);
    }
  }

  private static SymbolonException unreadable(String what, String seen, IOException e) {
    return new SymbolonException(
        Reason.UNREADABLE, what + " can't be read.", seen, "Check the name and its rights.", e);
  }
}
