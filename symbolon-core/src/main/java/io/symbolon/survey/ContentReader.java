// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.der.Ber;
import io.symbolon.der.Element;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Format;
import io.symbolon.limit.WorkBudget;
import io.symbolon.pem.BareBase64;
import io.symbolon.pem.PemBlock;
import io.symbolon.pem.PemContent;
import io.symbolon.pem.PemFlaw;
import io.symbolon.pem.PemReader;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Tells what a file's content is and reads it. The order of the questions: is it one of Java's own
 * stores (by its magic number), is it DER or BER (a sequence that ends where the file does), is it
 * text with blocks. The name of the file is never asked.
 */
final class ContentReader {
  /** Labels that say what has to be in a block (RFC 7468). */
  private static final Set<String> PROMISING =
      Set.of(
          "CERTIFICATE",
          "X509 CERTIFICATE",
          "TRUSTED CERTIFICATE",
          "CERTIFICATE REQUEST",
          "NEW CERTIFICATE REQUEST",
          "X509 CRL",
          "PRIVATE KEY",
          "ENCRYPTED PRIVATE KEY",
          "RSA PRIVATE KEY",
          "EC PRIVATE KEY",
          "PUBLIC KEY",
          "PKCS7");

  private static final Set<String> PARAMETERS = Set.of("EC PARAMETERS", "DSA PARAMETERS");

  private final List<Secret> unlock;
  private final WorkBudget budget;

  ContentReader(List<Secret> unlock, WorkBudget budget) {
    this.unlock = List.copyOf(unlock);
    this.budget = budget;
  }

  FileSurvey read(Path path, byte[] bytes) {
    FoundInFile reading = new FoundInFile(path, budget);
    Format format = Format.UNKNOWN;
    try {
      format = content(bytes, reading);
    } catch (SymbolonException e) {
      reading.failed(e, "The content");
    }
    return reading.done(format);
  }

  private Format content(byte[] bytes, FoundInFile reading) {
    if (JavaStoreReader.isOne(bytes)) {
      new JavaStoreHoldings(unlock, reading).read(bytes);
      return JavaStoreReader.isJceks(bytes) ? Format.JCEKS : Format.JKS;
    }
    if (bytes.length > 1 && bytes[0] == 0x30) {
      Optional<Format> format = der(bytes, reading);
      if (format.isPresent()) {
        return format.get();
      }
    }
    return text(bytes, reading);
  }

  /** Nothing where the content is no DER after all. */
  private Optional<Format> der(byte[] bytes, FoundInFile reading) {
    StructureReader structures = new StructureReader(unlock, reading);
    Element element;
    try {
      element = Element.readFirst(bytes, 0);
    } catch (SymbolonException e) {
      return ber(bytes, reading, structures, e);
    }
    Structure structure = Structure.of(element);
    if (structure == Structure.UNKNOWN) {
      if (StructureReader.isWhole(bytes, element)) {
        reading.failed(
            FindingKind.NOTHING_KNOWN,
            new SymbolonException(
                Reason.NOT_UNDERSTOOD,
                "The file " + reading.name() + " holds nothing that is known here.",
                "It is DER, but no key, certificate, request, revocation list or store.",
                "Ask its sender what it is."));
        return Optional.of(Format.DER);
      }
      return Optional.empty();
    }
    if (StructureReader.isWhole(bytes, element)) {
      structures.read(structure, element.encoding(), "");
      return Optional.of(formatOf(structure));
    }
    return Optional.of(several(bytes, reading, structures));
  }

  private static Format formatOf(Structure structure) {
    return structure == Structure.PKCS12
        ? Format.PKCS12
        : structure == Structure.PKCS7 ? Format.PKCS7 : Format.DER;
  }

  /** Structures one behind the other. */
  private Format several(byte[] bytes, FoundInFile reading, StructureReader structures) {
    int at = 0;
    while (at < bytes.length) {
      if (bytes[at] == '\n' || bytes[at] == '\r') {
        at++;
        continue;
      }
      try {
        Element element = Element.readFirst(bytes, at);
        if (!structures.read(Structure.of(element), element.encoding(), "byte " + at)) {
          throw SymbolonException.malformed(
              "content", "There is something unknown at byte " + at + ".");
        }
        at = element.endOffset();
      } catch (SymbolonException e) {
        if (!StructureReader.isBlank(Arrays.copyOfRange(bytes, at, bytes.length))) {
          reading.failed(e, "What follows from byte " + at + " on");
        }
        break;
      }
    }
    return Format.DER;
  }

  /** What is not DER may be BER, if it is one of the two formats that come in BER. */
  private Optional<Format> ber(
      byte[] bytes, FoundInFile reading, StructureReader structures, SymbolonException notDer) {
    byte[] definite;
    try {
      definite = Ber.toDefinite(bytes);
    } catch (SymbolonException notBer) {
      if (!looksLikeDer(bytes)) {
        return Optional.empty();
      }
      reading.failed(Ber.isIndefinite(bytes) ? notBer : notDer, "The DER data");
      return Optional.of(Format.DER);
    }
    Structure structure = Structure.of(Element.read(definite));
    if (!structures.read(structure, definite, "")) {
      return Optional.empty();
    }
    return Optional.of(formatOf(structure));
  }

  /** A sequence whose length has the form that sequences of this kind have; text does not. */
  private static boolean looksLikeDer(byte[] bytes) {
    int length = bytes[1] & 0xFF;
    return length >= 0x80 && length <= 0x84;
  }

