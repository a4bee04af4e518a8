// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.KeyedLines;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.LineDialect;
import io.symbolon.lossless.SourceText;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.ClientWish;
import io.symbolon.server.FileView;
import io.symbolon.server.Machine;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A Redis that copies what another one has, over TLS. Redis knows one file of authorities, for its
 * clients and for the server that it copies; which server that is stays as it is set.
 */
public final class RedisReplica implements ClientKind {
  private static final LineDialect WORDS = LineDialect.WORDS.withQuotes(LineDialect.Quotes.DOUBLE);
  private static final String AUTHORITIES = "tls-ca-cert-file";
  private static final String ACCOUNT = "redis";

  /** Made by the registry of clients. */
  public RedisReplica() {}

  @Override
  public String name() {
    return "redis-replica";
  }

  @Override
  public String title() {
    return "A Redis that copies another one";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    Path home = wish.home().orElse(machine.path("/etc/redis"));
    Path main = Files.isDirectory(home) ? home.resolve("redis.conf") : home;
    SourceText source =
        machine
            .files()
            .read(main)
            .map(read -> SourceText.of(main, read.octets()))
            .orElseThrow(
                () ->
                    new SymbolonException(
                        Reason.NOT_FOUND,
                        "The settings of Redis were not found.",
                        "There is no " + VisibleText.of(main.toString()) + ".",
                        "Name the file: --home PATH."));
    KeyedText text = language(source);
    List<Certificate> before = authorities(machine, surveyor, main, text);
    Set<Certificate> both = new LinkedHashSet<>(before);
    both.addAll(wish.trust());
    ClientFiles files = files(machine, wish, main, List.copyOf(both));
    files.set(List.of("tls-replication"), "yes");
    files.set(List.of(AUTHORITIES), files.trust());
    Optional<String> own = value(text, "tls-cert-file");
    files
        .pair()
        .ifPresent(
            pair -> {
              // Redis has no TLS at all without a certificate of its own.
              boolean other = own.filter(path -> !path.equals(pair.get(0))).isPresent();
              String role = other ? "tls-client-" : "tls-";
              files.set(List.of(role + "cert-file"), pair.get(0));
              files.set(List.of(role + "key-file"), pair.get(1));
            });
    if (own.isEmpty() && wish.credential().isEmpty()) {
      throw ClientFiles.refused(
          "Redis speaks TLS to its master only with a certificate of its own, and the settings name"
              + " none.",
          "Name its key and certificate: --credential FILE...");
    }
    ClientProposal proposal =
        files.proposal(
            RedisReplica::language,
            List.of(
                new ClientProposal.Use(
                    "Redis reads its settings when it starts", "systemctl restart redis-server")),
            Optional.empty());
    return new ClientProposal(
        proposal.main(),
        proposal.changes(),
        proposal.newFolders(),
        proposal.files(),
        proposal.uses(),
        proposal.startWith(),
        shared(main, text, wish.trust(), before).stream().toList());
  }

  private static ClientFiles files(
      Machine machine, ClientWish wish, Path main, List<Certificate> trust) {
    Optional<Owner> account =
        wish.owner().or(() -> machine.owner(new Owner(ACCOUNT, Optional.empty())));
    return new ClientFiles(
        machine,
        new ClientWish(
            trust,
            wish.credential(),
            wish.host(),
            wish.port(),
            wish.home(),
            wish.folder(),
            wish.name().or(() -> Optional.of("replica")),
            account,
            wish.form()),
        main);
  }

  private static KeyedText language(SourceText source) {
    return KeyedLines.read(source, WORDS);
  }

  private static Optional<String> value(KeyedText text, String key) {
    return text.entries().stream()
        .filter(one -> one.key().equals(List.of(key)))
        .map(KeyedText.Entry::value)
        .reduce((first, last) -> last);
  }

  /** Those that the settings name now stay. */
  private static List<Certificate> authorities(
      Machine machine, Surveyor surveyor, Path main, KeyedText text) {
    List<Certificate> there = new ArrayList<>();
    Path folder = Optional.ofNullable(main.toAbsolutePath().getParent()).orElse(main);
    value(text, AUTHORITIES)
        .map(name -> machine.below(folder, name))
        .flatMap(
            path ->
                machine
                    .files()
                    .read(path, Limits.FILE_BYTES)
                    .map(FileView.ReadFile::octets)
                    .map(octets -> surveyor.read(path, octets)))
        .ifPresent(
            file ->
                file.holdings().stream()
                    .filter(Holding.Cert.class::isInstance)
                    .map(holding -> ((Holding.Cert) holding).certificate())
                    .forEach(there::add));
    return there;
  }

  /** Whoever the master's authority has given a certificate gets in as a client from now on. */
  private static Optional<Finding> shared(
      Path main, KeyedText text, List<Certificate> trust, List<Certificate> before) {
    List<Certificate> fresh = trust.stream().filter(one -> !before.contains(one)).toList();
    boolean asks = !value(text, "tls-auth-clients").equals(Optional.of("no"));
    boolean serves = value(text, "tls-port").filter(port -> !port.equals("0")).isPresent();
    if (fresh.isEmpty() || !asks || !serves) {
      return Optional.empty();
    }
    return Optional.of(
        Finding.of(
            FindingKind.TRUST_SHARED,
            VisibleText.of(main.toString()),
            "Redis knows one file of authorities. Clients with a certificate of "
                + fresh.stream()
                    .map(one -> one.subject().shortText())
                    .collect(Collectors.joining(", "))
                + " get into this one from now on, too.",
            "If that is not meant, let one authority sign for both, or limit what clients may do with"
                + " passwords (requirepass, ACL)."));
  }
}
