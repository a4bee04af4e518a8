// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What would change in the settings of a program on Spring Boot: a bundle of PEM files, which needs
 * no password in the settings and is taken anew without a restart.
 */
final class SpringProposal {
  private final Installation installation;
  private final SpringFiles files;
  private final Wish wish;
  private final SpringReading reading;
  private final TlsPlace place;
  private final String prefix;
  private final PlacedFiles placed;
  private final Map<String, String> wanted = new LinkedHashMap<>();
  private final List<String> unwanted = new ArrayList<>();
  private final List<Finding> findings = new ArrayList<>();

  SpringProposal(
      Machine machine,
      Installation installation,
      SpringFiles files,
      Wish wish,
      Optional<String> account) {
    this.installation = installation;
    this.files = files;
    this.wish = wish;
    this.reading = new SpringReading(installation, files, account);
    List<TlsPlace> places = new ArrayList<>(List.of(reading.place("server")));
    if (wish.site().isPresent() && files.setting("management.server.port").isPresent()) {
      places.add(reading.place("management.server"));
    }
    this.place = PlaceChoice.of("the program", places, wish);
    this.prefix = SpringReading.prefix(place.name());
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner()
                .or(
                    () ->
                        account.flatMap(user -> machine.owner(new Owner(user, Optional.empty())))));
  }

  Proposal proposal() {
    refuse();
    String below = "spring.ssl.bundle.pem." + bundle();
    Credential credential = wish.credentials().get(0);
    Path chain =
        placed.add(
            fileName() + ".pem",
            PemFiles.chain(credential),
            "the certificate with its chain",
            false);
    Path key =
        placed.add(fileName() + ".key", PemFiles.openKey(credential), "the private key", true);
    wish.port()
        .filter(port -> place.endpoints().stream().noneMatch(one -> one.port() == port))
        .ifPresent(port -> wanted.put(prefix + ".port", String.valueOf(port)));
    wanted.put(prefix + ".ssl.bundle", bundle());
    wanted.put(below + ".keystore.certificate", Machine.withSlashes(chain));
    wanted.put(below + ".keystore.private-key", Machine.withSlashes(key));
    wanted.put(below + ".keystore.verify-keys", "true");
    wanted.put(below + ".reload-on-update", "true");
    versions(below);
    clients(below);
    for (String name : SpringReading.DIRECT) {
      unwanted.add(prefix + ".ssl." + name);
    }
    if (files.word(prefix + ".ssl.enabled").equals("false")) {
      wanted.put(prefix + ".ssl.enabled", "true");
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(SpringEdits.of(installation, files, wanted, unwanted));
    return new Proposal(
        installation, ProposedPlace.of(place), changes, placed.newFolders(), List.of(), findings);
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "A program on Spring Boot shows one certificate, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "Spring Boot has one port, and no setting for a redirect or a header of that kind.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out; the program itself can do both.");
    }
    checkBundles(files);
    checkFolder(placed.folder());
  }

  /** Bundles came with version 3.1, and are read anew since 3.2. */
  static void checkBundles(SpringFiles files) {
    files
        .jar()
        .filter(jar -> !jar.hasBundles())
        .ifPresent(
            jar -> {
              throw refused(
                  VisibleText.of(String.valueOf(jar.file().getFileName()))
                      + " has Spring Boot "
                      + jar.version().orElse("")
                      + ", which has no bundles that are reloaded; 3.2 is the first.",
                  "Build it with a newer one, or make a keystore and name it by hand: symbolon"
                      + " convert.");
            });
  }

  /** What Spring would take for a name has no place in a path. */
  static void checkFolder(Path path) {
    String folder = path.toString();
    if (folder.contains("${") || folder.chars().anyMatch(c -> c < ' ')) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The path "
              + VisibleText.of(folder)
              + " has ${ or a control character in it, which Spring takes for something else.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
  }

  /** The bundle that is named already, if it is of PEM files; else one of the place's own. */
  private String bundle() {
    Optional<String> named = reading.bundle(prefix);
    boolean pem =
        named
            .filter(
                name -> reading.bundlePrefix(name).orElse("").startsWith("spring.ssl.bundle.pem"))
            .isPresent();
    String own = place.name();
    boolean taken = !pem && files.hasBelow("spring.ssl.bundle.pem." + own);
    return pem ? named.orElseThrow() : taken ? own + "-tls" : own;
  }

  private String fileName() {
    return FileNames.safe(wish.hosts().isEmpty() ? place.name() : wish.hosts().get(0).typed());
  }

  private void versions(String below) {
    // In another bundle than before, what is in force has to be said anew.
    boolean same = reading.bundle(prefix).filter(bundle()::equals).isPresent();
    String versions =
        wish.versions(place.isTls())
            .map(all -> Wish.words(all, ","))
            .orElse(same ? "" : Wish.words(place.versions(), ","));
    String inForce = files.value(below + ".options.enabled-protocols").orElse("");
    if (!versions.isEmpty() && !inForce.equals(versions)) {
      wanted.put(below + ".options.enabled-protocols", versions);
    }
    wish.ciphers().ifPresent(words -> wanted.put(below + ".options.ciphers", words));
  }

  private void clients(String below) {
    String auth = prefix + ".ssl.client-auth";
    if (wish.mode().isEmpty()) {
      return;
    }
    if (wish.mode().get() == Mode.ONE_WAY || wish.trust().isEmpty()) {
      unwanted.add(auth);
      unwanted.add(below + ".truststore.certificate");
      if (!files.word(auth).isEmpty()
          && files.all(auth).stream().anyMatch(one -> !files.isWritable(one.document()))) {
        wanted.put(auth, "none"); // it stands in the jar
      }
      return;
    }
    Path trust = placed.clients(fileName(), wish.trust().get());
    wanted.put(below + ".truststore.certificate", Machine.withSlashes(trust));
    wanted.put(auth, wish.mode().get() == Mode.MUTUAL ? "need" : "want");
    if (!wish.trust().get().lists().isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.LISTS_NOT_CHECKED,
              Level.WARNING,
              place.origin().toString(),
              "Spring Boot has no setting for revocation lists: revoked clients get in.",
              "Let the program check them, or put a server before it that does."));
    }
  }
}
