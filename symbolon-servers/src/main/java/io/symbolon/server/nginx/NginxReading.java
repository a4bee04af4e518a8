// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.nginx;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.Directive;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** Where nginx speaks TLS, and what its settings get wrong. */
final class NginxReading {
  private static final Pattern BACKUP =
      Pattern.compile(".*(~|\\.(bak|backup|orig|old|save|swp|dpkg-\\w+|rej))");
  private static final int USUAL_DEPTH = 1;
  private static final Set<FileRole> OF_CLIENTS = EnumSet.of(FileRole.TRUST, FileRole.LISTS);

  private final Machine machine;
  private final Installation installation;
  private final NginxTree tree;
  private final List<ServerBlock> blocks;
  private final List<Finding> findings = new ArrayList<>();

  NginxReading(Machine machine, Installation installation, NginxTree tree) {
    this.machine = machine;
    this.installation = installation;
    this.tree = tree;
    this.blocks = ServerBlock.in(tree);
  }

  Settings settings() {
    List<TlsPlace> places = new ArrayList<>();
    for (ServerBlock block : blocks) {
      places.add(place(block));
      judge(block);
    }
    judgeFiles();
    return new Settings(installation, places, tree.files(), findings);
  }

  /** The name by which a block is chosen: its first host, rather one that is no pattern. */
  static String name(ServerBlock block) {
    return block.hosts().stream()
        .filter(host -> !host.startsWith("~") && host.indexOf('*') < 0)
        .findFirst()
        .orElse(block.hosts().isEmpty() ? "default" : block.hosts().get(0));
  }

  TlsPlace place(ServerBlock block) {
    List<Endpoint> endpoints = endpoints(block);
    boolean tls = endpoints.stream().anyMatch(Endpoint::tls);
    Directive at = block.block();
    return TlsPlace.at(
            PlaceId.at(at.source().path(), at.from()), origin(at), name(block), "server block")
        .endpoints(endpoints)
        .mode(mode(block, tls))
        .hosts(block.hosts())
        .files(tls || !block.block().inside("ssl_certificate").isEmpty() ? shown(block) : List.of())
        .protocols(protocolsInForce(block))
        .ciphers(block.one("ssl_ciphers").map(one -> one.value(0)))
        .account(machine.account(account()))
        .depth(depth(block))
        .build();
  }

  private List<Endpoint> endpoints(ServerBlock block) {
    List<Endpoint> endpoints = new ArrayList<>();
    for (ServerBlock.Listen listen : block.listens()) {
      if (!listen.isUnix()) {
        Endpoint own = listen.endpoint();
        boolean old = block.word("ssl").equals("on"); // the switch of earlier versions
        endpoints.add(new Endpoint(own.host(), own.port(), own.tls() || old || sharedTls(own)));
      }
    }
    return endpoints.isEmpty() && block.listens().isEmpty()
        ? List.of(new Endpoint("", 80, false))
        : endpoints;
  }

  /** One listen line with ssl makes the address speak TLS for every server there. */
  private boolean sharedTls(Endpoint own) {
    return blocks.stream()
        .flatMap(block -> block.listens().stream())
        .map(ServerBlock.Listen::endpoint)
        .anyMatch(other -> other.tls() && ServerBlock.isSameAddress(own, other));
  }

  private Mode mode(ServerBlock block, boolean tls) {
    if (!block.isWeb() && block.word("ssl_preread").equals("on") && !tls) {
      return Mode.PASSED_ON;
    }
    boolean rejects = block.word("ssl_reject_handshake").equals("on");
    return !tls ? Mode.CLEAR : rejects ? Mode.REJECTING : mode(block);
  }

  static Mode mode(ServerBlock block) {
    return switch (block.word("ssl_verify_client")) {
      case "on" -> Mode.MUTUAL;
      case "optional", "optional_no_ca" -> Mode.OPTIONAL;
      default -> Mode.ONE_WAY;
    };
  }

  static int depth(ServerBlock block) {
    try {
      return Integer.parseInt(block.word("ssl_verify_depth"));
    } catch (NumberFormatException e) {
      return USUAL_DEPTH;
    }
  }

  private String account() {
    return tree.directives().stream()
        .filter(one -> one.is("user"))
        .map(one -> one.value(0))
        .findFirst()
        .orElse("nobody");
  }

