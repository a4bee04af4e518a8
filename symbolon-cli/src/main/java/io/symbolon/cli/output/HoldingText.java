// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.output;

import io.symbolon.survey.Holding;
import io.symbolon.task.words.Wording;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.Placeholder;
import java.time.Instant;
import java.time.LocalDate;

/** One holding in one line. */
public final class HoldingText {
  private HoldingText() {}

  public static String of(Holding holding) {
    if (holding instanceof Holding.PrivateKey key) {
      return "private key"
          + key.key().map(info -> ", " + info.description()).orElse("")
          + ", "
          + (key.key().isEmpty() ? "locked" : key.encrypted() ? "sealed" : key.form() + ", open");
    }
    if (holding instanceof Holding.PublicKey key) {
      return "public key, " + key.key().description();
    }
    if (holding instanceof Holding.Cert cert) {
      Certificate certificate = cert.certificate();
      return role(certificate)
          + " certificate of "
          + name(certificate.subject())
          + ", until "
          + day(certificate.notAfter());
    }
    if (holding instanceof Holding.Request request) {
      return "request for "
          + name(request.request().subject())
          + ", "
          + request.request().publicKey().description();
    }
    if (holding instanceof Holding.Crl crl) {
      return "revocation list of "
          + name(crl.list().issuer())
          + ", of "
          + day(crl.list().thisUpdate());
    }
    return "secret key (listed, not opened)";
  }

  /** The kind of thing, for a file that holds many. */
  public static String kind(Holding holding) {
    if (holding instanceof Holding.PrivateKey) {
      return "private key";
    }
    if (holding instanceof Holding.PublicKey) {
      return "public key";
    }
    if (holding instanceof Holding.Cert) {
      return "certificate";
    }
    if (holding instanceof Holding.Request) {
      return "request";
    }
    return holding instanceof Holding.Crl ? "revocation list" : "secret key";
  }

  public static String role(Certificate certificate) {
    if (Placeholder.is(certificate)) {
      return "placeholder";
    }
    return certificate.isAuthority()
        ? certificate.isSelfSigned() ? "root" : "intermediate"
        : certificate.isSelfSigned() ? "self-signed" : "end-entity";
  }

  public static String name(DistinguishedName name) {
    return Wording.name(name);
  }

  public static LocalDate day(Instant instant) {
    return Wording.day(instant);
  }

  /** A number and what is counted. */
  public static String count(long count, String one) {
    return Wording.count(count, one);
  }

  /** The text, filled up with spaces. */
  public static String padded(String text, int width) {
    return text.length() >= width ? text : text + " ".repeat(width - text.length());
  }

  public static String plain(String text) {
    return VisibleText.of(text);
  }
}
