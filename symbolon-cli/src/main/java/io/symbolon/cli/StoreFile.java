package io.symbolon.cli;

import io.symbolon.Reason;
import io.symbolon.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.store.Pkcs12;
import io.symbolon.store.Pkcs12Reader;
import io.symbolon.store.Pkcs12Writer;
import io.symbolon.store.StoreEntry;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.List;
import java.util.Optional;

/** Writes a store and the password that seals it, or neither. */
final class StoreFile {
  private StoreFile() {}

  /**
   * Writes a store.
   *
   * @return where the file that was replaced is kept
   */
  static Optional<Path> write(
      Path target, List<StoreEntry> entries, Seal seal, Existing existing, Privacy privacy) {
    SafeFile.check(target, existing);
    byte[] content = Pkcs12Writer.write(entries, seal.secret(), new SecureRandom());
    prove(content, entries.size(), seal, target);
    seal.save();
    try {
      return SafeFile.write(target, content, privacy, existing);
    } catch (SymbolonException e) {
      seal.takeBack();
      throw e;
    }
  }

  /** What can't be opened again is not written: a keystore may be the only place of a key. */
  private static void prove(byte[] content, int entries, Seal seal, Path target) {
    Pkcs12 read = Pkcs12Reader.read(content, List.of(seal.secret()));
    if (read.isLocked() || read.bags().size() < entries) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file " + Output.shown(target) + " was not written.",
          "What was made could not be opened again.",
          "Report this as a defect; nothing was changed.");
    }
  }
}
