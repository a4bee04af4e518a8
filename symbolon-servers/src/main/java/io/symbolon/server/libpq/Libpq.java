// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.libpq;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Privacy;
import io.symbolon.lossless.DottedText;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.SectionText;
import io.symbolon.lossless.SourceText;
import io.symbolon.probe.StartWith;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Clients of PostgreSQL: a service of the file that its own library reads, and the address for
 * Java, with the same files.
 */
public final class Libpq implements ClientKind {
  private static final int USUAL_PORT = 5432;

  /** Made by the registry of clients. */
  public Libpq() {}

  @Override
  public String name() {
    return "libpq";
  }

  @Override
  public String title() {
    return "A client of PostgreSQL";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    String host =
        wish.host()
            .orElseThrow(
                () ->
                    refused(
                        "The server that the client connects to is not named.",
                        "Name it as its certificate does: " + Input.HOST.mention("NAME") + "."))
            .typed();
    Path file = file(machine, wish);
    Path folder =
        wish.folder()
            .orElse(Optional.ofNullable(file.getParent()).orElse(file).resolve("tls"))
            .toAbsolutePath()
            .normalize();
    check(folder.toString());
    String service = wish.name().orElse(host.replaceFirst("\\..*", ""));
    if (service.indexOf(']') >= 0 || service.chars().anyMatch(c -> c < ' ')) {
      throw refused(
          "A service can't be called so.",
          "Choose another name: " + Input.SITE.mention("NAME") + ".");
    }
    PlacedFiles placed = new PlacedFiles(machine, folder, wish.owner());
    String base = FileNames.safe(service);
    List<UsedFile> used = new ArrayList<>();
    Map<String, String> values = new LinkedHashMap<>();
    int port = wish.port().orElse(USUAL_PORT);
    values.put("host", host);
    values.put("port", String.valueOf(port));
    values.put("sslmode", "verify-full");
    Map<String, String> url = new LinkedHashMap<>(Map.of("sslmode", "verify-full"));
    Path trust =
        placed.add(
            base + "-servers.pem",
            PemFiles.certificates(new ClientTrust(wish.trust(), List.of())),
            "the authorities of the server",
            false);
    name(values, url, used, "sslrootcert", trust, FileRole.TRUST, file);
    wish.credential()
        .ifPresent(
            credential -> {
              Path chain =
                  placed.add(
                      base + ".pem",
                      PemFiles.chain(credential),
                      "the certificate with its chain",
                      false);
              name(values, url, used, "sslcert", chain, FileRole.CERTIFICATE, file);
              Path key =
                  placed.add(base + ".key", PemFiles.openKey(credential), "the private key", true);
              name(values, url, used, "sslkey", key, FileRole.KEY, file);
              Path forJava =
                  placed.add(
                      base + ".pk8",
                      credential.key().revealPkcs8(),
                      "the private key, as Java's driver reads it",
                      true);
              url.put("sslkey", forJava.toString());
            });
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.add(section(machine, file, service, values));
    return new ClientProposal(
        file,
        changes,
        PlacedFiles.newFolders(changes),
        used,
        uses(machine, file, service, host, port, url),
        Optional.of(StartWith.POSTGRESQL),
        List.of());
  }

  private static void name(
      Map<String, String> values,
      Map<String, String> url,
      List<UsedFile> used,
      String setting,
      Path path,
      FileRole role,
      Path file) {
    values.put(setting, path.toString());
    url.put(setting, path.toString());
    used.add(UsedFile.of(role, path, setting, new Origin(file, 1)));
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  /** A value is the rest of its line as it stands; blanks at its end are cut. */
  private static void check(String folder) {
    if (folder.chars().anyMatch(c -> c < ' ') || folder.endsWith(" ")) {
      throw refused(
          "The path " + VisibleText.of(folder) + " can't stand in a line of the service file.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
  }

  private static Path file(Machine machine, ClientWish wish) {
    Path home = wish.home().orElse(usual(machine));
    return Files.isDirectory(home)
        ? home.resolve("pg_service.conf").toAbsolutePath()
        : home.toAbsolutePath();
  }

  /** Where the library looks by itself. */
  private static Path usual(Machine machine) {
    String data = System.getenv("APPDATA");
    return machine.isWindows() && data != null
        ? machine.path(data).resolve("postgresql").resolve(".pg_service.conf")
        : machine.path(System.getProperty("user.home", ".")).resolve(".pg_service.conf");
  }

  private static FileChange section(
      Machine machine, Path file, String service, Map<String, String> values) {
    Optional<FileView.ReadFile> there = machine.files().read(file);
    SourceText source =
        SourceText.of(file, there.map(FileView.ReadFile::octets).orElse(new byte[0]));
    SectionText document = SectionText.read(source);
    Edits edits = new Edits(source);
    Map<String, String> fresh = new LinkedHashMap<>();
    values.forEach((name, value) -> fresh.put(service + "." + name, value));
    for (DottedText.Named one : document.settings()) {
      String value = fresh.remove(one.name());
      if (value != null && !value.equals(one.value())) {
        document.replace(edits, one, value);
      }
    }
    document.change(edits, List.of(), fresh);
    return new FileChange(
        file,
        there.map(FileView.ReadFile::octets),
        there.flatMap(FileView.ReadFile::snapshot),
        edits.octets(),
        true,
        "settings",
        Privacy.SYSTEM_DEFAULT,
        Optional.empty());
  }

  private static List<ClientProposal.Use> uses(
      Machine machine, Path file, String service, String host, int port, Map<String, String> url) {
    boolean usual = file.equals(usual(machine));
    String call = "service=" + service + " dbname=DATABASE user=ROLE";
    StringBuilder address =
        new StringBuilder("jdbc:postgresql://" + host + ":" + port + "/DATABASE");
    char sign = '?';
    for (Map.Entry<String, String> one : url.entrySet()) {
      address
          .append(sign)
          .append(one.getKey())
          .append('=')
          .append(URLEncoder.encode(one.getValue(), StandardCharsets.UTF_8).replace("+", "%20"));
      sign = '&';
    }
    return List.of(
        new ClientProposal.Use(
            "with PostgreSQL's own library",
            machine.isWindows()
                ? (usual ? "" : "set PGSERVICEFILE=" + file + " & ") + "psql \"" + call + "\""
                : (usual ? "" : "PGSERVICEFILE=" + quoted(file.toString()) + " ")
                    + "psql "
                    + quoted(call)),
        new ClientProposal.Use("in Java", address.toString()));
  }

  private static String quoted(String text) {
    return text.matches("[\\w./:@+=-]+") ? text : "'" + text.replace("'", "'\\''") + "'";
  }
}
