// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlText.Element;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Settings;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.OpenPassword;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.PlaceId;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.text.SettingsFiles;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Where a WildFly speaks TLS: each listener, its context, its managers and their stores. */
final class WildflyReading {
  private final Machine machine;
  private final Installation installation;
  private final SettingsFiles files;
  private final SourceText source;
  private final Model model;
  private final List<Finding> findings = new ArrayList<>();

  WildflyReading(Machine machine, Installation installation) {
    this.machine = machine;
    this.installation = installation;
    this.files = new SettingsFiles(machine.files(), "WildFly");
    this.source = files.get(installation.main());
    this.model = new Model(source);
    if (!model.isServer()) {
      throw new SymbolonException(
          Reason.NOT_UNDERSTOOD,
          "The settings of WildFly can't be read. Nothing was changed.",
          VisibleText.of(installation.main().toString())
              + " is not of a server that stands alone: its first element is not server.",
          "Name the standalone.xml: "
              + Input.HOME.mention("PATH")
              + ". Settings of a domain are changed by its"
              + " controller.");
    }
  }

  SettingsFiles files() {
    return files;
  }

  SourceText source() {
    return source;
  }

  Model model() {
    return model;
  }

  Settings settings() {
    List<TlsPlace> places = model.listeners().stream().map(this::place).toList();
    return new Settings(installation, places, files.paths(), findings);
  }

  TlsPlace place(Listener listener) {
    Origin origin = new Origin(installation.main(), listener.element().line());
    Optional<Element> context = listener.context().flatMap(model::context);
    if (listener.isTls() && context.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.SETTING_IGNORED,
              Level.PROBLEM,
              origin.toString(),
              "The listener "
                  + listener.name()
                  + " names the context "
                  + VisibleText.of(listener.context().orElse(""))
                  + ", which the settings do not have: WildFly does not open it.",
              "Let Symbolon write it: name the key and its certificate."));
    }
    Mode mode = listener.isTls() ? mode(context) : Mode.CLEAR;
    return TlsPlace.at(
            PlaceId.at(installation.main(), listener.element().from()),
            origin,
            listener.name(),
            listener.isManagement() ? "management interface" : "https-listener")
        .endpoints(endpoint(listener, mode != Mode.CLEAR).stream().toList())
        .mode(mode)
        .files(mode == Mode.CLEAR ? List.of() : context.map(this::used).orElse(List.of()))
        .protocols(context.flatMap(one -> one.attribute("protocols")).map(one -> one.value()))
        .ciphers(
            context.flatMap(one -> one.attribute("cipher-suite-filter")).map(one -> one.value()))
        .account(Wildfly.account(machine, installation))
        .build();
  }

  private static Mode mode(Optional<Element> context) {
    if (is(context, "need-client-auth")) {
      return Mode.MUTUAL;
    }
    return is(context, "want-client-auth") ? Mode.OPTIONAL : Mode.ONE_WAY;
  }

  private static boolean is(Optional<Element> context, String attribute) {
    return context
        .flatMap(one -> new Expression(one.value(attribute, "false")).usual())
        .filter("true"::equalsIgnoreCase)
        .isPresent();
  }

  private Optional<Endpoint> endpoint(Listener listener, boolean tls) {
    return model
        .binding(listener.binding())
        .flatMap(
            binding ->
                new Expression(binding.value("port", ""))
                    .number()
                    .map(port -> port + model.offset())
                    .filter(port -> port > 0 && port < 1 << 16)
                    .map(port -> new Endpoint(model.address(binding), port, tls)));
  }

  private List<UsedFile> used(Element context) {
    List<UsedFile> used = new ArrayList<>();
    manager(context, "key-manager", Model.KEYS)
        .ifPresent(manager -> store(manager, FileRole.KEYSTORE, used));
    manager(context, "trust-manager", Model.TRUST)
        .ifPresent(
            manager -> {
              store(manager, FileRole.TRUST, used);
              manager.children("certificate-revocation-list").forEach(one -> list(one, used));
              manager
                  .children("certificate-revocation-lists")
                  .forEach(
                      all ->
                          all.children("certificate-revocation-list")
                              .forEach(one -> list(one, used)));
            });
    return used;
  }

  private Optional<Element> manager(Element context, String attribute, String group) {
    return context.attribute(attribute).flatMap(one -> model.named(group, one.value()));
  }

  private void store(Element manager, FileRole role, List<UsedFile> used) {
    Optional<Element> store =
        model
            .named(Model.STORES, manager.value("key-store", ""))
            .filter(one -> one.name().equals("key-store"));
    if (store.isEmpty()) {
      return;
    }
    boolean madeByItself = Model.isMadeByItself(manager);
    List<Secret> passwords = password(store.get());
    List<Secret> ofKey = new ArrayList<>();
    if (role == FileRole.KEYSTORE && !passwords.isEmpty() && !madeByItself) {
      findings.add(
          OpenPassword.note(
              origin(store.get()),
              "The password of the key-store " + VisibleText.of(store.get().value("name", "")),
              "Let nobody but WildFly's account read "
                  + VisibleText.of(String.valueOf(installation.main().getFileName()))
                  + "."));
    }
    if (role == FileRole.KEYSTORE) {
      List<Secret> own = password(manager);
      boolean other = own.stream().anyMatch(key -> passwords.stream().noneMatch(key::isSameAs));
      if (other && !passwords.isEmpty()) {
        ofKey.addAll(own);
      }
    }
    for (Element file : store.get().children("file")) {
      path(file)
          .filter(path -> !madeByItself || machine.files().exists(path))
          .ifPresent(
              path ->
                  used.add(
                      UsedFile.of(role, path, "file", origin(file))
                          .withPasswords(passwords)
                          .withAlias(alias(manager, role))
                          .withKeyPasswords(ofKey)));
    }
  }

  /** The one entry that a key-manager shows; a filter of several words is none. */
  private static Optional<String> alias(Element manager, FileRole role) {
    return Optional.of(manager.value("alias-filter", ""))
        .filter(text -> role == FileRole.KEYSTORE && text.matches("[^,:+!-]+"));
  }

  private void list(Element list, List<UsedFile> used) {
    path(list)
        .ifPresent(
            path ->
                used.add(
                    UsedFile.of(
                        FileRole.LISTS, path, "certificate-revocation-list", origin(list))));
  }

  private Origin origin(Element element) {
    return new Origin(installation.main(), element.line());
  }

  private static List<Secret> password(Element holder) {
    return holder.children("credential-reference").stream()
        .flatMap(one -> one.attribute("clear-text").stream())
        .flatMap(one -> new Expression(one.value()).usual().stream())
        .map(one -> Secret.of(one.toCharArray(), "settings"))
        .toList();
  }

  private Optional<Path> path(Element element) {
    Optional<String> path = new Expression(element.value("path", "")).usual();
    Optional<Path> base =
        switch (element.value("relative-to", "")) {
          case "" -> Optional.of(installation.home());
          case "jboss.server.config.dir" -> Optional.of(installation.home());
          case "jboss.server.base.dir" -> Optional.ofNullable(installation.home().getParent());
          case "jboss.server.data.dir" -> Optional.of(installation.home().resolveSibling("data"));
          case "jboss.home.dir" ->
              Optional.ofNullable(installation.home().getParent())
                  .flatMap(one -> Optional.ofNullable(one.getParent()));
          default -> Optional.empty();
        };
    return base.flatMap(
        folder ->
            path.filter(one -> !one.isEmpty())
                .map(one -> machine.below(folder, one).toAbsolutePath().normalize()));
  }
}
