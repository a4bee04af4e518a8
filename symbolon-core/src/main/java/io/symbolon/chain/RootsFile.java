// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.store.Bag;
import io.symbolon.store.JavaStore;
import io.symbolon.store.JavaStoreReader;
import io.symbolon.store.Pkcs12;
import io.symbolon.store.Pkcs12Reader;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * The file of roots that Java ships with, read by our own code: a tenth of the time that the
 * platform takes to make them ready for a handshake. Where a system property names another
 * truststore, or the file is one that needs a password, this holds back and the platform is asked.
 */
final class RootsFile {
  private RootsFile() {}

  /** The roots, or none where the platform has to be asked. */
  static List<Certificate> read() {
    if (System.getProperty("javax.net.ssl.trustStore") != null) {
      return List.of();
    }
    Path folder = Path.of(System.getProperty("java.home"), "lib", "security");
    Path special = folder.resolve("jssecacerts"); // takes precedence for TLS where it exists
    Path file = Files.exists(special) ? special : folder.resolve("cacerts");
    try {
      if (Files.size(file) > Limits.FILE_BYTES) {
        return List.of();
      }
      return certificates(Files.readAllBytes(file));
    } catch (IOException | SymbolonException e) {
      return List.of();
    }
  }

  private static List<Certificate> certificates(byte[] bytes) {
    List<Certificate> roots = new ArrayList<>();
    if (JavaStoreReader.isOne(bytes)) {
      for (JavaStore.Entry entry : JavaStoreReader.read(bytes, List.of()).entries()) {
        if (entry.kind() == JavaStore.EntryKind.TRUSTED) {
          roots.add(Certificate.read(entry.certificates().get(0)));
        }
      }
      return roots;
    }
    Pkcs12 store = Pkcs12Reader.read(bytes, List.of());
    if (store.isLocked()) {
      return List.of();
    }
    for (Bag bag : store.bags()) {
      if (bag instanceof Bag.Cert cert && cert.trusted()) {
        roots.add(cert.certificate());
      }
    }
    return roots;
  }
}
