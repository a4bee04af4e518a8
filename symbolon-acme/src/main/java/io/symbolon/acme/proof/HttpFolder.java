// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.protocol.Identifier;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Access;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.file.PublicFolders;
import io.symbolon.file.WrittenItem;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A file over HTTP (RFC 8555, 8.3), put into the document folder of a web server. */
public final class HttpFolder implements Proof {
  private final Path folder;
  private final List<Path> made = new ArrayList<>(); // folders, that go when nothing is in them

  /**
   * A document folder.
   *
   * @param folder the folder that the web server serves at {@code /}
   */
  public HttpFolder(Path folder) {
    this.folder = folder.toAbsolutePath().normalize();
  }

  @Override
  public String type() {
    return "http-01";
  }

  @Override
  public String title() {
    return "a file over HTTP, in " + folder;
  }

  @Override
  public boolean suits(Identifier name, boolean wildcard) {
    return !wildcard;
  }

  @Override
  public synchronized Shown show(Task task) {
    if (!Files.isDirectory(folder)) {
      throw ProofFailure.of(
          task,
          Reason.NOT_FOUND,
          "There is no folder " + VisibleText.of(folder.toString()) + ".",
          "Name the document folder of the web server: " + Input.PROOF.mention("folder=PATH"),
          null);
    }
    Path place = folder;
    for (String name : List.of(".well-known", "acme-challenge")) {
      place = place.resolve(name);
      make(place, task);
    }
    Path file = place.resolve(task.token());
    byte[] content = task.authorization().getBytes(StandardCharsets.US_ASCII);
    try {
      WrittenItem written =
          FileSet.write(
                  List.of(new FileItem(file, content, Privacy.SYSTEM_DEFAULT, Existing.REPLACE)))
              .get(0);
      Access.Readers readers = written.access().readers();
      if (readers == Access.Readers.OWNER || readers == Access.Readers.GROUP) {
        throw ProofFailure.of(
            task,
            Reason.NOT_WRITABLE,
            "What this account writes can't be read by the web server: new files are for "
                + (readers == Access.Readers.OWNER ? "their owner" : "their group")
                + " alone.",
            "Give the command again after: umask 022",
            null);
      }
    } catch (SymbolonException e) {
      away(file);
      throw e;
    }
    return () -> away(file);
  }

  private void make(Path place, Task task) {
    try {
      if (PublicFolders.make(place)) {
        made.add(place);
      }
    } catch (IOException e) {
      throw ProofFailure.of(
          task,
          Reason.NOT_WRITABLE,
          "No folder can be made in " + VisibleText.of(folder.toString()) + ".",
          "Give the command as the account that the folder belongs to.",
          e);
    }
  }

  /**
   * What is public and useless afterwards goes; folders of ours go where nothing else is in them.
   */
  private synchronized void away(Path file) {
    try {
      boolean gone = PublicFolders.remove(file);
      for (int i = made.size() - 1; gone && i >= 0; i--) {
        gone = PublicFolders.remove(made.get(i));
        if (gone) {
          made.remove(i);
        }
      }
    } catch (IOException e) {
      // it is not ours to remove: it does no harm
    }
  }
}
