// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.postgresql;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.Word;
import io.symbolon.remedy.Input;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.ClientRole;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.DistinguishedName;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Roles that are logged in by a certificate: a line of the method {@code cert} above each line for
 * the network, for these roles alone, and a map in pg_ident.conf that says whose certificate it is.
 * All others log in as before.
 */
final class RoleLines {
  private static final String MAP = "certificates";
  private static final int WITH_WHOLE_NAME = 14; // the version that knows clientname=DN
  private static final String PLAIN = "[a-z_][a-z0-9_]*";
  private static final Set<String> KEYWORDS =
      Set.of("all", "sameuser", "samerole", "samegroup", "replication");

  private final Cluster cluster;
  private final List<Directive> lines;
  private final SettingEdits edits;
  private final Wish wish;

  RoleLines(Cluster cluster, List<Directive> lines, SettingEdits edits, Wish wish) {
    this.cluster = cluster;
    this.lines = lines;
    this.edits = edits;
    this.wish = wish;
  }

  void propose(List<FileChange> changes) {
    if (wish.mode().filter(mode -> mode == Mode.ONE_WAY).isPresent()) {
      withoutClients();
    }
    if (wish.roles().isEmpty()) {
      return;
    }
    boolean asks = wish.mode().map(Mode::asksClients).orElse(false);
    if (!asks) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          "A role is logged in by a certificate, and no client is to be asked for one.",
          "Name the authorities of the clients: " + Input.CLIENT_AUTHORITIES.mention("FILE..."));
    }
    wish.roles().forEach(RoleLines::checked);
    logins();
    map(changes);
  }

  private static void checked(ClientRole one) {
    if (one.role().isEmpty() || one.role().chars().anyMatch(c -> c < ' ' || c == 0x7F)) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "'" + VisibleText.of(one.role()) + "' is not a role of PostgreSQL.",
          "It is empty, or has a character that no line can hold.",
          "Name a role that is there: " + Input.ROLE.mention("ROLE=FILE"));
    }
  }

  /** Where nobody trusts clients any more, a line that wants their certificate stops the server. */
  private void withoutClients() {
    for (Directive line : lines) {
      if (isOurs(line)) {
        remove(line);
      } else if (HbaText.logsInByCertificate(line)) {
        throw new SymbolonException(
            Reason.INVALID_ARGUMENT,
            "Nothing was changed.",
            new Origin(line.source().path(), line.line())
                + " logs clients in by their certificate: with "
                + Input.MODE.mention("one-way")
                + " it can't, and the"
                + " server would not start.",
            "Give that line another method first, such as scram-sha-256.");
      }
    }
    ident(cluster).stream().filter(RoleLines::isOfOurMap).forEach(this::remove);
  }

  private void remove(Directive line) {
    String text = line.source().text();
    int from = text.lastIndexOf('\n', line.from()) + 1;
    int end = text.indexOf('\n', line.to());
    edits.of(line.source()).replace(from, end < 0 ? text.length() : end + 1, "");
  }

  private static List<Directive> ident(Cluster cluster) {
    return cluster.files().find(cluster.ident()).map(HbaText::read).orElse(List.of());
  }

  /** Whether a line is one that was made here. */
  static boolean isOurs(Directive line) {
    return HbaText.logsInByCertificate(line) && HbaText.map(line).filter(MAP::equals).isPresent();
  }

  private static boolean isOfOurMap(Directive line) {
    return line.is(MAP);
  }

  private void logins() {
    Set<String> roles = new LinkedHashSet<>();
    wish.roles().forEach(one -> roles.add(quoted(one.role())));
    Optional<Directive> above = Optional.empty();
    boolean any = false;
    for (Directive line : lines) {
      if (isOurs(line)) {
        above = Optional.of(line);
        continue;
      }
      List<Word> fields = HbaText.fields(line);
      boolean meant = fields.size() > HbaText.addressEnd(fields) && !HbaText.isReject(line);
      if (meant && !fields.get(0).value().equals("replication")) {
        any = true;
        if (above.filter(own -> isSameAddress(own, line)).isPresent()) {
          more(above.get(), roles);
        } else {
          insert(line, fields, roles);
        }
      }
      above = Optional.empty();
    }
    if (!any) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          "No line of "
              + VisibleText.of(cluster.hba().toString())
              + " lets a client in over the network, so nobody knows from where a role may come.",
          "Write one there, such as: hostssl all all 10.0.0.0/8 scram-sha-256");
    }
  }

  private static boolean isSameAddress(Directive own, Directive line) {
    List<Word> one = HbaText.fields(own);
    List<Word> other = HbaText.fields(line);
    return HbaText.addressEnd(one) == HbaText.addressEnd(other)
        && one.get(0).value().equals(other.get(0).value())
        && one.subList(2, HbaText.addressEnd(one)).stream()
            .map(Word::value)
            .toList()
            .equals(other.subList(2, HbaText.addressEnd(other)).stream().map(Word::value).toList());
  }

  /** Roles that a line of ours does not name yet. */
  private void more(Directive own, Set<String> roles) {
    Word users = HbaText.fields(own).get(1);
    String text = own.source().text().substring(users.from(), users.to());
    List<String> there = List.of(text.split(",", -1));
    List<String> fresh = roles.stream().filter(role -> !there.contains(role)).toList();
    if (!fresh.isEmpty()) {
      edits.of(own.source()).insert(users.to(), "," + String.join(",", fresh));
    }
  }

  private void insert(Directive line, List<Word> fields, Set<String> roles) {
    String text = line.source().text();
    int addressEnd = fields.get(HbaText.addressEnd(fields) - 1).to();
    int from = text.lastIndexOf('\n', line.from()) + 1;
    String databases = text.substring(fields.get(0).from(), fields.get(0).to());
    String address = text.substring(fields.get(2).from(), addressEnd).replaceAll("\\s+", " ");
    edits
        .of(line.source())
        .insert(
            from,
            "hostssl "
                + databases
                + ' '
                + String.join(",", roles)
                + ' '
                + address
                + " cert"
                + (wholeName() ? " clientname=DN" : "")
                + " map="
                + MAP
                + '\n');
  }

  private boolean wholeName() {
    return cluster.version().map(version -> version >= WITH_WHOLE_NAME).orElse(true);
  }

  private void map(List<FileChange> changes) {
    StringBuilder fresh = new StringBuilder();
    Set<String> known = new LinkedHashSet<>();
    ident(cluster).stream()
        .filter(RoleLines::isOfOurMap)
        .forEach(line -> known.add(line.value(0) + '\0' + line.value(1)));
    for (ClientRole one : wish.roles()) {
      String holder = holder(one.certificate().subject());
      if (known.add(holder + '\0' + one.role())) {
        fresh.append(MAP + ' ' + inQuotes(holder) + ' ' + quoted(one.role()) + '\n');
      }
    }
    if (fresh.isEmpty()) {
      return;
    }
    Optional<SourceText> source = cluster.files().find(cluster.ident());
    if (source.isPresent()) {
      String text = source.get().text();
      Edits edit = edits.of(source.get());
      boolean ended = text.isEmpty() || text.endsWith("\n");
      edit.insert(text.length(), (ended ? "" : "\n") + fresh);
      return;
    }
    changes.add(
        FileChange.newSettings(cluster.ident(), fresh.toString().getBytes(StandardCharsets.UTF_8)));
  }

  /** What tells the holder: the whole subject, or in old versions its common name. */
  private String holder(DistinguishedName subject) {
    if (wholeName()) {
      return SubjectText.of(subject);
    }
    return subject
        .commonName()
        .filter(name -> name.chars().noneMatch(c -> c < ' '))
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.UNSUPPORTED,
                    "Nothing was changed.",
                    "PostgreSQL "
                        + cluster.version().orElseThrow()
                        + " knows a client by its common name, and "
                        + subject
                        + " has none.",
                    "Take a certificate with a common name."));
  }

  /** A word that means itself: not in quotes, some words have a meaning of their own. */
  private static String quoted(String role) {
    return role.matches(PLAIN) && !KEYWORDS.contains(role) ? role : inQuotes(role);
  }

  private static String inQuotes(String text) {
    return '"' + text.replace("\"", "\"\"") + '"';
  }

  /** Lines by which nobody is logged in, as their map is not there. */
  static List<Finding> findings(Cluster cluster, List<Directive> lines) {
    List<Finding> findings = new ArrayList<>();
    List<Directive> ident = ident(cluster);
    for (Directive line : lines) {
      Optional<String> map = HbaText.map(line);
      if (map.isPresent() && ident.stream().noneMatch(one -> one.is(map.get()))) {
        findings.add(
            Finding.of(
                FindingKind.SERVER_REFUSES,
                new Origin(line.source().path(), line.line()).toString(),
                "It lets in whom the map "
                    + VisibleText.of(map.get())
                    + " names, and "
                    + VisibleText.of(cluster.ident().toString())
                    + " has no such map: nobody gets in by this line.",
                "Write a line of that map there, or: symbolon configure postgresql "
                    + Input.ROLE.mention()
                    + " ROLE=FILE"));
      }
    }
    return findings;
  }
}
