// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.lossless.Directive;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Where httpd speaks TLS, by its settings. What they get wrong is judged by {@link HttpdJudge}. */
final class HttpdReading {
  /** More than a client's own authority is not taken where nothing is set. */
  private static final int USUAL_DEPTH = 1;

  private static final List<String> VERSIONS = List.of("TLSv1", "TLSv1.1", "TLSv1.2", "TLSv1.3");
  private static final List<String> PARTS =
      List.of("Location", "LocationMatch", "Directory", "DirectoryMatch", "Files", "FilesMatch");

  private final Machine machine;
  private final Installation installation;
  private final HttpdTree tree;
  private final List<Site> sites;
  private final List<Endpoint> listens;

  HttpdReading(Machine machine, Installation installation, HttpdTree tree) {
    this.machine = machine;
    this.installation = installation;
    this.tree = tree;
    this.sites = Site.in(tree);
    this.listens = Site.listens(tree.directives());
  }

  Settings settings() {
    List<TlsPlace> places = new ArrayList<>();
    sites.forEach(site -> places.add(place(site)));
    mainServer().ifPresent(places::add);
    List<Path> read = tree.files().paths(); // those that are not loaded are read behind
    List<Finding> findings = new HttpdJudge(tree, this, sites, available()).findings();
    return new Settings(installation, places, read, findings);
  }

  List<Site> sites() {
    return sites;
  }

  List<Endpoint> listens() {
    return listens;
  }

  /** Ports that no site is for: the main server answers there. */
  Optional<TlsPlace> mainServer() {
    Site main = new Site(Optional.empty(), tree.directives(), true);
    List<Endpoint> own =
        listens.stream()
            .filter(listen -> sites.stream().noneMatch(site -> covers(site, listen)))
            .map(listen -> new Endpoint(listen.host(), listen.port(), main.isTls()))
            .toList();
    return own.isEmpty() ? Optional.empty() : Optional.of(place(main, own));
  }

  private boolean covers(Site site, Endpoint listen) {
    return site.endpoints(listens).stream()
        .anyMatch(
            one ->
                one.port() == listen.port()
                    && (one.host().isEmpty()
                        || listen.host().isEmpty()
                        || one.host().equals(listen.host())));
  }

  /** Whether httpd listens at an address. */
  boolean isListening(Endpoint endpoint) {
    return listens.stream()
        .anyMatch(
            listen ->
                listen.port() == endpoint.port()
                    && (listen.host().isEmpty()
                        || endpoint.host().isEmpty()
                        || listen.host().equals(endpoint.host())));
  }

  /** Sites in the folder for them that are not loaded. */
  List<Site> available() {
    List<Site> found = new ArrayList<>();
    Path folder = installation.home().resolve("sites-available");
    if (!Files.isDirectory(folder)) {
      return found;
    }
    Set<Path> loaded = new LinkedHashSet<>();
    tree.files().paths().forEach(path -> loaded.add(real(path)));
    for (Path file : machine.files().list(folder)) {
      boolean named = String.valueOf(file.getFileName()).endsWith(".conf");
      if (named && Files.isRegularFile(file) && !loaded.contains(real(file))) {
        for (Directive one : alone(file)) {
          if (one.is("VirtualHost")) {
            found.add(new Site(Optional.of(one), tree.directives(), false));
          }
        }
      }
    }
    return found;
  }