  private Format text(byte[] bytes, FoundInFile reading) {
    PemContent text = PemReader.read(bytes);
    StructureReader structures = new StructureReader(unlock, reading);
    boolean single = text.blocks().size() == 1 && text.flaws().isEmpty();
    for (PemBlock block : text.blocks()) {
      block(block, single ? "" : "line " + block.line(), reading, structures);
    }
    for (PemFlaw flaw : text.flaws()) {
      if (flaw.kind() == PemFlaw.Type.LOST) {
        reading.failed(
            FindingKind.DAMAGED,
            new SymbolonException(
                Reason.NOT_UNDERSTOOD,
                "A part of " + reading.name() + " can't be read.",
                flaw.statement() + " (Line " + flaw.line() + ".)",
                "Ask for the file again, as an attachment in a zip archive and not in the mail's text."));
      } else if (flaw.kind() == PemFlaw.Type.GLUED) {
        reading.add(
            Finding.of(
                FindingKind.BLOCKS_GLUED,
                reading.name() + " line " + flaw.line(),
                flaw.statement() + " It was read all the same; most servers refuse such a file.",
                Remedy.of(
                    "End each file with a line end before another is put behind it, or write it anew.",
                    Action.of(Task.CONVERT, reading.place("").file()).with(Input.INTO))));
      } else {
        FindingKind kind =
            flaw.kind() == PemFlaw.Type.MENDED ? FindingKind.MANGLED_TEXT : FindingKind.TEXT_LAYOUT;
        reading.add(
            Finding.of(kind, reading.name() + " line " + flaw.line(), flaw.statement(), ""));
      }
    }
    return text.isEmpty() ? bare(bytes, reading) : Format.PEM;
  }

  /** Base64 without boundary lines, where what it encodes is something that is known. */
  private Format bare(byte[] bytes, FoundInFile reading) {
    Optional<byte[]> decoded = BareBase64.decode(bytes);
    if (decoded.isEmpty() || !isKnown(decoded.get())) {
      return Format.UNKNOWN;
    }
    reading.add(
        Finding.of(
            FindingKind.MANGLED_TEXT,
            reading.name() + " line 1",
            "It is Base64 without the boundary lines that say what it is.",
            ""));
    Format format = content(decoded.get(), reading);
    Arrays.fill(decoded.get(), (byte) 0);
    return format == Format.DER ? Format.PEM : format;
  }

  private static boolean isKnown(byte[] octets) {
    if (JavaStoreReader.isOne(octets)) {
      return true;
    }
    try {
      byte[] definite = Ber.isIndefinite(octets) ? Ber.toDefinite(octets) : octets;
      return Structure.of(Element.read(definite)) != Structure.UNKNOWN;
    } catch (SymbolonException e) {
      return false;
    }
  }

  /** Some programs write behind a certificate, into its block, for what they trust it. */
  private static Optional<byte[]> firstCertificate(byte[] content) {
    try {
      Element first = Element.readFirst(content, 0);
      boolean more = first.endOffset() < content.length && content[first.endOffset()] == 0x30;
      return more && Structure.of(first) == Structure.CERTIFICATE
          ? Optional.of(first.encoding())
          : Optional.empty();
    } catch (SymbolonException e) {
      return Optional.empty();
    }
  }

  private static void block(
      PemBlock block, String position, FoundInFile reading, StructureReader structures) {
    if (PARAMETERS.contains(block.label())) {
      return; // they belong to the key beside them and say nothing that it does not
    }
    if (block.label().endsWith(" PARAMETERS")) {
      // Two numbers, as an RSA public key has them, too: here the label has to tell.
      unknown(block, "holds parameters, and no key", reading);
      return;
    }
    String dekInfo = block.headers().get("DEK-Info");
    if (dekInfo != null) {
      structures.readSealed(block, dekInfo, position);
      return;
    }
    Structure structure = Structure.UNKNOWN;
    byte[] content = block.content();
    try {
      if (Ber.isIndefinite(content)) {
        content = Ber.toDefinite(content);
      }
      structure = Structure.of(Element.read(content));
    } catch (SymbolonException e) {
      Optional<byte[]> first = firstCertificate(content);
      if (first.isPresent()) {
        reading.add(
            Finding.of(
                FindingKind.MANGLED_TEXT,
                reading.name() + " line " + block.line(),
                "Something follows the certificate inside its block; it was passed over.",
                ""));
        structures.read(Structure.CERTIFICATE, first.get(), position, Labels.named(block.name()));
        return;
      }
      if (!block.label().startsWith("OPENSSH") && !block.label().startsWith("PGP")) {
        reading.failed(
            e, "The block " + VisibleText.of(block.label()) + " at line " + block.line());
        return;
      }
    }
    if (!structures.read(structure, content, position, Labels.named(block.name()))) {
      if (PROMISING.contains(block.label())) {
        reading.failed(
            SymbolonException.malformed(
                VisibleText.of(block.label()), "Its content is something else, or nothing at all."),
            "The block " + VisibleText.of(block.label()) + " at line " + block.line());
        return;
      }
      unknown(block, "is nothing that is known here", reading);
    }
  }

  private static void unknown(PemBlock block, String what, FoundInFile reading) {
    reading.add(
        Finding.of(
            FindingKind.UNKNOWN_BLOCK,
            reading.name() + " line " + block.line(),
            "The block " + VisibleText.of(block.label()) + " " + what + ".",
            ""));
  }
}
