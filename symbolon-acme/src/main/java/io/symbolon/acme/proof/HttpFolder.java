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
  public Shown show(Task task) {
    if (!Files.isDirectory(folder)) {
      throw ProofFailure.of(
          task,
          Reason.NOT_FOUND,
          "There is no folder " + VisibleText.of(folder.toString()) + ".",
          "Name the document folder of the web server: --proof folder=PATH",
          null);
    }
    List<Path> fresh = new ArrayList<>();
    Path place = folder;
    for (String name : List.of(".well-known", "acme-challenge")) {
      place = place.resolve(name);
      if (!Files.exists(place, LinkOption.NOFOLLOW_LINKS)) {
        fresh.add(place);
      }
    }
    Path file = place.resolve(task.token());
    byte[] content = task.authorization().getBytes(StandardCharsets.US_ASCII);
    try {
      for (Path one : fresh) {
        Files.createDirectory(one);
        open(one, "rwxr-xr-x"); // whatever this account's habit is: the web server reads it
      }
      List<FileSet.Written> unused =
          FileSet.write(
              List.of(new FileSet.Item(file, content, Privacy.SYSTEM_DEFAULT, Existing.REPLACE)));
      open(file, "rw-r--r--");
    } catch (IOException e) {
      away(file, fresh);
      throw ProofFailure.of(
          task,
          Reason.NOT_WRITABLE,
          "Nothing can be written to " + VisibleText.of(folder.toString()) + ".",
          "Give the command as the account that the folder belongs to.",
          e);
    } catch (SymbolonException e) {
      away(file, fresh);
      throw e;
    }
    return () -> away(file, fresh);
  }

  private static void open(Path path, String rights) throws IOException {
    if (path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      Files.setPosixFilePermissions(path, PosixFilePermissions.fromString(rights));
    }
  }

  /**
   * What is public and useless afterwards goes; folders of ours go where nothing else is in them.
   */
  private static void away(Path file, List<Path> fresh) {
    List<Path> all = new ArrayList<>(List.of(file));
    for (int i = fresh.size() - 1; i >= 0; i--) {
      all.add(fresh.get(i));
    }
    for (Path one : all) {
      try {
        Files.deleteIfExists(one);
      } catch (IOException e) {
        return; // something else is in it, or it is not ours to remove: it does no harm
      }
    }
  }
}
