// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.OpenPassword;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Where a program on Spring Boot speaks TLS, and what its settings get wrong. */
final class SpringReading {
  /** Settings that a bundle overrules. */
  static final List<String> DIRECT =
      List.of(
          "key-store",
          "key-store-password",
          "key-store-type",
          "key-store-provider",
          "key-alias",
          "key-password",
          "certificate",
          "certificate-private-key",
          "trust-store",
          "trust-store-password",
          "trust-store-type",
          "trust-store-provider",
          "trust-certificate",
          "trust-certificate-private-key",
          "protocol",
          "enabled-protocols",
          "ciphers");

  private final Installation installation;
  private final SpringFiles files;
  private final Optional<String> account;
  private final List<Finding> findings = new ArrayList<>();

  SpringReading(Installation installation, SpringFiles files, Optional<String> account) {
    this.installation = installation;
    this.files = files;
    this.account = account;
  }

  Settings settings() {
    List<TlsPlace> places = new ArrayList<>();
    places.add(place("server"));
    if (files.setting("management.server.port").isPresent()) {
      places.add(place("management.server"));
    }
    places.forEach(this::judge);
    profiles();
    List<Path> read = new ArrayList<>();
    files.documents().forEach(document -> read.add(document.source().path()));
    return new Settings(installation, places, files.files().paths(), findings);
  }

  static String name(String prefix) {
    return prefix.equals("server") ? "server" : "management";
  }

  static String prefix(String name) {
    return name.equals("server") ? "server" : "management.server";
  }

  Optional<String> bundle(String prefix) {
    return files.value(prefix + ".ssl.bundle").filter(one -> !one.isBlank());
  }

  /** The names below which a bundle's settings stand. */
  Optional<String> bundlePrefix(String bundle) {
    for (String kind : List.of("pem", "jks")) {
      String prefix = "spring.ssl.bundle." + kind + "." + bundle;
      if (files.hasBelow(prefix)) {
        return Optional.of(prefix);
      }
    }
    return Optional.empty();
  }

  private boolean isTls(String prefix) {
    boolean named =
        bundle(prefix).isPresent()
            || files.setting(prefix + ".ssl.key-store").isPresent()
            || files.setting(prefix + ".ssl.certificate").isPresent();
    return named && !files.word(prefix + ".ssl.enabled").equals("false");
  }

  TlsPlace place(String prefix) {
    boolean tls = isTls(prefix);
    Optional<SpringFiles.Setting> at =
        files
            .setting(prefix + ".ssl.bundle")
            .or(() -> files.setting(prefix + ".ssl.key-store"))
            .or(() -> files.setting(prefix + ".ssl.certificate"))
            .or(() -> files.setting(prefix + ".port"));
    return TlsPlace.at(
            PlaceId.only(installation.main(), name(prefix)),
            at.map(SpringFiles.Setting::origin).orElse(new Origin(installation.main(), 1)),
            name(prefix),
            "port of the program")
        .endpoints(
            List.of(new Endpoint(files.value(prefix + ".address").orElse(""), port(prefix), tls)))
        .mode(tls ? mode(prefix) : Mode.CLEAR)
        .files(tls ? used(prefix) : List.of())
        .protocols(protocols(prefix))
        .ciphers(
            bundle(prefix)
                .flatMap(this::bundlePrefix)
                .flatMap(below -> files.value(below + ".options.ciphers"))
                .or(() -> files.value(prefix + ".ssl.ciphers")))
        .account(account)
        .build();
  }

  private int port(String prefix) {
    try {
      return Integer.parseInt(files.value(prefix + ".port").orElse("8080").strip());
    } catch (NumberFormatException e) {
      return 0;
    }
  }

  private Mode mode(String prefix) {
    return switch (files.word(prefix + ".ssl.client-auth")) {
      case "need" -> Mode.MUTUAL;
      case "want" -> Mode.OPTIONAL;
      default -> Mode.ONE_WAY;
    };
  }

  Optional<String> protocols(String prefix) {
    return bundle(prefix)
        .flatMap(this::bundlePrefix)
        .flatMap(below -> files.value(below + ".options.enabled-protocols"))
        .or(() -> files.value(prefix + ".ssl.enabled-protocols"))
        .map(text -> String.join(" ", text.split("[,\\s]+", -1)));
  }

