// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Set;

/** A folder in which something happens before each thing that is done in it. */
final class WatchedFolder extends OpenFolder {
  /** Who is told. */
  interface Watcher {
    /** Before something is done with a name. */
    void before(Path name) throws IOException;

    /** After something got a name. */
    default void renamed(Path newName) throws IOException {}
  }

  private final OpenFolder real;
  private final Watcher life;

  WatchedFolder(OpenFolder real, Watcher life) {
    super(real.path());
    this.real = real;
    this.life = life;
  }

  @Override
  FileChannel open(Path name, Set<OpenOption> options) throws IOException {
    life.before(name);
    return real.open(name, options);
  }

  @Override
  FileChannel read(Path name) throws IOException {
    return real.read(name);
  }

  @Override
  BasicFileAttributes attributes(Path name) throws IOException {
    return real.attributes(name);
  }

  @Override
  BasicFileAttributes attributes() throws IOException {
    return real.attributes();
  }

  @Override
  Rights rights(Path name) throws IOException {
    return real.rights(name);
  }

  @Override
  Rights rights() throws IOException {
    return real.rights();
  }

  @Override
  void give(Path name, Rights rights) throws IOException {
    life.before(name);
    real.give(name, rights);
  }

  @Override
  void touch(Path name, FileTime when) throws IOException {
    life.before(name);
    real.touch(name, when);
  }

  @Override
  void rename(Path name, OpenFolder to, Path newName) throws IOException {
    life.before(name);
    real.rename(name, to instanceof WatchedFolder other ? other.real : to, newName);
    life.renamed(newName);
  }

  @Override
  void delete(Path name) throws IOException {
    life.before(name);
    real.delete(name);
  }

  @Override
  void deleteFolder(Path name) throws IOException {
    life.before(name);
    real.deleteFolder(name);
  }

  @Override
  OpenFolder enter(Path name) throws IOException {
    return new WatchedFolder(real.enter(name), life);
  }

  @Override
  OpenFolder make(Path name) throws IOException {
    life.before(name);
    return new WatchedFolder(real.make(name), life);
  }

  @Override
  List<Path> names() throws IOException {
    return real.names();
  }

  @Override
  void flush() throws IOException {
    life.before(name("."));
    real.flush();
  }

  @Override
  public void close() throws IOException {
    real.close();
  }
}
