// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Folders of one kind that this account works with, so that a later command finds them without
 * being told. They stand in the state folder, where nobody else can write. What is remembered is a
 * help and no more: a folder that is not there any more is passed over.
 */
public final class RememberedFolders {
  private static final Logger LOG = LoggerFactory.getLogger(RememberedFolders.class);
  private static final int MOST = 1_000;
  private static final int OCTETS = 1 << 20;

  private final String name;

  /**
   * Those of a kind.
   *
   * @param kind a word of lower case letters
   */
  public RememberedFolders(String kind) {
    this.name = kind + ".folders";
  }

  /** {@return those that are there, the one that was worked with last first} */
  public List<Path> all() {
    try {
      Optional<OpenFolder> found = StateFolder.find(FileSystems.getDefault());
      if (found.isEmpty()) {
        return List.of();
      }
      try (OpenFolder state = found.get()) {
        return read(state).stream().filter(Files::isDirectory).toList();
      }
    } catch (IOException | SymbolonException e) {
      LOG.debug("what is remembered can't be read", e);
      return List.of();
    }
  }

  /** Remembers one. Where that can't be done, nothing is lost but the help. */
  @SuppressWarnings("try") // holding the state folder is all that is done with the guard
  public void remember(Path folder) {
    try (OpenFolder state = StateFolder.open(FileSystems.getDefault(), FolderOpening::open)) {
      Path real = folder.toRealPath();
      List<Path> known = read(state);
      if (!known.isEmpty() && known.get(0).equals(real)) {
        return;
      }
      try (FolderLock guard = FolderLock.holdState(state)) {
        Set<Path> all = new LinkedHashSet<>(List.of(real));
        read(state).stream().filter(Files::isDirectory).limit(MOST).forEach(all::add);
        write(state, all);
      }
    } catch (IOException | SymbolonException e) {
      LOG.debug("{} is not remembered", folder, e);
    }
  }

  private List<Path> read(OpenFolder state) throws IOException {
    List<Path> all = new ArrayList<>();
    if (state.has(state.name(name))) {
      try (FileChannel channel = state.read(state.name(name))) {
        String text =
            new String(Channels.newInputStream(channel).readNBytes(OCTETS), StandardCharsets.UTF_8);
        for (String line : text.lines().toList()) {
          if (!line.isBlank()) {
            all.add(Path.of(line));
          }
        }
      } catch (InvalidPathException e) {
        LOG.debug("what is remembered is damaged", e);
      }
    }
    return all;
  }

  private void write(OpenFolder state, Set<Path> all) throws IOException {
    StringBuilder text = new StringBuilder();
    all.stream()
        .map(Path::toString)
        .filter(one -> one.lines().count() == 1)
        .forEach(one -> text.append(one).append('\n'));
    Path fresh = state.name(name + ".new");
    state.deleteIfThere(fresh);
    try (FileChannel channel = state.create(fresh)) {
      ByteBuffer octets = ByteBuffer.wrap(text.toString().getBytes(StandardCharsets.UTF_8));
      while (octets.hasRemaining()) {
        channel.write(octets);
      }
    }
    state.rename(fresh, state, state.name(name));
  }
}
