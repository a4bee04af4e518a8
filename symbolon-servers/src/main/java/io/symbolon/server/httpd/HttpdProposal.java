// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.HttpdText;
import io.symbolon.lossless.SourceText;
import io.symbolon.remedy.Input;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.text.BlockSettings;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What would change in the settings of httpd. A site that speaks TLS is changed where it stands.
 * One in clear text gets a twin for TLS behind it, or moves to TLS and leaves a redirect there; a
 * server without sites gets one, which takes everything else from the main server.
 */
final class HttpdProposal {
  private static final int USUAL_PORT = 443;

  /** Suites with forward secrecy and authenticated encryption; they count up to TLS 1.2. */
  private static final String USUAL_CIPHERS = "ECDHE+AESGCM:ECDHE+CHACHA20";

  private final Installation installation;
  private final HttpdTree tree;
  private final Wish wish;
  private final HttpdReading reading;
  private final SettingEdits edits = new SettingEdits();
  private final HttpdModules modules;
  private final Site site;
  private final PlacedFiles placed;
  private final int port;

  /** The lines that are wanted, by the names of their settings; no line takes a setting away. */
  private final Map<String, List<String>> wanted = new LinkedHashMap<>();

  HttpdProposal(Machine machine, Installation installation, HttpdTree tree, Wish wish) {
    this.installation = installation;
    this.tree = tree;
    this.wish = wish;
    this.reading = new HttpdReading(machine, installation, tree);
    this.modules = new HttpdModules(machine, installation, tree, edits);
    this.site = chosen();
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner());
    this.port =
        wish.port()
            .or(
                () ->
                    site.isTls()
                        ? site.endpoints(reading.listens()).stream().map(Endpoint::port).findFirst()
                        : Optional.empty())
            .orElse(USUAL_PORT);
  }

  private Site chosen() {
    List<Site> sites =
        new ArrayList<>(reading.sites().stream().filter(one -> !one.isOnlyRedirect()).toList());
    if (wish.site().isPresent()) {
      sites.addAll(reading.available());
    }
    if (sites.isEmpty()) {
      return new Site(Optional.empty(), tree.directives(), true);
    }
    List<TlsPlace> places = sites.stream().map(reading::place).toList();
    TlsPlace place = PlaceChoice.of("Apache httpd", places, wish);
    return sites.get(places.indexOf(place));
  }

  Proposal proposal() {
    checkPath(placed.folder());
    modules.need("ssl");
    settings();
    listen();
    boolean asIs = site.isTls() || !site.inside("SSLCertificateFile").isEmpty();
    boolean changesInPlace = asIs && site.block().isPresent() && site.enabled();
    if (site.block().isEmpty()) {
      append(tree.main(), "\n" + siteText("", address("", port)));
    } else if (asIs || !site.enabled()) {
      inPlace(site.block().get());
      redirect(List.of());
    } else if (wish.redirectFrom().isPresent()) {
      moved(site.block().get());
    } else {
      twin(site.block().get());
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    List<FileChange> settings = edits.changes(tree.files()::octets, tree.files()::snapshot);
    changes.addAll(settings);
    Path file = site.block().map(one -> one.source().path()).orElse(installation.main());
    if (!site.enabled()) {
      file = enabled(file, settings);
    }
    return new Proposal(
        installation,
        changesInPlace ? ProposedPlace.of(reading.place(site)) : ProposedPlace.made(place(), file),
        changes,
        placed.newFolders(),
        modules.steps(),
        List.of());
  }

  /** A site without a name of its own is called after its file. */
  private String place() {
    return site.block().isPresent()
        ? site.name()
        : host()
            .orElse(String.valueOf(installation.main().getFileName()).replaceFirst("\\.conf$", ""));
  }

  private Path enabled(Path file, List<FileChange> settings) {
    byte[] content =
        settings.stream()
            .filter(one -> one.path().equals(file))
            .map(FileChange::after)
            .findFirst()
            .orElseGet(() -> tree.files().octets(tree.files().get(file)));
    modules.site(site.file(), content);
    return installation.home().resolve("sites-enabled").resolve(file.getFileName());
  }

  /** A variable is resolved before anything else, in quotes too. */
  private static void checkPath(Path folder) {
    String text = folder.toString();
    if (text.contains("${") || text.chars().anyMatch(c -> c < ' ')) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The path "
              + VisibleText.of(text)
              + " has characters in it which httpd takes for something else, and can't be told"
              + " otherwise.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
  }

  private void settings() {
    if (!site.isTls()) {
      wanted.put("SSLEngine", List.of("SSLEngine on"));
    }
    credentials();
    versions();
    clients();
    if (wish.strictTransport().isPresent()) {
      modules.need("headers");
    }
  }

  private void credentials() {
    List<String> certificates = new ArrayList<>();
    List<String> keys = new ArrayList<>();
    int count = wish.credentials().size();
    for (Credential credential : wish.credentials()) {
      String base = fileName() + PemFiles.suffix(credential, count);
      Path chain =
          placed.add(
              base + ".pem", PemFiles.chain(credential), "the certificate with its chain", false);
      Path key = placed.add(base + ".key", PemFiles.openKey(credential), "the private key", true);
      certificates.add("SSLCertificateFile " + word(chain));
      keys.add("SSLCertificateKeyFile " + word(key));
    }
    wanted.put("SSLCertificateFile", certificates);
    wanted.put("SSLCertificateKeyFile", keys);
    wanted.put("SSLCertificateChainFile", List.of()); // the chain stands in the file itself
  }

  private Optional<String> host() {
    return wish.hosts().stream().map(HostName::typed).findFirst();
  }

  private String fileName() {
    return FileNames.safe(
        host().or(site::serverName).orElse(site.file().isEmpty() ? "server" : site.file()));
  }

  private static String word(Path path) {
    return HttpdText.word(Machine.withSlashes(path));
  }

  private void versions() {
    wish.versions(site.isTls())
        .map(all -> Wish.words(all, " "))
        .filter(words -> !HttpdReading.protocols(site).equals(Optional.of(words)))
        .ifPresent(
            words ->
                wanted.put(
                    "SSLProtocol", List.of("SSLProtocol -all +" + words.replace(" ", " +"))));
    boolean set = site.isTls() || !site.inForce("SSLCipherSuite").isEmpty();
    if (wish.ciphers().isPresent() || !set) {
      wanted.put(
          "SSLCipherSuite",
          List.of("SSLCipherSuite " + HttpdText.word(wish.ciphers().orElse(USUAL_CIPHERS))));
    }
  }

  private void clients() {
    if (wish.mode().isEmpty()) {
      return;
    }
    if (wish.mode().get() == Mode.ONE_WAY || wish.trust().isEmpty()) {
      boolean inherited =
          tree.directives().stream()
              .filter(one -> one.is("SSLVerifyClient"))
              .anyMatch(one -> !one.value(0).equalsIgnoreCase("none"));
      wanted.put("SSLVerifyClient", inherited ? List.of("SSLVerifyClient none") : List.of());
      for (String name :
          List.of(
              "SSLVerifyDepth",
              "SSLCACertificateFile",
              "SSLCACertificatePath",
              "SSLCARevocationFile",
              "SSLCARevocationPath",
              "SSLCARevocationCheck")) {
        wanted.put(name, List.of());
      }
      return;
    }
    Path trust = placed.clients(fileName(), wish.trust().get());
    wanted.put("SSLCACertificateFile", List.of("SSLCACertificateFile " + word(trust)));
    wanted.put("SSLCACertificatePath", List.of());
    String verify = wish.mode().get() == Mode.MUTUAL ? "require" : "optional";
    wanted.put("SSLVerifyClient", List.of("SSLVerifyClient " + verify));
    int depth = wish.trust().get().depth() + 1; // the root is counted here
    if (HttpdReading.depth(site) < depth) {
      wanted.put("SSLVerifyDepth", List.of("SSLVerifyDepth " + depth));
    }
    lists();
  }

  private void lists() {
    wanted.put("SSLCARevocationPath", List.of());
    if (wish.trust().orElseThrow().lists().isEmpty()) {
      wanted.put("SSLCARevocationFile", List.of());
      wanted.put("SSLCARevocationCheck", List.of());
      return;
    }
    Path lists = placed.lists(fileName(), wish.trust().get());
    wanted.put("SSLCARevocationFile", List.of("SSLCARevocationFile " + word(lists)));
    wanted.put("SSLCARevocationCheck", List.of("SSLCARevocationCheck chain"));
  }

  static boolean isStrict(Directive header) {
    return header.is("Header")
        && header.values().stream().anyMatch("Strict-Transport-Security"::equalsIgnoreCase);
  }

  private List<String> strictTransport() {
    return wish.strictTransport().stream()
        .map(
            time ->
                "Header always set Strict-Transport-Security \"max-age=" + time.toSeconds() + "\"")
        .toList();
  }

  /** A port that no line opens is opened behind those that are, or with Debian's own lines. */
  private void listen() {
    String host = listenHost();
    boolean there = reading.isListening(new Endpoint(host, port, false));
    boolean withModule = // a line that waits for the module
        !tree.hasModule("ssl")
            && Site.listens(tree.leftOut()).stream()
                .anyMatch(
                    one -> one.port() == port && (one.host().isEmpty() || one.host().equals(host)));
    if (there || withModule) {
      return;
    }
    List<Directive> lines = tree.directives().stream().filter(one -> one.is("Listen")).toList();
    String line = "Listen " + address(host, port);
    if (lines.isEmpty()) {
      append(tree.main(), line + "\n");
      return;
    }
    Directive last =
        lines.stream()
            .filter(one -> one.source().indentation(one.from()).isEmpty()) // not in a condition
            .reduce((first, second) -> second)
            .orElse(lines.get(lines.size() - 1));
    edits.of(last.source()).insert(last.to(), "\n" + last.source().indentation(last.from()) + line);
  }

  /** A server that has kept to one address is not opened to all of them by the way. */
  private String listenHost() {
    String own =
        site.endpoints(reading.listens()).stream().map(Endpoint::host).findFirst().orElse("");
    List<String> all = reading.listens().stream().map(Endpoint::host).distinct().toList();
    return own.isEmpty() && all.size() == 1 ? all.get(0) : own;
  }

  private static String address(String host, int port) {
    return host.isEmpty()
        ? String.valueOf(port)
        : (host.indexOf(':') >= 0 ? "[" + host + "]" : host) + ":" + port;
  }

  private String header(List<Endpoint> endpoints, int onPort) {
    List<String> addresses =
        endpoints.stream()
            .map(one -> one.host().isEmpty() ? "*" : one.host())
            .distinct()
            .map(host -> (host.indexOf(':') >= 0 ? "[" + host + "]" : host) + ":" + onPort)
            .toList();
    return "<VirtualHost "
        + (addresses.isEmpty() ? "*:" + onPort : String.join(" ", addresses))
        + ">";
  }

  private void inPlace(Directive block) {
    BlockSettings lines = new BlockSettings(edits, block, HttpdText::read, this::own);
    wanted.forEach(
        (name, fresh) ->
            lines.replace(
                // With a version before them, cipher suites are for that one.
                block.inside(name).stream()
                    .filter(one -> !name.equals("SSLCipherSuite") || one.words().size() == 1)
                    .toList(),
                fresh));
    if (wish.strictTransport().isPresent()) {
      lines.replace(
          block.inside("Header").stream().filter(HttpdProposal::isStrict).toList(),
          strictTransport());
    }
    lines.finish();
    List<Endpoint> endpoints = site.endpoints(reading.listens());
    if (endpoints.stream().noneMatch(one -> one.port() == port)) {
      head(block, header(endpoints, port));
    }
  }

  /** The line that opens a block, written anew. */
  private void head(Directive block, String line) {
    edits.of(block.source()).replace(block.from(), block.block().orElseThrow().from(), line);
  }

  /** The site moves to TLS, and clear text only sends clients there. */
  private void moved(Directive block) {
    List<Endpoint> plain = site.endpoints(reading.listens());
    inPlace(block);
    redirect(
        plain.stream().filter(one -> one.port() == wish.redirectFrom().orElseThrow()).toList());
  }

  private void redirect(List<Endpoint> plain) {
    if (wish.redirectFrom().isEmpty()) {
      return;
    }
    int from = wish.redirectFrom().get();
    if (from == port) {
      throw refused(
          "Port " + from + " can't speak TLS and redirect in clear text at once.",
          "Give another port: " + Input.REDIRECT_FROM.mention("80") + ".");
    }
    boolean served =
        reading.sites().stream()
            .filter(Site::isOnlyRedirect)
            .filter(one -> one.hosts().equals(site.hosts()) || one.hosts().isEmpty())
            .anyMatch(
                one -> one.endpoints(reading.listens()).stream().anyMatch(e -> e.port() == from));
    if (served) {
      return;
    }
    String name =
        site.serverName()
            .or(this::host)
            .orElseThrow(
                () ->
                    refused(
                        "This site has no ServerName: it is not known where clients are to be sent.",
                        "Say it: " + Input.HOST.mention("NAME") + "."));
    modules.need("alias");
    String target = "https://" + name + (port == USUAL_PORT ? "" : ":" + port) + "/";
    Optional<Site> plainTwin =
        plain.isEmpty()
            ? reading.sites().stream().filter(one -> isPlainTwin(one, from)).findFirst()
            : Optional.empty();
    if (plainTwin.isPresent()) { // of two sites with one name, the first answers
      BlockSettings lines =
          new BlockSettings(
              edits, plainTwin.get().block().orElseThrow(), HttpdText::read, this::own);
      lines.edit().append("Redirect permanent / " + target);
      lines.finish();
      return;
    }
    Directive block = site.block().orElseThrow();
    String step = block.source().step();
    String host =
        site.endpoints(reading.listens()).stream().map(Endpoint::host).findFirst().orElse("");
    Endpoint listen = new Endpoint(host, from, false);
    String head = header(plain.isEmpty() ? List.of(listen) : plain, from);
    StringBuilder text = new StringBuilder("\n\n" + head + "\n");
    text.append(step).append("ServerName ").append(name).append('\n');
    site.inside("ServerAlias")
        .forEach(
            one ->
                text.append(step)
                    .append("ServerAlias ")
                    .append(
                        one.values().stream().map(HttpdText::word).collect(Collectors.joining(" ")))
                    .append('\n'));
    text.append(step).append("Redirect permanent / ").append(target).append("\n</VirtualHost>");
    edits.of(block.source()).insert(block.to(), text.toString());
  }

  /** Whether a site answers the same clients in clear text on a port. */
  private boolean isPlainTwin(Site one, int from) {
    boolean same =
        one.hosts().isEmpty()
            ? site.hosts().isEmpty()
            : one.hosts().stream().anyMatch(site.hosts()::contains);
    return same
        && !one.isTls()
        && !one.isRedirect()
        && !one.block().equals(site.block())
        && one.endpoints(reading.listens()).stream().anyMatch(e -> e.port() == from);
  }

  /** A copy of the site for TLS behind it; clear text stays as it is. */
  private void twin(Directive block) {
    List<Endpoint> endpoints = site.endpoints(reading.listens());
    if (endpoints.stream().anyMatch(one -> one.port() == port)) {
      inPlace(block);
      return;
    }
    Directive.Block inside = block.block().orElseThrow();
    String content =
        withoutComments(
            block.source().text().substring(inside.from(), inside.to()).replace("\r\n", "\n"));
    StringBuilder text = new StringBuilder("\n\n" + header(endpoints, port));
    text.append(content.stripTrailing()).append('\n');
    lines(text, block.source().step());
    text.append("</VirtualHost>");
    edits.of(block.source()).insert(block.to(), text.toString());
  }

  /** What is explained once need not be explained twice. */
  private static String withoutComments(String content) {
    if (content.contains("\\\n")) {
      return content; // a line that goes on may look like a comment
    }
    List<String> kept = new ArrayList<>();
    for (String line : content.split("\n", -1)) {
      if (kept.isEmpty() || !(line.isBlank() || line.strip().startsWith("#"))) {
        kept.add(line); // the first is the rest of the line that opens the site
      }
    }
    return String.join("\n", kept);
  }

  private String siteText(String indentation, String address) {
    StringBuilder text = new StringBuilder(indentation + "<VirtualHost *:" + address + ">\n");
    host().ifPresent(name -> text.append("    ServerName ").append(name).append('\n'));
    lines(text, "    ");
    return text.append("</VirtualHost>\n").toString();
  }

  private void lines(StringBuilder text, String step) {
    wanted.values().stream()
        .flatMap(List::stream)
        .forEach(line -> text.append(step).append(line).append('\n'));
    strictTransport().forEach(line -> text.append(step).append(line).append('\n'));
  }

  private void append(SourceText source, String text) {
    Edits edit = edits.of(source);
    boolean ended = source.text().isEmpty() || source.text().endsWith("\n");
    edit.insert(source.text().length(), (ended ? "" : "\n") + text);
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void own(Directive directive) {
    BlockSettings.checkAlone(directive, tree.uses(directive.source()), "httpd", site.name());
  }
}
