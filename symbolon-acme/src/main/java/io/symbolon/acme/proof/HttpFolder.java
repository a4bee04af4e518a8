// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.proof;

import io.symbolon.acme.wire.Identifier;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
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
          "Name the document folder of the web server: --proof folder=PATH",
          null);
    }
    Path place = folder;
    for (String name : List.of(".well-known", "acme-challenge")) {
      place = place.resolve(name);
      if (!Files.exists(place, LinkOption.NOFOLLOW_LINKS)) {
        make(place, task);
      }
    }
    Path file = place.resolve(task.token());
    byte[] content = task.authorization().getBytes(StandardCharsets.US_ASCII);
    try {
      List<FileSet.Written> unused =
          FileSet.write(
              List.of(new FileSet.Item(file, content, Privacy.SYSTEM_DEFAULT, Existing.REPLACE)));
      open(file, "rw-r--r--");
    } catch (IOException e) {
      away(file);
      throw notWritable(task, e);
    } catch (SymbolonException e) {
      away(file);
      throw e;
    }
    return () -> away(file);
  }

  private void make(Path place, Task task) {
    try {
      Files.createDirectory(place);
      made.add(place);
      open(place, "rwxr-xr-x"); // whatever this account's habit is: the web server reads it
    } catch (IOException e) {
      throw notWritable(task, e);
    }
  }

  private SymbolonException notWritable(Task task, IOException e) {
    return ProofFailure.of(
        task,
        Reason.NOT_WRITABLE,
        "Nothing can be written to " + VisibleText.of(folder.toString()) + ".",
        "Give the command as the account that the folder belongs to.",
        e);
  }

  private static void open(Path path, String rights) throws IOException {
    if (path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      Files.setPosixFilePermissions(path, PosixFilePermissions.fromString(rights));
    }
  }

  /**
   * What is public and useless afterwards goes; folders of ours go where nothing else is in them.
   */
  private synchronized void away(Path file) {
    try {
      Files.deleteIfExists(file);
      for (int i = made.size() - 1; i >= 0; i--) {
        Files.deleteIfExists(made.get(i));
        made.remove(i);
      }
    } catch (IOException e) {
      // something else is in it, or it is not ours to remove: it does no harm
    }
  }
}
