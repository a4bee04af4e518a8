// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.authority;

import io.symbolon.cli.output.Output;
import io.symbolon.convert.FileNames;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/**
 * Reads a list of those that credentials are issued for: in each line a name, and behind it a user
 * id if it has one; or a whole subject. Empty lines and those that begin with {@code #} say
 * nothing.
 */
final class ClientList {
  private static final int LARGEST = 8 << 20;
  private static final int MOST = 50_000;

  private ClientList() {}

  /**
   * One line.
   *
   * @param line its number, from 1
   * @param file the name of its file, without an ending; different from all others
   */
  record Client(int line, DistinguishedName subject, String file) {}

  static List<Client> read(Path path, DistinguishedName common) {
    List<String> lines;
    try {
      if (Files.size(path) > LARGEST) {
        throw wrong(path, 1, "The file has more than " + LARGEST + " octets.", Reason.LIMIT_PASSED);
      }
      lines = Files.readAllLines(path, StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The list " + Output.shown(path) + " can't be read.",
          Files.exists(path)
              ? "The system does not let you, or it is no text in UTF-8."
              : "There is no such file.",
          "Check the name and the rights of the file.",
          e);
    }
    List<Client> clients = new ArrayList<>();
    Set<String> files = new HashSet<>();
    for (int i = 0; i < lines.size(); i++) {
      String line = lines.get(i).replace("\uFEFF", "").strip();
      if (!line.isEmpty() && !line.startsWith("#")) {
        Client client = client(path, i + 1, line, common);
        if (!files.add(client.file())) {
          throw wrong(
              path,
              client.line(),
              "The name " + Output.shown(client.file()) + " was there before.",
              Reason.NOT_UNDERSTOOD);
        }
        clients.add(client);
      }
    }
    if (clients.isEmpty() || clients.size() > MOST) {
      throw wrong(
          path,
          1,
          clients.isEmpty() ? "It names nobody." : "It names more than " + MOST + ".",
          clients.isEmpty() ? Reason.NOT_FOUND : Reason.LIMIT_PASSED);
    }
    return clients;
  }

  private static Client client(Path path, int number, String line, DistinguishedName common) {
    DistinguishedName subject;
    if (line.contains("=")) {
      try {
        subject = DistinguishedName.parse(line);
      } catch (SymbolonException e) {
        throw wrong(path, number, e.seen(), Reason.NOT_UNDERSTOOD);
      }
    } else {
      String[] words = line.split("\\s+|\\s*[,;]\\s*", -1);
      if (words.length > 2) {
        throw wrong(
            path,
            number,
            "There are "
                + words.length
                + " words; a name and a user id are expected, or a subject.",
            Reason.NOT_UNDERSTOOD);
      }
      subject = common;
      if (words.length == 2) {
        subject = subject.with(Oids.UID, words[1]);
      }
      subject = subject.with(Oids.CN, words[0]);
    }
    String name = subject.commonName().or(whole(subject)).orElse("");
    String file = FileNames.safe(name);
    if (file.isEmpty()) {
      throw wrong(path, number, "It gives no name for a file.", Reason.NOT_UNDERSTOOD);
    }
    return new Client(number, subject, file);
  }

  private static Supplier<Optional<String>> whole(DistinguishedName subject) {
    return () -> subject.last(Oids.UID);
  }

  static SymbolonException wrong(Path path, int line, String seen, Reason reason) {
    return new SymbolonException(
        reason,
        "The list " + Output.shown(path) + " can't be used.",
        "Line " + line + ": " + seen,
        "Correct the line; nothing was issued.");
  }
}