  private List<UsedFile> files(ServerBlock block) {
    List<UsedFile> files = new ArrayList<>();
    Optional<Path> passwords =
        block.one("ssl_password_file").map(one -> tree.resolve(one.value(0)));
    add(files, block, "ssl_certificate", FileRole.CERTIFICATE, Optional.empty());
    add(files, block, "ssl_certificate_key", FileRole.KEY, passwords);
    if (mode(block).asksClients()) {
      add(files, block, "ssl_client_certificate", FileRole.TRUST, Optional.empty());
      add(files, block, "ssl_trusted_certificate", FileRole.TRUST, Optional.empty());
      add(files, block, "ssl_crl", FileRole.LISTS, Optional.empty());
    }
    passwords.ifPresent(
        path ->
            files.add(
                UsedFile.of(
                        FileRole.PASSWORD,
                        path,
                        "ssl_password_file",
                        origin(block.one("ssl_password_file").orElseThrow()))
                    .readByRoot()));
    return files;
  }

  /**
   * The files of a block. The handshakes of one without a certificate are those of the first server
   * on its address: its certificate is shown, and its trust counts.
   */
  private List<UsedFile> shown(ServerBlock block) {
    return borrowedFrom(block)
        .map(
            first ->
                files(first).stream()
                    .filter(file -> mode(block).asksClients() || !OF_CLIENTS.contains(file.role()))
                    .toList())
        .orElseGet(() -> files(block));
  }

  private Optional<ServerBlock> borrowedFrom(ServerBlock block) {
    return block.inForce("ssl_certificate").isEmpty() ? defaultOf(block) : Optional.empty();
  }

  private void add(
      List<UsedFile> files,
      ServerBlock block,
      String setting,
      FileRole role,
      Optional<Path> passwords) {
    for (Directive one : block.inForce(setting)) {
      String value = one.value(0);
      if (value.indexOf('$') >= 0) {
        Finding unknown =
            Finding.of(
                FindingKind.VALUE_NOT_KNOWN,
                origin(one).toString(),
                setting + " has a variable in it: " + VisibleText.of(value) + ".",
                "Look at the file that it stands for: symbolon survey FILE.");
        if (!findings.contains(unknown)) { // several places may share it
          findings.add(unknown);
        }
      } else if (!value.startsWith("data:") && !value.startsWith("engine:")) {
        List<Secret> open =
            passwords.map(path -> PasswordLines.of(machine.files(), path)).orElse(List.of());
        files.add(
            UsedFile.of(role, tree.resolve(value), one.name(), origin(one))
                .withPasswords(open)
                .readByRoot());
      }
    }
  }

  static Origin origin(Directive directive) {
    return new Origin(directive.source().path(), directive.line());
  }

  /** Of several servers on one address, the versions of the default one count for all. */
  private Optional<String> protocolsInForce(ServerBlock block) {
    ServerBlock deciding = defaultOf(block).orElse(block);
    return deciding.one("ssl_protocols").map(one -> String.join(" ", one.values()));
  }

  /** The server that answers first on the TLS address of a block, if it is another one. */
  private Optional<ServerBlock> defaultOf(ServerBlock block) {
    for (ServerBlock.Listen own : block.listens()) {
      if (own.endpoint().tls() || sharedTls(own.endpoint())) {
        ServerBlock first = first(own.endpoint());
        if (!isSame(first, block)) {
          return Optional.of(first);
        }
      }
    }
    return Optional.empty();
  }

  /** Two blocks may say the same in two places. */
  private static boolean isSame(ServerBlock one, ServerBlock other) {
    return one.block().from() == other.block().from()
        && one.block().source().path().equals(other.block().source().path());
  }

  private ServerBlock first(Endpoint address) {
    @org.jspecify.annotations.Nullable ServerBlock first = null;
    for (ServerBlock block : blocks) {
      for (ServerBlock.Listen listen : block.listens()) {
        if (ServerBlock.isSameAddress(listen.endpoint(), address)) {
          if (listen.isDefault()) {
            return block;
          }
          first = first == null ? block : first;
        }
      }
    }
    return java.util.Objects.requireNonNull(first);
  }

