// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.machine;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Input;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/** Where a Java keeps the authorities that all of its programs trust. */
public final class JavaHome {
  private JavaHome() {}

  /**
   * {@return the truststore of a Java}
   *
   * @param home the Java's folder, or the truststore itself; otherwise the machine's usual Java, or
   *     the one that runs this
   * @throws SymbolonException if there is none
   */
  public static Path roots(Machine machine, Optional<Path> home) {
    Path folder =
        home.or(() -> machine.first("/usr/lib/jvm/default-java"))
            .orElseGet(() -> machine.path(System.getProperty("java.home", "")));
    for (Path one :
        List.of(
            folder,
            folder.resolve("lib/security/cacerts"),
            folder.resolve("jre/lib/security/cacerts"))) {
      if (Files.isRegularFile(one)) {
        try {
          return one.toRealPath();
        } catch (IOException e) {
          return one;
        }
      }
    }
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "The truststore of a Java was not found.",
        "There is no lib/security/cacerts in " + VisibleText.of(folder.toString()) + ".",
        "Name the folder of the Java: " + Input.HOME.mention("FOLDER") + ".");
  }
}