  /** What is broken in a file that is not loaded is nobody's trouble yet. */
  private List<Directive> alone(Path file) {
    try {
      return tree.alone(file);
    } catch (SymbolonException e) {
      return List.of();
    }
  }

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (java.io.IOException e) {
      return path;
    }
  }

  TlsPlace place(Site site) {
    return place(site, site.endpoints(listens));
  }

  private TlsPlace place(Site site, List<Endpoint> endpoints) {
    boolean named = !site.inside("SSLCertificateFile").isEmpty();
    return TlsPlace.at(
            site.block()
                .map(at -> PlaceId.at(at.source().path(), at.from()))
                .orElse(PlaceId.only(installation.main(), "main server")),
            site.block().map(HttpdReading::origin).orElse(new Origin(installation.main(), 1)),
            site.name(),
            site.block().isPresent() ? "virtual host" : "main server")
        .endpoints(endpoints)
        .mode(site.isTls() ? mode(site) : Mode.CLEAR)
        .hosts(site.hosts())
        .files(site.isTls() || named ? files(site) : List.of())
        .protocols(protocols(site))
        .ciphers(ciphers(site))
        .account(account().flatMap(machine::account))
        .depth(deepest(site) - 1) // it counts the root, which others do not
        .build();
  }

  static Origin origin(Directive directive) {
    return new Origin(directive.source().path(), directive.line());
  }

  private Optional<String> account() {
    return tree.directives().stream()
        .filter(one -> one.is("User"))
        .map(one -> one.value(0))
        .reduce((first, second) -> second);
  }

  static Mode mode(Site site) {
    return switch (site.word("SSLVerifyClient")) {
      case "require" -> Mode.MUTUAL;
      case "optional", "optional_no_ca" -> Mode.OPTIONAL;
      default -> partsThatAsk(site).isEmpty() ? Mode.ONE_WAY : Mode.OPTIONAL;
    };
  }

  /** The parts of a site that ask for a certificate where the rest does not. */
  static List<Directive> partsThatAsk(Site site) {
    return site.inside().stream()
        .filter(one -> PARTS.stream().anyMatch(one::is))
        .filter(
            part ->
                part.inside("SSLVerifyClient").stream()
                    .anyMatch(one -> !one.value(0).equalsIgnoreCase("none")))
        .toList();
  }

  /** The depth of the site, or of the parts that ask where the rest does not. */
  private static int deepest(Site site) {
    int own = depth(site);
    boolean whole = !Set.of("", "none").contains(site.word("SSLVerifyClient"));
    return whole
        ? own
        : partsThatAsk(site).stream()
            .flatMap(part -> part.inside("SSLVerifyDepth").stream())
            .map(line -> line.value(0))
            .filter(word -> word.matches("\\d{1,4}"))
            .mapToInt(Integer::parseInt)
            .reduce(own, Math::max);
  }

  static int depth(Site site) {
    try {
      return Integer.parseInt(site.word("SSLVerifyDepth"));
    } catch (NumberFormatException e) {
      return USUAL_DEPTH;
    }
  }

  private static Optional<String> ciphers(Site site) {
    return site.inForce("SSLCipherSuite").stream()
        .filter(one -> one.words().size() == 1) // with a version before it, it is for that one
        .reduce((first, second) -> second)
        .map(one -> one.value(0));
  }

  /**
   * The versions that are on in the end: words with a sign add and take away, others begin anew.
   */
  static Optional<String> protocols(Site site) {
    Optional<Directive> line = site.one("SSLProtocol");
    if (line.isEmpty()) {
      return Optional.empty();
    }
    Set<String> on = new LinkedHashSet<>();
    for (String word : line.get().values()) {
      boolean add = !word.startsWith("-");
      boolean anew = add && !word.startsWith("+");
      String name = anew ? word : word.substring(1);
      List<String> meant =
          name.equalsIgnoreCase("all")
              ? VERSIONS
              : VERSIONS.stream().filter(name::equalsIgnoreCase).toList();
      if (anew) {
        on.clear();
      }
      if (add) {
        on.addAll(meant);
      } else {
        meant.forEach(on::remove);
      }
    }
    return Optional.of(String.join(" ", VERSIONS.stream().filter(on::contains).toList()));
  }

  private List<UsedFile> files(Site site) {
    List<UsedFile> files = new ArrayList<>();
    add(files, site, "SSLCertificateFile", FileRole.CERTIFICATE);
    add(files, site, "SSLCertificateChainFile", FileRole.CHAIN);
    add(files, site, "SSLCertificateKeyFile", FileRole.KEY);
    if (site.inForce("SSLCertificateKeyFile").isEmpty()) {
      add(files, site, "SSLCertificateFile", FileRole.KEY); // it holds the key, too
    }
    if (mode(site).asksClients()) {
      add(files, site, "SSLCACertificateFile", FileRole.TRUST);
      site.one("SSLCACertificatePath").ifPresent(one -> folder(files, one, FileRole.TRUST));
      if (checksAllLists(site)) {
        add(files, site, "SSLCARevocationFile", FileRole.LISTS);
        site.one("SSLCARevocationPath").ifPresent(one -> folder(files, one, FileRole.LISTS));
      }
    }
    return files;
  }

  /** Whether each authority of a chain must have a list. */
  private static boolean checksAllLists(Site site) {
    return site.one("SSLCARevocationCheck")
        .map(one -> one.values().stream().map(word -> word.toLowerCase(Locale.ROOT)).toList())
        .filter(words -> words.equals(List.of("chain")))
        .isPresent();
  }

  private void add(List<UsedFile> files, Site site, String setting, FileRole role) {
    for (Directive one : site.inForce(setting)) {
      String value = one.value(0);
      boolean isFile = !value.contains("${") && !value.startsWith("pkcs11:") && !value.isEmpty();
      if (isFile && !(role.isOfServer() && value.equals("builtin"))) {
        files.add(used(one, tree.resolve(value), role));
      }
    }
  }

  private void folder(List<UsedFile> files, Directive one, FileRole role) {
    for (Path file : machine.files().list(tree.resolve(one.value(0)))) {
      // Only names that were made from the subject's hash are looked for.
      if (String.valueOf(file.getFileName()).matches("[0-9a-f]{8}\\.r?\\d+")) {
        files.add(used(one, file, role));
      }
    }
  }

  private static UsedFile used(Directive one, Path path, FileRole role) {
    return UsedFile.of(role, path, one.name(), origin(one)).readByRoot();
  }
}
