// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.convert.Bundle;
import io.symbolon.entry.StoreEntry;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.x509.Certificate;
import java.util.List;

/** What was written, as text for a person. */
public final class WrittenText {
  private static final int SHOWN = 30;

  private final Output output;
  private final Paint paint;
  private final WrittenResult result;

  public WrittenText(Output output, WrittenResult result) {
    this.output = output;
    this.paint = output.paint();
    this.result = result;
  }

  /** The lines that say where it went and how it is sealed. */
  public void where(String more) {
    where("into     ", more);
  }

  /** The same for a file with a new private key. */
  public void whereKey(String more) {
    where("key into ", more);
  }

  private void where(String into, String more) {
    if (result.destination().folder()) {
      output.line("  " + into + result.destination().shown());
      for (WrittenResult.WrittenFile file :
          result.files().subList(0, Math.min(SHOWN, result.files().size()))) {
        output.line(
            "             "
                + Output.shown(String.valueOf(file.path().getFileName()))
                + (file.secret() ? paint.faint("  " + readers(file)) : ""));
      }
      more(result.files().size(), "             ");
    } else {
      WrittenResult.WrittenFile file = result.files().get(0);
      output.line(
          "  "
              + into
              + Output.shown(file.path())
              + paint.faint(
                  "  "
                      + result.destination().target().title()
                      + more
                      + (file.secret() ? ", " + readers(file) : ", no private key in it")));
    }
    result
        .sealed()
        .ifPresent(
            how -> output.line("  sealed   with " + how.with() + paint.faint("  " + how.how())));
    if (result.files().stream().anyMatch(file -> file.aside().isPresent())) {
      output.line(
          "  before   "
              + paint.faint(
                  (result.destination().folder() ? "the old files are" : "the old file is")
                      + " kept; "
                      + output
                          .commands()
                          .line(
                              WayBack.of(
                                  List.of(result.destination().path()),
                                  result.files().stream()
                                      .flatMap(file -> file.aside().stream())
                                      .toList()))
                      + " brings it back"));
    }
  }

  private static String readers(WrittenResult.WrittenFile file) {
    return switch (file.access().readers()) {
      case OWNER -> "readable by its owner" + owner(file) + " only";
      case GROUP ->
          "readable by its owner "
              + file.access().owner()
              + " and the group "
              + file.access().group();
      case EVERYBODY -> "readable by everybody on this machine";
      case UNKNOWN -> "who may read it was not checked";
    };
  }

  /** The owner, where it is another account than this one. */
  private static String owner(WrittenResult.WrittenFile file) {
    String owner = file.access().owner();
    return owner.isEmpty() || owner.equals(System.getProperty("user.name")) ? "" : " " + owner;
  }

  /** A line for each thing that was written. */
  public void holds() {
    Bundle bundle = result.bundle();
    List<StoreEntry> entries = bundle.entries();
    String lead = "  holds    ";
    for (StoreEntry entry : entries.subList(0, Math.min(SHOWN, entries.size()))) {
      output.line(lead + line(entry));
      lead = "           ";
      if (entry instanceof StoreEntry.KeyEntry credential) {
        for (Certificate certificate : credential.chain()) {
          output.line(lead + "  " + described(certificate));
        }
      }
    }
    more(entries.size(), lead);
    if (!bundle.requests().isEmpty()) {
      output.line(lead + HoldingText.count(bundle.requests().size(), "request"));
      lead = "           ";
    }
    if (!bundle.publicKeys().isEmpty()) {
      output.line(
          lead
              + bundle.publicKeys().stream()
                  .limit(3)
                  .map(key -> "public key, " + key.description())
                  .collect(java.util.stream.Collectors.joining("; "))
              + (bundle.publicKeys().size() > 3
                  ? " and " + (bundle.publicKeys().size() - 3) + " more"
                  : ""));
    }
  }

  private String line(StoreEntry entry) {
    if (entry instanceof StoreEntry.KeyEntry credential) {
      return alias(credential.alias()) + "private key, " + credential.key().description();
    }
    if (entry instanceof StoreEntry.Crl crl) {
      return "revocation list of " + HoldingText.name(crl.list().issuer());
    }
    Certificate certificate =
        entry instanceof StoreEntry.Trusted trusted
            ? trusted.certificate()
            : ((StoreEntry.Plain) entry).certificate();
    return alias(entry.name().orElse("")) + described(certificate);
  }

  private static String described(Certificate certificate) {
    return HoldingText.role(certificate)
        + " certificate of "
        + HoldingText.name(certificate.subject())
        + ", until "
        + HoldingText.day(certificate.notAfter());
  }

  /** An alias is shown where the result has it. */
  private String alias(String alias) {
    return result.destination().target().isStore() && !alias.isEmpty()
        ? "'" + HoldingText.plain(alias) + "' "
        : "";
  }

  private void more(int count, String lead) {
    if (count > SHOWN) {
      output.line(paint.faint(lead + "and " + (count - SHOWN) + " more"));
    }
  }

  public void findings(List<io.symbolon.finding.Finding> findings) {
    if (!findings.isEmpty()) {
      output.line("");
      output.line(paint.heading("Findings"));
      FindingsText.print(output, findings);
    }
  }
}
