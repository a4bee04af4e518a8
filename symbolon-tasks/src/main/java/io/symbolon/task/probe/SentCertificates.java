// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.probe;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.pem.PemWriter;
import io.symbolon.probe.ProbeReport;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;

/** Saves the certificates that a server sent, with the warning that belongs to it. */
final class SentCertificates {
  private SentCertificates() {}

  static SymbolonException exists(Path file) {
    return new SymbolonException(
        Reason.EXISTS,
        "What the server sends can't be saved.",
        Wording.shown(file) + " is there already.",
        "Take another name, or say "
            + Input.REPLACE.mention()
            + "; symbolon undo brings the old one back.");
  }

  /** Each certificate as PEM, in the order in which it was sent. */
  static Finding save(ProbeReport report, Path file, boolean replace) {
    if (report.sent().isEmpty()) {
      return Finding.of(
          FindingKind.NOTHING_TO_SAVE,
          Wording.shown(file),
          "The server sent no certificate, so that nothing was saved.",
          "See above why.");
    }
    ByteArrayOutputStream pem = new ByteArrayOutputStream();
    for (Certificate certificate : report.sent()) {
      pem.writeBytes(
          ("# " + Wording.shown(certificate.subject().toString()) + "\n")
              .getBytes(StandardCharsets.UTF_8));
      pem.writeBytes(PemWriter.write("CERTIFICATE", certificate.encoding()));
    }
    FileSet.write(
        List.of(
            new FileItem(
                file,
                pem.toByteArray(),
                Privacy.SYSTEM_DEFAULT,
                replace ? Existing.REPLACE : Existing.KEEP)));
    if (report.trust() == ProbeReport.Check.PASSED) {
      return Finding.of(
          FindingKind.SENT_SAVED,
          Wording.shown(file),
          "The certificates that the server sent are saved; they lead to the trust given.",
          "");
    }
    Certificate last = report.sent().get(report.sent().size() - 1);
    Action truststore =
        Action.of(Task.TRUSTSTORE, file)
            .with(Input.INTO, "truststore.p12")
            .with(Input.NEW_PASSWORD_FILE, "truststore.pass");
    return Finding.of(
        FindingKind.TRUST_ON_FIRST_USE,
        Wording.shown(file),
        "What is saved is what somebody at this address sent, and nothing proves who that is. The"
            + " last certificate, of "
            + last.subject().shortText()
            + ", has the SHA-256 fingerprint "
            + last.sha256()
            + ".",
        Remedy.of(
            "Compare that fingerprint with the one that the server's administrator or its authority"
                + " reads to you. Only then make a truststore of it.",
            report.sent().stream().anyMatch(Certificate::isAuthority)
                ? truststore
                : truststore.with(Input.THEMSELVES)));
  }
}
