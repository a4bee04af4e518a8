// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.convert.FileNames;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.file.StoredTrust;
import io.symbolon.finding.Finding;
import io.symbolon.finding.Level;
import io.symbolon.limit.Limits;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;

/**
 * A list of those that credentials are issued for: in each line a name, and behind it a user id if
 * it has one; or a whole subject. Empty lines and those that begin with {@code #} say nothing.
 *
 * @param file the file of the list
 * @param clients those that it names, in their order
 */
public record ClientList(Path file, List<Client> clients) {

  /**
   * One line.
   *
   * @param line its number, from 1
   * @param subject for whom
   * @param file the name of its file, without an ending; different from all others
   */
  public record Client(int line, DistinguishedName subject, String file) {}

  /**
   * Reads a list.
   *
   * @param path its file, in UTF-8
   * @param common what all subjects have in common
   * @return the list; it names somebody
   * @throws SymbolonException if it can't be read, or a line of it has no meaning
   */
  public static ClientList read(Path path, DistinguishedName common) {
    List<String> lines;
    try {
      StoredTrust.check(path, "The list");
      lines = SafeRead.text(path, Limits.CLIENT_LIST_BYTES).lines().toList();
    } catch (IOException e) {
      throw new SymbolonException(
          e instanceof SafeRead.TooLarge ? Reason.LIMIT_PASSED : Reason.UNREADABLE,
          "The list " + VisibleText.of(path.toString()) + " can't be read.",
          SafeRead.why(path, e),
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
              "The name " + VisibleText.of(client.file()) + " is there twice.",
              Reason.NOT_UNDERSTOOD);
        }
        clients.add(client);
      }
    }
    if (clients.isEmpty() || clients.size() > Limits.CLIENT_LIST_LINES) {
      throw wrong(
          path,
          1,
          clients.isEmpty()
              ? "It names nobody."
              : "It names more than " + Limits.CLIENT_LIST_LINES + ".",
          clients.isEmpty() ? Reason.NOT_FOUND : Reason.LIMIT_PASSED);
    }
    return new ClientList(path, List.copyOf(clients));
  }

  /**
   * What an authority is to sign for each of them.
   *
   * @param use what the certificates are for
   * @param lasts how long they are valid
   * @return the orders, in the order of the clients
   */
  public List<SigningOrder> orders(Use use, Lifetime lasts) {
    return clients.stream()
        .map(client -> new SigningOrder(RequestDraft.of(client.subject(), List.of(), use), lasts))
        .toList();
  }

  /**
   * Refuses the list if the authority would not sign for each of them.
   *
   * @param orders what it is to sign, one for each client
   * @param now the moment of signing
   * @throws SymbolonException which names the first line that can't be signed
   */
  public void check(Authority authority, List<SigningOrder> orders, Instant now) {
    for (int i = 0; i < orders.size(); i++) {
      for (Finding finding : authority.judge(orders.get(i), now, "")) {
        if (finding.level() == Level.PROBLEM) {
          throw wrong(file, clients.get(i).line(), finding.statement(), Reason.INVALID_ARGUMENT);
        }
      }
    }
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
      String[] words = line.split("\\s*[,;]\\s*|\\s+", -1);
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

  private static SymbolonException wrong(Path path, int line, String seen, Reason reason) {
    return new SymbolonException(
        reason,
        "The list " + VisibleText.of(path.toString()) + " can't be used.",
        "Line " + line + ": " + seen,
        "Correct the line; nothing was issued.");
  }
}
