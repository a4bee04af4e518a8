// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.files;

import io.symbolon.seal.Secret;
import io.symbolon.server.machine.FileView;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Passwords in files of servers, one on a line. */
public final class PasswordLines {
  private static final int MOST = 100;
  private static final int MOST_OCTETS = 64 << 10;

  private PasswordLines() {}

  /** {@return the line of a file with a password} */
  public static byte[] line(Secret password) {
    byte[] octets = password.revealUtf8();
    byte[] line = Arrays.copyOf(octets, octets.length + 1);
    line[octets.length] = '\n';
    Arrays.fill(octets, (byte) 0);
    return line;
  }

  /** {@return the file beside a store in which its password lies} */
  public static Path beside(Path store) {
    String name = String.valueOf(store.getFileName());
    int dot = name.lastIndexOf('.');
    return store.resolveSibling((dot > 0 ? name.substring(0, dot) : name) + ".pass");
  }

  /**
   * {@return the passwords in a file; none where it can't be read}
   *
   * @param files how files are read
   */
  public static List<Secret> of(FileView files, Path file) {
    List<Secret> passwords = new ArrayList<>();
    byte[] octets;
    try {
      octets = files.read(file, MOST_OCTETS).map(FileView.ReadFile::octets).orElse(new byte[0]);
    } catch (io.symbolon.failure.SymbolonException e) {
      return List.of(); // that it can't be read is told with the file itself
    }
    CharBuffer text = StandardCharsets.UTF_8.decode(ByteBuffer.wrap(octets));
    int start = 0;
    for (int i = 0; i <= text.length() && passwords.size() < MOST; i++) {
      if (i == text.length() || text.charAt(i) == '\n') {
        int end = i > start && text.charAt(i - 1) == '\r' ? i - 1 : i;
        if (end > start) {
          char[] characters = new char[end - start];
          text.duplicate().position(start).get(characters);
          passwords.add(Secret.of(characters, file.toString()));
          Arrays.fill(characters, '\0');
        }
        start = i + 1;
      }
    }
    return passwords;
  }
}
