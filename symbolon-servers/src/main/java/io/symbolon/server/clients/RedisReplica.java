// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.clients;

import io.symbolon.file.Owner;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.KeyedLines;
import io.symbolon.lossless.KeyedText;
import io.symbolon.lossless.LineDialect;
import io.symbolon.lossless.SourceText;
import io.symbolon.remedy.Input;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.Installation;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A Redis that copies what another one has, over TLS. Redis knows one file of authorities, for its
 * clients and for the server that it copies; which server that is stays as it is set.
 */
public final class RedisReplica implements ClientKind {
  private static final LineDialect WORDS = LineDialect.WORDS.withQuotes(LineDialect.Quotes.DOUBLE);
  private static final String AUTHORITIES = "tls-ca-cert-file";
  private static final String CERTIFICATE = "tls-cert-file";

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
    Server redis = Servers.named("redis").orElseThrow();
    Path usual = machine.path("/etc/redis");
    Installation there =
        wish.home()
            .map(home -> redis.at(machine, home))
            .or(() -> redis.find(machine).stream().findFirst())
            .orElseGet(() -> redis.at(machine, usual));
    TlsPlace serving = redis.read(machine, there).places().get(0);
    Set<Certificate> before = authorities(machine, surveyor, there, serving);
    Set<Certificate> both = new LinkedHashSet<>(before);
    both.addAll(wish.trust());
    ClientFiles files = files(machine, wish, there, List.copyOf(both));
    files.set(List.of("tls-replication"), "yes");
    files.set(List.of(AUTHORITIES), files.trust());
    Optional<Path> own =
        files(machine, there, serving, FileRole.CERTIFICATE, CERTIFICATE).findFirst();
    if (own.isEmpty() && wish.credential().isEmpty()) {
      throw ClientFiles.refused(
          "Redis speaks TLS to its master only with a certificate of its own, and the settings name"
              + " none.",
          "Name its key and certificate: " + Input.CREDENTIAL.mention("FILE..."));
    }
    files
        .pair()
        .ifPresent(
            pair -> {
              // Redis has no TLS at all without a certificate of its own.
              boolean other = own.filter(one -> !one.equals(Path.of(pair.get(0)))).isPresent();
              String role = other ? "tls-client-" : "tls-";
              files.set(List.of(role + "cert-file"), pair.get(0));
              files.set(List.of(role + "key-file"), pair.get(1));
            });
    return files.proposal(
        RedisReplica::language,
        List.of(
            new ClientProposal.Use(
                "Redis reads its settings when it starts", "systemctl restart redis-server")),
        Optional.empty(),
        shared(serving, wish.trust(), before).stream().toArray(Finding[]::new));
  }

  private static ClientFiles files(
      Machine machine, ClientWish wish, Installation there, List<Certificate> trust) {
    ClientWish own = wish.withTrust(trust).withName(wish.name().orElse("replica"));
    Optional<Owner> account =
        wish.owner().or(() -> machine.owner(new Owner("redis", Optional.empty())));
    return new ClientFiles(machine, account.map(own::withOwner).orElse(own), there.main());
  }

  private static KeyedText language(SourceText source) {
    return KeyedLines.read(source, WORDS);
  }

  /** The files of a setting: as it serves with them, or as they stand there while it does not. */
  private static Stream<Path> files(
      Machine machine, Installation there, TlsPlace serving, FileRole role, String setting) {
    if (serving.isTls()) {
      return serving.files().stream().filter(one -> one.role() == role).map(UsedFile::path);
    }
    return machine
        .files()
        .read(there.main())
        .map(read -> language(SourceText.of(there.main(), read.octets())).entries())
        .orElse(List.of())
        .stream()
        .filter(one -> one.key().equals(List.of(setting)))
        .reduce((first, last) -> last)
        .map(one -> machine.below(there.home(), one.value()))
        .stream();
  }

  /** Those that the settings name now stay. */
  private static Set<Certificate> authorities(
      Machine machine, Surveyor surveyor, Installation there, TlsPlace serving) {
    return files(machine, there, serving, FileRole.TRUST, AUTHORITIES)
        .flatMap(
            path ->
                machine
                    .files()
                    .read(path, Limits.FILE_BYTES)
                    .map(FileView.ReadFile::octets)
                    .map(octets -> surveyor.read(path, octets).holdings())
                    .stream())
        .flatMap(List::stream)
        .filter(Holding.Cert.class::isInstance)
        .map(holding -> ((Holding.Cert) holding).certificate())
        .collect(Collectors.toCollection(LinkedHashSet::new));
  }

  /** Whoever the master's authority has given a certificate gets in as a client from now on. */
  private static Optional<Finding> shared(
      TlsPlace serving, List<Certificate> trust, Set<Certificate> before) {
    List<Certificate> fresh = trust.stream().filter(one -> !before.contains(one)).toList();
    if (fresh.isEmpty() || !serving.mode().asksClients()) {
      return Optional.empty();
    }
    return Optional.of(
        Finding.of(
            FindingKind.TRUST_SHARED,
            VisibleText.of(serving.origin().toString()),
            "Redis knows one file of authorities. Clients with a certificate of "
                + fresh.stream()
                    .map(one -> one.subject().shortText())
                    .collect(Collectors.joining(", "))
                + " get into this one from now on, too.",
            "If that is not meant, let one authority sign for both, or limit what clients may do with"
                + " passwords (requirepass, ACL)."));
  }
}