  private void judge(ServerBlock block) {
    boolean tls = endpoints(block).stream().anyMatch(Endpoint::tls);
    String where = origin(block.block()).toString();
    if (!tls) {
      judgeClear(block, where);
      return;
    }
    if (block.inForce("ssl_certificate").isEmpty() && !block.isRedirect()) {
      Optional<ServerBlock> first = borrowedFrom(block);
      first.ifPresent(one -> judgeBorrowed(block, one, where));
      if (first.isEmpty() && !block.word("ssl_reject_handshake").equals("on")) {
        find(
            FindingKind.SERVER_REFUSES,
            where,
            name(block) + " speaks TLS and has no certificate: nginx refuses its connections.",
            "Name the certificate: symbolon configure nginx "
                + Input.SITE.mention("NAME")
                + " "
                + Input.CREDENTIAL.mention("FILE")
                + ".");
      }
    }
    judgeProtocols(block, where);
    judgeClients(block, where);
    judgeStrictTransport(block);
  }

  /** Where the first server asks for no certificate, no client can show one here. */
  private void judgeBorrowed(ServerBlock block, ServerBlock first, String where) {
    if (mode(block) == Mode.MUTUAL && !mode(first).asksClients()) {
      find(
          FindingKind.SERVER_REFUSES,
          where,
          name(block)
              + " has no certificate of its own. It uses the TLS settings of "
              + name(first)
              + ", which asks clients for no certificate. nginx refuses every client here.",
          "Name the certificate: symbolon configure nginx "
              + Input.SITE.mention("NAME")
              + " "
              + Input.CREDENTIAL.mention("FILE")
              + ".");
    }
  }

  private void judgeClear(ServerBlock block, String where) {
    boolean certificate = !block.block().inside("ssl_certificate").isEmpty();
    if (certificate) {
      find(
          FindingKind.CLEAR_ON_TLS_PORT,
          where,
          name(block) + " has a certificate, but none of its listen lines says ssl.",
          "Write ssl behind its port: listen 443 ssl;");
    } else if (block.isWeb() && !block.isRedirect()) {
      Set<String> names = new LinkedHashSet<>(block.hosts());
      boolean twin =
          blocks.stream()
              .filter(other -> endpoints(other).stream().anyMatch(Endpoint::tls))
              .anyMatch(
                  other ->
                      names.isEmpty()
                          ? other.hosts().isEmpty()
                          : other.hosts().stream().anyMatch(names::contains));
      findings.add(
          Finding.of(
              FindingKind.CLEAR_TEXT_OPEN,
              twin ? Level.WARNING : Level.NOTE,
              where,
              name(block) + " serves its content in clear text, and sends nobody to TLS.",
              "Let it redirect: symbolon configure nginx "
                  + Input.CREDENTIAL.mention("FILE")
                  + " "
                  + Input.REDIRECT_FROM.mention("PORT")
                  + "."));
    }
  }

  private void judgeProtocols(ServerBlock block, String where) {
    Optional<String> versions = protocolsInForce(block);
    if (versions.isEmpty()) {
      find(
          FindingKind.NEW_PROTOCOL_OFF,
          where,
          "No setting says which versions "
              + name(block)
              + " takes. nginx before 1.23.4 takes no TLS 1.3 then.",
          "Write: ssl_protocols TLSv1.2 TLSv1.3;");
    } else {
      List<String> words = List.of(versions.get().split(" ", -1));
      if (words.contains("TLSv1") || words.contains("TLSv1.1") || words.contains("SSLv3")) {
        find(
            FindingKind.OLD_PROTOCOLS,
            defaultOf(block)
                .orElse(block)
                .one("ssl_protocols")
                .map(NginxReading::origin)
                .map(Origin::toString)
                .orElse(where),
            name(block) + " takes " + String.join(", ", words) + ".",
            "Write: ssl_protocols TLSv1.2 TLSv1.3;");
      }
      if (!words.contains("TLSv1.3")) {
        find(
            FindingKind.NEW_PROTOCOL_OFF,
            where,
            name(block) + " does not take TLS 1.3.",
            "Write: ssl_protocols TLSv1.2 TLSv1.3;");
      }
    }
    Optional<Directive> own = block.block().inside("ssl_protocols").stream().findFirst();
    Optional<ServerBlock> deciding = defaultOf(block);
    if (own.isPresent()
        && deciding.isPresent()
        && !Optional.of(String.join(" ", own.get().values())).equals(versions)) {
      find(
          FindingKind.SETTING_IGNORED,
          origin(own.get()).toString(),
          "nginx does not heed ssl_protocols here: "
              + name(deciding.get())
              + " is the first server on this address, and its versions count for all.",
          "Write the same ssl_protocols there: " + origin(deciding.get().block()) + ".");
    }
  }

