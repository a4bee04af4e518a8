// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.survey;

import io.symbolon.cli.output.HoldingText;
import io.symbolon.cli.output.Output;
import io.symbolon.cli.output.Paint;
import io.symbolon.key.PrivateKeyInfo;
import io.symbolon.seal.ProtectionWorth;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.CertificateRequest;
import io.symbolon.x509.Extension;
import io.symbolon.x509.ExtensionText;
import io.symbolon.x509.RevocationList;
import io.symbolon.x509.SignatureAlgorithm;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;

/** Every holding to the last extension. */
final class DetailsText {
  private static final DateTimeFormatter MOMENT =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss 'UTC'").withZone(ZoneOffset.UTC);
  private static final int LABEL = 14;
  private static final int REVOKED_SHOWN = 50;

  private final Output output;
  private final Paint paint;
  private final Survey survey;

  DetailsText(Output output, Survey survey) {
    this.output = output;
    this.paint = output.paint();
    this.survey = survey;
  }

  void print() {
    boolean first = true;
    for (FileSurvey file : survey.files()) {
      if (!file.isEmpty()) {
        if (!first) {
          output.line("");
        }
        first = false;
        file(file);
      }
    }
  }

  private void file(FileSurvey file) {
    output.line(
        paint.heading(Output.shown(file.path())) + paint.faint("  " + file.format().title()));
    for (ProtectionWorth sealing : file.protections()) {
      field("protected", HoldingText.plain(sealing.toString()) + worth(sealing));
    }
    for (Holding holding : file.holdings()) {
      output.line("");
      String position = holding.place().position();
      output.line(
          "  "
              + paint.heading(HoldingText.kind(holding))
              + (position.isEmpty() ? "" : paint.faint("  " + position)));
      holding.alias().ifPresent(alias -> field("alias", HoldingText.plain(alias)));
      holding.labels().created().ifPresent(moment -> field("added", MOMENT.format(moment)));
      holding.labels().localKeyId().ifPresent(id -> field("local key id", id));
      if (holding.labels().trusted()) {
        field("marked", "as trusted");
      }
      if (holding instanceof Holding.PrivateKey key) {
        privateKey(key);
      } else if (holding instanceof Holding.PublicKey key) {
        field("algorithm", key.key().description());
        field("key id", key.key().keyId());
      } else if (holding instanceof Holding.Cert cert) {
        certificate(cert.certificate());
      } else if (holding instanceof Holding.Request request) {
        request(request.request());
      } else if (holding instanceof Holding.Crl crl) {
        revocationList(crl.list());
      } else {
        field("content", "listed, never opened");
      }
    }
  }

  private String worth(ProtectionWorth sealing) {
    return switch (sealing.strength()) {
      case SOUND -> "";
      case FEW_ROUNDS -> paint.level(io.symbolon.finding.Level.NOTE, "  few rounds");
      case WEAK -> paint.level(io.symbolon.finding.Level.WARNING, "  weak");
    };
  }

  private void privateKey(Holding.PrivateKey key) {
    field("form", key.form() + (key.encrypted() ? ", sealed" : ", open"));
    if (key.key().isEmpty()) {
      field("content", "locked: no password given opens it");
      return;
    }
    PrivateKeyInfo info = key.key().get();
    field("algorithm", info.description());
    field(
        "key id",
        info.computedPublicHalf().map(half -> half.keyId()).orElse("not in the key itself"));
  }

  private void certificate(Certificate certificate) {
    name("subject", certificate.subject().toString());
    name("issuer", certificate.issuer().toString());
    field("serial", certificate.serialHex());
    validity(certificate.notBefore(), certificate.notAfter());
    field(
        "key",
        certificate.publicKey().description()
            + certificate.publicKey().weakness().map(why -> "  weak: " + why).orElse(""));
    field("key id", certificate.keyId());
    // What a root says with its own signature nobody relies on.
    signature(certificate.signatureAlgorithm(), !certificate.isSelfSigned());
    field("SHA-256", certificate.sha256());
    field("SHA-1", io.symbolon.text.Hex.sha1(certificate.encoding()));
    extensions(certificate.extensions().all());
  }

  private void name(String label, String text) {
    field(label, text.isEmpty() ? "(empty)" : HoldingText.plain(text));
  }

  private void validity(Instant from, Instant to) {
    Instant now = survey.now();
    long days = Duration.between(now, to).toDays();
    String left =
        now.isAfter(to)
            ? "expired " + HoldingText.count(-days, "day") + " ago"
            : now.isBefore(from) ? "not valid yet" : HoldingText.count(days, "day") + " left";
    field("valid", MOMENT.format(from) + " to " + MOMENT.format(to) + paint.faint("  " + left));
  }

  private void signature(SignatureAlgorithm algorithm, boolean reliedOn) {
    field(
        "signed with",
        algorithm.name()
            + algorithm
                .pss()
                .map(pss -> ", " + pss.getDigestAlgorithm() + ", salt " + pss.getSaltLength())
                .orElse("")
            + (reliedOn && algorithm.isWeak()
                ? paint.level(io.symbolon.finding.Level.WARNING, "  weak")
                : ""));
  }

  private void request(CertificateRequest request) {
    name("subject", request.subject().toString());
    field("key", request.publicKey().description());
    field("key id", request.publicKey().keyId());
    signature(request.signatureAlgorithm(), true);
    field(
        "signature",
        switch (request.verify()) {
          case VALID -> paint.good("made by this key");
          case INVALID -> "broken: not made by this key";
          case NOT_CHECKED -> "not checked: this Java lacks the algorithm";
        });
    field("SHA-256", request.sha256());
    extensions(request.extensions().all());
  }

  private void revocationList(RevocationList list) {
    name("issuer", list.issuer().toString());
    field("of", MOMENT.format(list.thisUpdate()));
    field("next", list.nextUpdate().map(MOMENT::format).orElse("not said"));
    signature(list.signatureAlgorithm(), true);
    field("SHA-256", list.sha256());
    extensions(list.extensions().all());
    int size = list.size();
    field("revokes", HoldingText.count(size, "certificate"));
    for (RevocationList.RevokedEntry revoked : list.revoked(REVOKED_SHOWN)) {
      StringBuilder line =
          new StringBuilder(io.symbolon.text.Hex.of(revoked.serial().toByteArray()));
      line.append("  ").append(MOMENT.format(revoked.when()));
      for (Extension extension : revoked.extensions().all()) {
        line.append("  ").append(ExtensionText.title(extension)).append(": ");
        line.append(String.join(", ", ExtensionText.values(extension)));
      }
      output.line("      " + line);
    }
    if (size > REVOKED_SHOWN) {
      output.line(paint.faint("      and " + (size - REVOKED_SHOWN) + " more"));
    }
  }

  private void extensions(List<Extension> extensions) {
    if (extensions.isEmpty()) {
      return;
    }
    output.line("    " + paint.faint("extensions"));
    for (Extension extension : extensions) {
      output.line(
          "      "
              + ExtensionText.title(extension)
              + (extension.critical() ? paint.faint(", critical") : ""));
      for (String value : ExtensionText.values(extension)) {
        output.line("          " + value);
      }
    }
  }

  private void field(String label, String text) {
    output.line("    " + paint.faint(HoldingText.padded(label, LABEL)) + text);
  }
}