  private List<UsedFile> used(String prefix) {
    List<UsedFile> used = new ArrayList<>();
    Optional<String> bundle = bundle(prefix);
    if (bundle.isPresent()) {
      String below = bundlePrefix(bundle.get()).orElse("spring.ssl.bundle.pem." + bundle.get());
      add(used, FileRole.CERTIFICATE, below + ".keystore.certificate", "");
      add(
          used,
          FileRole.KEY,
          below + ".keystore.private-key",
          below + ".keystore.private-key-password");
      keystore(
          used,
          below + ".keystore.location",
          below + ".keystore.password",
          below + ".key.password",
          below + ".key.alias");
      if (mode(prefix).asksClients()) {
        add(used, FileRole.TRUST, below + ".truststore.certificate", "");
        add(used, FileRole.TRUST, below + ".truststore.location", below + ".truststore.password");
      }
      return used;
    }
    String ssl = prefix + ".ssl.";
    keystore(
        used,
        ssl + "key-store",
        ssl + "key-store-password",
        ssl + "key-password",
        ssl + "key-alias");
    add(used, FileRole.CERTIFICATE, ssl + "certificate", "");
    add(used, FileRole.KEY, ssl + "certificate-private-key", "");
    if (mode(prefix).asksClients()) {
      add(used, FileRole.TRUST, ssl + "trust-store", ssl + "trust-store-password");
      add(used, FileRole.TRUST, ssl + "trust-certificate", "");
    }
    return used;
  }

  private void add(List<UsedFile> used, FileRole role, String name, String passwordName) {
    file(role, name, passwordName).ifPresent(used::add);
  }

  private Optional<UsedFile> file(FileRole role, String name, String passwordName) {
    Optional<SpringFiles.Setting> setting = files.setting(name);
    if (setting.isEmpty()) {
      return Optional.empty();
    }
    Optional<String> value = files.value(name);
    boolean isFile =
        value
            .filter(one -> !one.startsWith("classpath:") && !one.startsWith("base64:"))
            .isPresent();
    if (value.filter(one -> one.contains("-----BEGIN")).isPresent()) {
      return Optional.empty(); // the certificate itself stands there
    }
    if (!isFile) {
      find(
          FindingKind.VALUE_NOT_KNOWN,
          setting.get().origin(),
          name
              + " is not the name of a file: "
              + VisibleText.of(setting.get().named().value())
              + ".",
          "Look at what it stands for: symbolon survey FILE.");
      return Optional.empty();
    }
    return Optional.of(
        UsedFile.of(role, files.path(value.orElseThrow()), name, setting.get().origin())
            .withPasswords(password(passwordName)));
  }

  private List<Secret> password(String name) {
    return name.isEmpty()
        ? List.of()
        : files.value(name).map(text -> Secret.of(text.toCharArray(), name)).stream().toList();
  }

  /** A keystore, with the password of its key and the entry that counts, where they are said. */
  private void keystore(
      List<UsedFile> used, String name, String password, String keyPassword, String alias) {
    file(FileRole.KEYSTORE, name, password)
        .map(
            file ->
                file.withKeyPasswords(password(keyPassword))
                    .withAlias(files.value(alias).filter(one -> !one.isBlank())))
        .ifPresent(used::add);
  }

