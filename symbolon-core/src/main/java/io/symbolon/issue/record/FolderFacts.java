// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.file.FolderWork;
import io.symbolon.issue.Authority;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.function.Supplier;

/** Whose folder it is: what its files and its records are held against. */
record FolderFacts(Path folder, Clock clock, List<Certificate> chain) {
  FolderFacts {
    chain = List.copyOf(chain);
  }

  Certificate certificate() {
    return chain.get(0);
  }

  Instant now() {
    return clock.instant();
  }

  String name() {
    return certificate().subject().shortText();
  }

  Path file(String name) {
    return folder.resolve(name);
  }

  /** Does something that no other command may do in this folder at the same time. */
  <T> T alone(Supplier<T> work) {
    return FolderWork.holding(List.of(file(AuthorityFolder.CERTIFICATE)), work);
  }

  boolean isOurs(Certificate one) {
    return Authority.hasSigned(certificate(), one);
  }

  static String shown(Path path) {
    return VisibleText.of(path.toString());
  }
}