  private void judgeClients(ServerBlock block, String where) {
    boolean trust = !block.inForce("ssl_client_certificate").isEmpty();
    boolean other = !block.inForce("ssl_trusted_certificate").isEmpty();
    String verify = block.word("ssl_verify_client");
    if (verify.equals("on") && !trust && !other) {
      find(
          FindingKind.VERIFY_WITHOUT_TRUST,
          where,
          name(block) + " requires clients' certificates and trusts nobody: nginx does not start.",
          "Name the authorities of the clients: symbolon configure nginx "
              + Input.CREDENTIAL.mention("FILE")
              + " "
              + Input.CLIENT_AUTHORITIES.mention("FILE")
              + ".");
    } else if (trust && !mode(block).asksClients()) {
      find(
          FindingKind.TRUST_WITHOUT_VERIFY,
          block.one("ssl_client_certificate").map(NginxReading::origin).orElseThrow().toString(),
          name(block) + " names the authorities of its clients, and asks no client.",
          "Write ssl_verify_client on; or take ssl_client_certificate away.");
    }
    if (verify.equals("optional_no_ca")) {
      find(
          FindingKind.ANY_CERTIFICATE,
          block.one("ssl_verify_client").map(NginxReading::origin).orElseThrow().toString(),
          name(block)
              + " lets clients in with a certificate of any authority, also one that they made"
              + " themselves.",
          "Write ssl_verify_client optional; or on; unless the application itself checks who signed"
              + " $ssl_client_cert.");
    } else if (verify.equals("optional")) {
      boolean looked =
          block
              .block()
              .all()
              .flatMap(one -> one.values().stream())
              .anyMatch(value -> value.contains("ssl_client_verify"));
      if (!looked) {
        find(
            FindingKind.OPTIONAL_CLIENTS,
            where,
            name(block)
                + " lets clients without a certificate in, and no setting looks at"
                + " $ssl_client_verify.",
            "Let the application look at it, or write ssl_verify_client on;");
      }
    }
  }

  private void judgeStrictTransport(ServerBlock block) {
    boolean strict = block.inForce("add_header").stream().anyMatch(NginxReading::isStrict);
    if (strict) {
      lost(block.block(), block);
    }
  }

  private void lost(Directive outer, ServerBlock block) {
    for (Directive inner : outer.inside()) {
      if (inner.is("location") || inner.is("if") || inner.is("limit_except")) {
        List<Directive> own = inner.inside("add_header");
        if (!own.isEmpty() && own.stream().noneMatch(NginxReading::isStrict)) {
          find(
              FindingKind.STRICT_TRANSPORT_LOST,
              origin(inner).toString(),
              "This block has an add_header of its own: the Strict-Transport-Security of "
                  + name(block)
                  + " is not sent here.",
              "Repeat the add_header Strict-Transport-Security line in this block.");
        } else {
          lost(inner, block);
        }
      }
    }
  }

  static boolean isStrict(Directive header) {
    return header.is("add_header") && header.value(0).equalsIgnoreCase("Strict-Transport-Security");
  }

  private void judgeFiles() {
    for (Path file : tree.files()) {
      if (BACKUP.matcher(String.valueOf(file.getFileName())).matches()) {
        find(
            FindingKind.BACKUP_LOADED,
            VisibleText.of(file.toString()),
            "Its name is that of a copy, and nginx loads it all the same.",
            "Move it out of the folder.");
      }
    }
    Path available = installation.home().resolve("sites-available");
    Path enabled = installation.home().resolve("sites-enabled");
    if (!Files.isDirectory(available) || !Files.isDirectory(enabled)) {
      return;
    }
    Map<Path, Path> loaded = new LinkedHashMap<>();
    for (Path file : tree.files()) {
      loaded.put(real(file), file);
    }
    for (Path site : machine.files().list(available)) {
      if (Files.isRegularFile(site) && !loaded.containsKey(real(site))) {
        find(
            FindingKind.SITE_NOT_ENABLED,
            VisibleText.of(site.toString()),
            "This site is not linked in sites-enabled: nginx does not load it.",
            "Link it if it is to be served: ln -s "
                + VisibleText.of(site.toString())
                + " "
                + VisibleText.of(enabled.toString())
                + "/");
      }
    }
  }

  private static Path real(Path path) {
    try {
      return path.toRealPath();
    } catch (java.io.IOException e) {
      return path;
    }
  }

  private void find(FindingKind kind, String where, String statement, String advice) {
    findings.add(Finding.of(kind, where, statement, advice));
  }
}
