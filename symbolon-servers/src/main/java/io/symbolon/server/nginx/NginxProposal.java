// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.BlockEdit;
import io.symbolon.lossless.Directive;
import io.symbolon.lossless.NginxText;
import io.symbolon.party.ProtocolVersion;
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
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** What would change in the settings of nginx: a few lines of one server block. */
final class NginxProposal {
  private static final int USUAL_PORT = 443;

  /** Suites with forward secrecy and authenticated encryption; they count up to TLS 1.2. */
  private static final String USUAL_CIPHERS = "ECDHE+AESGCM:ECDHE+CHACHA20";

  private final Installation installation;
  private final Wish wish;
  private final NginxTree tree;
  private final SettingEdits edits = new SettingEdits();
  private final TlsPlace chosen;
  private final ServerBlock block;
  private final BlockSettings settings;
  private final BlockEdit inside;
  private final PlacedFiles placed;
  private final String name;

  NginxProposal(Machine machine, Installation installation, NginxTree tree, Wish wish) {
    this.installation = installation;
    this.wish = wish;
    this.tree = tree;
    List<ServerBlock> blocks =
        ServerBlock.in(tree).stream().filter(one -> !one.isOnlyRedirect()).toList();
    NginxReading reading = new NginxReading(machine, installation, tree);
    List<TlsPlace> places = blocks.stream().map(reading::place).toList();
    this.chosen = PlaceChoice.of("nginx", places, wish);
    this.block = blocks.get(places.indexOf(chosen));
    this.name = NginxReading.name(block);
    this.settings = new BlockSettings(edits, block.block(), NginxText::read, this::own);
    this.inside = settings.edit();
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner());
  }

  Proposal proposal() {
    checkPath(placed.folder());
    listen();
    credentials();
    versions();
    clients();
    strictTransport();
    redirect();
    inside.finish();
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(edits.changes(tree::octets, tree::snapshot));
    return new Proposal(
        installation, ProposedPlace.of(chosen), changes, placed.newFolders(), List.of(), List.of());
  }

  /** nginx takes a $ in the path of a certificate for a variable, and has no way to write one. */
  private static void checkPath(Path folder) {
    if (folder.toString().indexOf('$') >= 0) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "Nothing was changed.",
          "The path "
              + VisibleText.of(folder.toString())
              + " has a $ in it, which nginx takes for a variable and can't be told otherwise.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
  }

  private int port() {
    return wish.port()
        .or(
            () ->
                block.listens().stream()
                    .map(ServerBlock.Listen::endpoint)
                    .filter(Endpoint::tls)
                    .map(Endpoint::port)
                    .findFirst())
        .orElse(USUAL_PORT);
  }

  private void listen() {
    int port = port();
    List<ServerBlock.Listen> onPort =
        block.listens().stream().filter(one -> one.endpoint().port() == port).toList();
    if (block.word("ssl").equals("on") && !onPort.isEmpty()) {
      return;
    }
    for (ServerBlock.Listen one : onPort) {
      if (!one.endpoint().tls()) {
        Directive directive = one.directive();
        own(directive);
        int at = directive.words().get(0).to();
        edits.of(directive.source()).insert(at, " ssl");
      }
    }
    List<String> lines = onPort.isEmpty() ? newListens(port) : List.of();
    List<Directive> moved = moved().stream().map(ServerBlock.Listen::directive).toList();
    moved.forEach(this::own);
    // What moves to the block that redirects makes room for the new lines.
    for (int i = 0; i < Math.max(moved.size(), lines.size()); i++) {
      if (i >= moved.size()) {
        put(lines.get(i));
      } else if (i >= lines.size()) {
        inside.remove(moved.get(i));
      } else {
        inside.replace(moved.get(i), lines.get(i));
      }
    }
  }

  /** The same addresses as those in clear text, on the port for TLS. */
  private List<String> newListens(int port) {
    List<String> lines =
        block.listens().stream()
            .filter(one -> !one.isUnix())
            .map(one -> address(one.endpoint().host(), port))
            .distinct()
            .map(address -> "listen " + address + " ssl;")
            .toList();
    return lines.isEmpty() ? List.of("listen " + port + " ssl;") : lines;
  }

  /** The lines for the port that is to send clients to TLS. */
  private List<ServerBlock.Listen> moved() {
    return wish.redirectFrom().isEmpty()
        ? List.of()
        : block.listens().stream()
            .filter(one -> one.endpoint().port() == wish.redirectFrom().get())
            .toList();
  }

  private static String address(String host, int port) {
    return host.isEmpty()
        ? String.valueOf(port)
        : host.indexOf(':') >= 0 ? "[" + host + "]:" + port : host + ":" + port;
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
      certificates.add("ssl_certificate " + word(chain) + ";");
      keys.add("ssl_certificate_key " + word(key) + ";");
    }
    settings.set("ssl_certificate", certificates);
    settings.set("ssl_certificate_key", keys);
  }

  private String fileName() {
    String host =
        wish.hosts().stream()
            .map(HostName::typed)
            .findFirst()
            .orElse(name.equals("default") ? "server" : name);
    return FileNames.safe(host);
  }

  private static String word(Path path) {
    return NginxText.word(Machine.withSlashes(path));
  }

  private void versions() {
    Optional<List<ProtocolVersion>> versions = wish.versions(chosen.isTls());
    if (versions.isPresent()) {
      String wanted = Wish.words(versions.get(), " ");
      boolean inForce =
          block
              .one("ssl_protocols")
              .map(one -> String.join(" ", one.values()).equals(wanted))
              .orElse(false);
      if (!inForce) {
        settings.set("ssl_protocols", List.of("ssl_protocols " + wanted + ";"));
      }
    }
    if (wish.ciphers().isPresent() || (!chosen.isTls() && block.inForce("ssl_ciphers").isEmpty())) {
      String ciphers = wish.ciphers().orElse(USUAL_CIPHERS);
      settings.set("ssl_ciphers", List.of("ssl_ciphers " + NginxText.word(ciphers) + ";"));
    }
  }

  private void clients() {
    if (wish.mode().isEmpty()) {
      return;
    }
    if (wish.mode().get() == Mode.ONE_WAY || wish.trust().isEmpty()) {
      oneWay();
      return;
    }
    String base = fileName();
    Path trust = placed.clients(base, wish.trust().get());
    settings.set("ssl_client_certificate", List.of("ssl_client_certificate " + word(trust) + ";"));
    String verify = wish.mode().get() == Mode.MUTUAL ? "on" : "optional";
    settings.set("ssl_verify_client", List.of("ssl_verify_client " + verify + ";"));
    int depth = wish.trust().get().depth();
    if (NginxReading.depth(block) < depth) {
      settings.set("ssl_verify_depth", List.of("ssl_verify_depth " + depth + ";"));
    }
    if (wish.trust().get().lists().isEmpty()) {
      settings.set("ssl_crl", List.of());
    } else {
      Path lists = placed.lists(base, wish.trust().get());
      settings.set("ssl_crl", List.of("ssl_crl " + word(lists) + ";"));
    }
  }

  private void oneWay() {
    for (String setting : List.of("ssl_client_certificate", "ssl_verify_depth", "ssl_crl")) {
      settings.set(setting, List.of());
    }
    boolean inherited =
        block.around().stream()
            .flatMap(outer -> outer.inside("ssl_verify_client").stream())
            .anyMatch(one -> !one.value(0).equals("off"));
    settings.set("ssl_verify_client", inherited ? List.of("ssl_verify_client off;") : List.of());
  }

  private void strictTransport() {
    if (wish.strictTransport().isEmpty()) {
      return;
    }
    String line =
        "add_header Strict-Transport-Security \"max-age="
            + wish.strictTransport().get().toSeconds()
            + "\" always;";
    List<Directive> own =
        block.block().inside("add_header").stream().filter(NginxReading::isStrict).toList();
    settings.replace(own, List.of(line));
    repeat(block.block(), line);
  }

  /** A block with a header of its own sends none of those around it. */
  private void repeat(Directive outer, String line) {
    for (Directive inner : outer.inside()) {
      boolean block = inner.is("location") || inner.is("if") || inner.is("limit_except");
      if (block && inner.source() == this.block.block().source()) {
        List<Directive> headers = inner.inside("add_header");
        List<Directive> strict = headers.stream().filter(NginxReading::isStrict).toList();
        if (!headers.isEmpty() && strict.isEmpty()) {
          BlockEdit edit = BlockEdit.in(edits.of(inner.source()), inner);
          edit.after(headers.get(headers.size() - 1), line);
        } else {
          strict.forEach(one -> edits.of(one.source()).replace(one.from(), one.to(), line));
        }
        repeat(inner, line);
      }
    }
  }

  /** The lines for clear text move to a block of their own that sends clients to TLS. */
  private void redirect() {
    if (wish.redirectFrom().isEmpty()) {
      return;
    }
    int from = wish.redirectFrom().get();
    if (from == port()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          "Port " + from + " can't speak TLS and redirect in clear text at once.",
          "Give another port: " + Input.REDIRECT_FROM.mention("80") + ".");
    }
    List<ServerBlock.Listen> plain = moved();
    boolean served =
        ServerBlock.in(tree).stream()
            .filter(ServerBlock::isOnlyRedirect)
            .filter(one -> one.listens().stream().anyMatch(l -> l.endpoint().port() == from))
            .anyMatch(one -> one.hosts().equals(block.hosts()));
    if (served) {
      return;
    }
    String sent =
        "return 301 https://$host" + (port() == USUAL_PORT ? "" : ":" + port()) + "$request_uri;";
    Optional<ServerBlock> twin =
        plain.isEmpty()
            ? ServerBlock.in(tree).stream().filter(one -> isPlainTwin(one, from)).findFirst()
            : Optional.empty();
    if (twin.isPresent()) { // of two blocks with one name, the first answers
      own(twin.get().block());
      BlockEdit edit = BlockEdit.in(edits.of(twin.get().block().source()), twin.get().block());
      edit.append(sent);
      edit.finish();
      return;
    }
    String step = block.block().source().step();
    StringBuilder text = new StringBuilder("\n\nserver {\n");
    if (plain.isEmpty()) {
      text.append(step).append("listen ").append(from).append(";\n");
    }
    plain.forEach(
        one ->
            text.append(step)
                .append("listen ")
                .append(
                    one.directive().words().stream()
                        .map(w -> NginxText.word(w.value()))
                        .collect(Collectors.joining(" ")))
                .append(";\n"));
    block
        .block()
        .inside("server_name")
        .forEach(
            one ->
                text.append(step)
                    .append("server_name ")
                    .append(
                        one.values().stream().map(NginxText::word).collect(Collectors.joining(" ")))
                    .append(";\n"));
    text.append(step).append(sent).append("\n}");
    String indentation = block.block().source().indentation(block.block().from());
    edits
        .of(block.block().source())
        .insert(
            block.block().to(),
            text.toString()
                .replace("\n", "\n" + indentation)
                .replace("\n" + indentation + "\n", "\n\n"));
  }

  /** Whether a block answers the same clients in clear text on a port. */
  private boolean isPlainTwin(ServerBlock one, int from) {
    boolean same =
        one.hosts().isEmpty()
            ? block.hosts().isEmpty()
            : one.hosts().stream().anyMatch(block.hosts()::contains);
    boolean other =
        one.block().from() != block.block().from()
            || !one.block().source().path().equals(block.block().source().path());
    return same
        && other
        && !one.isRedirect()
        && one.listens().stream()
            .anyMatch(listen -> listen.endpoint().port() == from && !listen.endpoint().tls());
  }

  /** New lines stand behind the last listen line, in the order in which they come. */
  private void put(String line) {
    List<ServerBlock.Listen> own =
        block.listens().stream()
            .filter(one -> one.directive().source() == block.block().source())
            .toList();
    if (!own.isEmpty()) {
      inside.after(own.get(own.size() - 1).directive(), line);
    } else {
      inside.append(line);
    }
  }

  private void own(Directive directive) {
    BlockSettings.checkAlone(directive, tree.uses(directive.source()), "nginx", name);
  }
}
