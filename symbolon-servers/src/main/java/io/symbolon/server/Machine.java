// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server;

import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * The machine that servers are looked for on: its files, and its programs.
 *
 * @param root the folder that stands for the whole machine: {@code /}, another one in an image of a
 *     machine
 * @param files how files are read
 * @param programs what runs programs
 */
public record Machine(Path root, FileView files, Programs programs) {
  /** {@return this machine} */
  public static Machine here() {
    return at(FileSystems.getDefault().getPath("").toAbsolutePath().getRoot());
  }

  /**
   * {@return the image of a machine in a folder}
   *
   * @param root the folder
   */
  public static Machine at(Path root) {
    return new Machine(root, FileView.disk(), new SystemPrograms());
  }

  /**
   * {@return the same with files as they would be after changes}
   *
   * @param changes the changes
   */
  public Machine with(List<FileChange> changes) {
    return new Machine(root, files.with(changes), programs);
  }

  /**
   * {@return a path of the machine}
   *
   * @param absolute the path as the machine itself has it, such as {@code /etc/nginx}
   */
  public Path path(String absolute) {
    return root.resolve(absolute.startsWith("/") ? absolute.substring(1) : absolute);
  }

  /**
   * {@return the first of these that is there}
   *
   * @param absolute paths as the machine itself has them
   */
  public Optional<Path> first(String... absolute) {
    for (String one : absolute) {
      Path path = path(one);
      if (Files.exists(path)) {
        return Optional.of(path);
      }
    }
    return Optional.empty();
  }
}
