// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Path;
import org.jspecify.annotations.Nullable;

/** Why a file is not written, in words. */
final class NotWritten {
  private NotWritten() {}

  static String shown(Path path) {
    return VisibleText.of(path.toString());
  }

  static String message(IOException e) {
    String message = e.getMessage();
    String kind = e.getClass().getSimpleName().replace("Exception", "");
    return message == null ? kind : VisibleText.of(kind + ": " + message);
  }

  static SymbolonException noFolder(Path target, Path folder) {
    return refused(
        Reason.NOT_WRITABLE,
        target,
        "The folder " + shown(folder) + " does not exist.",
        "Make the folder first, or write somewhere else.");
  }

  static SymbolonException isFolder(Path target) {
    return refused(
        Reason.NOT_WRITABLE,
        target,
        "It is a folder.",
        "Name a file in it, such as " + shown(target.resolve("keystore.p12")) + ".");
  }

  static SymbolonException exists(Path target) {
    return refused(
        Reason.EXISTS,
        target,
        "There is a file of that name already.",
        Remedy.of(
            "Choose another name, or have it replaced; the old file can then be brought back.",
            Action.again(Input.REPLACE)));
  }

  static SymbolonException refused(Reason reason, Path target, String seen, String advice) {
    return refused(reason, target, seen, Remedy.of(advice), null);
  }

  static SymbolonException refused(Reason reason, Path target, String seen, Remedy remedy) {
    return refused(reason, target, seen, remedy, null);
  }

  static SymbolonException refused(
      Reason reason, Path target, String seen, String advice, @Nullable Throwable cause) {
    return refused(reason, target, seen, Remedy.of(advice), cause);
  }

  static SymbolonException refused(
      Reason reason, Path target, String seen, Remedy remedy, @Nullable Throwable cause) {
    return new SymbolonException(
        reason, "The file " + shown(target) + " was not written.", seen, remedy, cause);
  }
}