  private void judge(TlsPlace place) {
    String prefix = prefix(place.name());
    Optional<String> bundle = bundle(prefix);
    if (!place.isTls()) {
      boolean off = files.word(prefix + ".ssl.enabled").equals("false");
      if (off && (bundle.isPresent() || files.setting(prefix + ".ssl.key-store").isPresent())) {
        find(
            FindingKind.CLEAR_ON_TLS_PORT,
            place.origin(),
            "The settings name files for TLS, and " + prefix + ".ssl.enabled switches it off.",
            "Take that setting away.");
      } else {
        findings.add(
            Finding.of(
                FindingKind.CLEAR_TEXT_OPEN,
                Level.NOTE,
                place.origin().toString(),
                "The program answers in clear text on port "
                    + place.endpoints().get(0).port()
                    + ".",
                "Give it a certificate: symbolon configure spring-boot "
                    + Input.CREDENTIAL.mention("FILE")
                    + "."));
      }
      return;
    }
    if (bundle.isPresent() && bundlePrefix(bundle.get()).isEmpty()) {
      find(
          FindingKind.SERVER_REFUSES,
          place.origin(),
          "There is no bundle that is called "
              + VisibleText.of(bundle.get())
              + ": the program does"
              + " not start.",
          "Write it, or name another: symbolon configure spring-boot "
              + Input.CREDENTIAL.mention("FILE")
              + ".");
    }
    if (bundle.isPresent()) {
      for (String name : DIRECT) {
        files
            .setting(prefix + ".ssl." + name)
            .ifPresent(
                one ->
                    find(
                        FindingKind.SETTING_IGNORED,
                        one.origin(),
                        prefix
                            + ".ssl."
                            + name
                            + " does not count: "
                            + prefix
                            + ".ssl.bundle does.",
                        "Take the line away."));
      }
    }
    clients(place, prefix);
    versions(place, prefix);
    passwords(prefix, bundle);
  }

  private void clients(TlsPlace place, String prefix) {
    boolean trust =
        bundle(prefix)
                .flatMap(this::bundlePrefix)
                .filter(below -> files.hasBelow(below + ".truststore"))
                .isPresent()
            || files.setting(prefix + ".ssl.trust-store").isPresent()
            || files.setting(prefix + ".ssl.trust-certificate").isPresent();
    if (place.mode().asksClients() && !trust) {
      find(
          FindingKind.VERIFY_WITHOUT_TRUST,
          place.origin(),
          "The program asks clients for certificates, and no setting says whom it trusts.",
          "Name their authorities: symbolon configure spring-boot "
              + Input.CREDENTIAL.mention("FILE")
              + " "
              + Input.CLIENT_AUTHORITIES.mention()
              + " FILE.");
    } else if (trust && !place.mode().asksClients()) {
      find(
          FindingKind.TRUST_WITHOUT_VERIFY,
          place.origin(),
          "The settings name the authorities of clients, and no client is asked.",
          "Write: " + prefix + ".ssl.client-auth=need");
    }
  }

  private void versions(TlsPlace place, String prefix) {
    List<String> on = List.of(place.protocols().orElse("").split(" ", -1));
    if (on.contains("TLSv1") || on.contains("TLSv1.1")) {
      find(
          FindingKind.OLD_PROTOCOLS,
          place.origin(),
          "The settings take " + String.join(", ", on) + ".",
          "Take TLSv1.2 and TLSv1.3 alone.");
    }
    if (place.protocols().isPresent() && !on.contains("TLSv1.3")) {
      find(
          FindingKind.NEW_PROTOCOL_OFF,
          place.origin(),
          "The settings of " + prefix + " do not take TLS 1.3.",
          "Take TLSv1.2 and TLSv1.3.");
    }
  }

  private void passwords(String prefix, Optional<String> bundle) {
    List<String> names = new ArrayList<>();
    for (String name : List.of("key-store-password", "key-password", "trust-store-password")) {
      names.add(prefix + ".ssl." + name);
    }
    bundle
        .flatMap(this::bundlePrefix)
        .ifPresent(
            below -> {
              names.add(below + ".keystore.password");
              names.add(below + ".keystore.private-key-password");
              names.add(below + ".key.password");
              names.add(below + ".truststore.password");
            });
    for (String name : names) {
      files
          .setting(name)
          .filter(one -> !one.named().value().contains("${"))
          .ifPresent(
              one ->
                  findings.add(
                      OpenPassword.note(
                          one.origin(),
                          name,
                          "Put it into a file of its own, and take that in with"
                              + " spring.config.import.")));
    }
  }

  private void profiles() {
    for (Path path : files.profiles()) {
      find(
          FindingKind.VALUE_NOT_KNOWN,
          new Origin(path, 1),
          "This file counts only where its profile is on: it was not read.",
          "Look whether it has settings for TLS.");
    }
  }

  private void find(FindingKind kind, Origin where, String statement, String advice) {
    findings.add(Finding.of(kind, where.toString(), statement, advice));
  }
}
