// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.javaprogram;

import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.SourceText;
import io.symbolon.seal.Secret;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.files.StoreFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.JavaHome;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * One Java program: a truststore of its own with what its Java trusts and one authority more, a
 * keystore where it shows a certificate, and a file of arguments that names both.
 */
public final class JavaProgram implements ClientKind {
  private static final String ARGUMENTS = "java.args";
  private static final Pattern ONE_WORD =
      Pattern.compile("\"(?:\\\\.|[^\"\\\\])*\"|'(?:\\\\.|[^'\\\\])*'|[^\\s\"']+");
  private static final String OPTION = "-Djavax.net.ssl.";

  /** Made by the registry of clients. */
  public JavaProgram() {}

  @Override
  public String name() {
    return "java";
  }

  @Override
  public String title() {
    return "A Java program";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    Path folder =
        wish.folder()
            .orElse(machine.root().getFileSystem().getPath("tls"))
            .toAbsolutePath()
            .normalize();
    PlacedFiles placed = new PlacedFiles(machine, folder, wish.owner());
    StoreFiles stores = new StoreFiles(machine, placed);
    List<Finding> findings = new ArrayList<>();
    Path roots = JavaHome.roots(machine, wish.home());
    StoreFiles.Placed trust =
        stores.truststore(
            "truststore",
            withRoots(machine, wish, surveyor, roots, findings),
            "what this Java trusts, and the new authorities");
    Optional<StoreFiles.Placed> own =
        wish.credential().map(credential -> stores.keystore("keystore", credential, "client"));
    Path file = folder.resolve(ARGUMENTS);
    FileView view = machine.files().with(placed.changes());
    Map<String, String> options = new LinkedHashMap<>();
    Secret trustPassword = PasswordLines.of(view, trust.password()).get(0);
    options(options, "trustStore", trust.store(), trustPassword);
    List<UsedFile> used = new ArrayList<>();
    used.add(used(FileRole.TRUST, trust.store(), "trustStore", file, trustPassword));
    own.ifPresent(
        store -> {
          Secret password = PasswordLines.of(view, store.password()).get(0);
          options(options, "keyStore", store.store(), password);
          used.add(used(FileRole.KEYSTORE, store.store(), "keyStore", file, password));
        });
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.add(arguments(machine, wish, file, options));
    return new ClientProposal(
        file,
        changes,
        PlacedFiles.newFolders(changes),
        used,
        machine.isWindows() ? usesOnWindows(file) : uses(file),
        Optional.empty(),
        findings);
  }

  private static List<ClientProposal.Use> uses(Path file) {
    String shown = file.toString();
    boolean plain = shown.matches("[\\w./:@+-]+");
    String quoted = plain ? shown : "'" + shown.replace("'", "'\\''") + "'";
    return List.of(
        new ClientProposal.Use("start the program", "java @" + quoted + " -jar PROGRAM.jar"),
        new ClientProposal.Use(
            "or, where a script starts it",
            "export JDK_JAVA_OPTIONS="
                + (plain ? "@" + shown : "'@\"" + shown.replace("'", "'\\''") + "\"'")));
  }

  /** In quotes both shells there take the sign and the blanks as they are. */
  private static List<ClientProposal.Use> usesOnWindows(Path file) {
    return List.of(
        new ClientProposal.Use("start the program", "java \"@" + file + "\" -jar PROGRAM.jar"),
        new ClientProposal.Use(
            "or, where a script starts it", "set JDK_JAVA_OPTIONS=@\"" + file + "\""));
  }

  /** The new authorities, and what the Java trusts already: the file takes its place. */
  private static List<Certificate> withRoots(
      Machine machine, ClientWish wish, Surveyor surveyor, Path roots, List<Finding> findings) {
    Set<Certificate> all = new LinkedHashSet<>(wish.trust());
    try (Secret usual = Secret.of("changeit".toCharArray(), "its usual password")) {
      byte[] octets =
          machine
              .files()
              .read(roots, io.symbolon.limit.Limits.FILE_BYTES)
              .map(FileView.ReadFile::octets)
              .orElse(new byte[0]);
      FileSurvey file = surveyor.withMoreUnlock(usual).read(roots, octets);
      for (Holding holding : file.holdings()) {
        if (holding instanceof Holding.Cert cert) {
          all.add(cert.certificate());
        }
      }
    }
    if (all.size() == wish.trust().size()) {
      findings.add(
          Finding.of(
              FindingKind.VALUE_NOT_KNOWN,
              VisibleText.of(roots.toString()),
              "What this Java trusts by itself could not be read: the program will trust the named"
                  + " authorities alone.",
              "Look at it: symbolon survey FILE."));
    }
    return List.copyOf(all);
  }

  private static void options(
      Map<String, String> options, String store, Path file, Secret password) {
    options.put(store, file.toString());
    options.put(store + "Type", "PKCS12");
    options.put(store + "Password", new String(password.revealUtf8(), StandardCharsets.UTF_8));
  }

  private static UsedFile used(
      FileRole role, Path path, String setting, Path file, Secret password) {
    return UsedFile.of(role, path, "javax.net.ssl." + setting, new Origin(file, 1))
        .withPasswords(List.of(password));
  }

  /** The lines for these options; the other lines of the file stay. */
  private static FileChange arguments(
      Machine machine, ClientWish wish, Path file, Map<String, String> options) {
    Optional<FileView.ReadFile> there = machine.files().read(file);
    SourceText source =
        SourceText.of(file, there.map(FileView.ReadFile::octets).orElse(new byte[0]));
    String text = source.text();
    Edits edits = new Edits(source);
    Map<String, String> left = new LinkedHashMap<>(options);
    for (int at = 0, end; at < text.length(); at = end + 1) {
      int close = text.indexOf('\n', at);
      end = close < 0 ? text.length() : close;
      int plain = end > at && text.charAt(end - 1) == '\r' ? end - 1 : end;
      String name = option(text.substring(at, plain)).orElse("");
      if (left.containsKey(name)) {
        edits.replace(at, plain, line(name, left.remove(name)));
      } else if (options.containsKey(name)) {
        edits.replace(at, Math.min(end + 1, text.length()), ""); // said twice
      }
    }
    StringBuilder added = new StringBuilder();
    left.forEach((name, value) -> added.append(line(name, value)).append('\n'));
    boolean ended = text.isEmpty() || text.endsWith("\n");
    edits.insert(text.length(), (ended || added.isEmpty() ? "" : "\n") + added);
    return new FileChange(
        file,
        there.map(FileView.ReadFile::octets),
        there.flatMap(FileView.ReadFile::snapshot),
        edits.octets(),
        true,
        "settings",
        Privacy.OWNER_ONLY,
        wish.owner());
  }

  /**
   * The option of a line that holds nothing else; of an option that is said twice, the last counts.
   */
  private static Optional<String> option(String line) {
    String word = line.strip();
    if (!ONE_WORD.matcher(word).matches()) {
      return Optional.empty();
    }
    String plain = word.replaceFirst("^[\"']", "");
    int sign = plain.indexOf('=');
    return plain.startsWith(OPTION) && sign > 0
        ? Optional.of(plain.substring(OPTION.length(), sign))
        : Optional.empty();
  }

  /** In quotes, a backslash takes the next character as it is. */
  private static String line(String name, String value) {
    return "\"" + OPTION + name + "=" + value.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
  }
}
