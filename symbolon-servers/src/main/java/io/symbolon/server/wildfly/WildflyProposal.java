// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.wildfly;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.XmlEdit;
import io.symbolon.lossless.XmlText.Element;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.files.StoreFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * What would change in a standalone.xml: a listener gets a context, a manager and a store of its
 * own, so that nothing else that uses the ones of before is touched.
 */
final class WildflyProposal {
  private static final String NEWEST_SUITES =
      "TLS_AES_256_GCM_SHA384:TLS_CHACHA20_POLY1305_SHA256:TLS_AES_128_GCM_SHA256";
  private static final int NAMED_SUITES_SINCE = 9;
  private static final String LIST = "certificate-revocation-list";
  private static final String LISTS = "certificate-revocation-lists";
  private static final int SEVERAL_LISTS_SINCE = 14;
  private static final String MANAGEMENT_BINDING = "management-https";

  private final Installation installation;
  private final Wish wish;
  private final WildflyReading reading;
  private final Model model;
  private final Listener listener;

  /** What a context of Symbolon's says itself, or says for clients. */
  private static final Set<String> OWN_ATTRIBUTES =
      Set.of("name", "key-manager", "trust-manager", "want-client-auth", "need-client-auth");

  private final PlacedFiles placed;
  private final StoreFiles stores;
  private final SettingEdits settings = new SettingEdits();
  private final List<Secret> hidden = new ArrayList<>();
  private final Map<String, Part> parts = new LinkedHashMap<>(); // by the group they belong to
  private final List<Part> allStores = new ArrayList<>();

  WildflyProposal(Machine machine, Installation installation, Wish wish) {
    this.installation = installation;
    this.wish = wish;
    this.reading = new WildflyReading(machine, installation);
    this.model = reading.model();
    this.listener = chosen();
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner()
                .or(
                    () ->
                        Wildfly.account(machine, installation)
                            .filter(one -> !one.equals(System.getProperty("user.name", "")))
                            .map(one -> new Owner(one, Optional.empty()))));
    this.stores = new StoreFiles(machine, placed);
  }

  Proposal proposal() {
    refuse();
    hideOld();
    want();
    Edits edits = settings.of(reading.source());
    write(edits);
    listen(edits);
    List<FileChange> changes = new ArrayList<>(placed.changes());
    settings.changes(reading.files()::octets, reading.files()::snapshot).stream()
        .map(change -> change.hiding(hidden))
        .forEach(changes::add);
    return new Proposal(
        installation,
        ProposedPlace.of(reading.place(listener)),
        changes,
        placed.newFolders(),
        List.of(),
        List.of());
  }

  private Listener chosen() {
    List<Listener> all = model.listeners();
    List<TlsPlace> places = all.stream().map(reading::place).toList();
    // The management is meant only where it is named.
    List<TlsPlace> web =
        wish.site().isPresent()
            ? places
            : places.stream().filter(one -> !one.name().equals("management")).toList();
    return all.get(places.indexOf(PlaceChoice.of("WildFly", web, wish)));
  }

  private void refuse() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "Symbolon writes one certificate for a listener of WildFly, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "Symbolon does not write redirects and headers of WildFly.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out, and set them in the application.");
    }
    if (model.elytron().isEmpty()) {
      throw refused(
          "The settings have no part for Elytron: this WildFly is too old, or is made without it.",
          "Use a WildFly from 11 on, or add its Elytron subsystem.");
    }
    if (listener.context().filter(model::isByName).isPresent()) {
      throw refused(
          "The listener "
              + listener.name()
              + " chooses among several contexts by the name that a client asks for.",
          "Change those contexts one by one in the settings.");
    }
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void hideOld() {
    reading.settings().places().stream()
        .flatMap(place -> place.files().stream())
        .forEach(file -> hidden.addAll(file.passwords()));
  }

  // --- what is wanted

  private String own(String ending) {
    return "symbolon-" + listener.name().replaceAll("[^A-Za-z0-9.-]", "-") + ending;
  }

  private void want() {
    String name = FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
    StoreFiles.Placed store = stores.keystore(name, wish.credentials().get(0), name);
    Part password = store(own(""), store);
    parts.put(
        Model.KEYS,
        Part.of("key-manager", List.of("name", own(""), "key-store", own("")), password));
    Map<String, String> context = new LinkedHashMap<>();
    context.put("name", own(""));
    // What the context of before says and nobody wished otherwise goes on.
    listener.context().flatMap(model::context).stream()
        .flatMap(one -> one.attributes().stream())
        .filter(one -> !OWN_ATTRIBUTES.contains(one.name()))
        .forEach(one -> context.put(one.name(), one.value()));
    boolean answers = reading.place(listener).isTls() && !isMadeByItself();
    Optional<List<ProtocolVersion>> versions = wish.versions(answers);
    versions.ifPresent(all -> context.put("protocols", Wish.words(all, " ")));
    context.put("key-manager", own(""));
    wish.ciphers().ifPresent(words -> context.put("cipher-suite-filter", words));
    boolean newest = versions.filter(all -> all.contains(ProtocolVersion.TLS_1_3)).isPresent();
    if (newest && model.elytronVersion() >= NAMED_SUITES_SINCE) {
      context.put("cipher-suite-names", NEWEST_SUITES); // without them it does not speak TLS 1.3
    }
    clients(name, context);
    parts.put(Model.CONTEXTS, new Part("server-ssl-context", context, List.of()));
  }

  /** Whether the context is the one that WildFly comes with: its key is made when it is asked. */
  private boolean isMadeByItself() {
    return listener
        .context()
        .flatMap(model::context)
        .flatMap(one -> model.named(Model.KEYS, one.value("key-manager", "")))
        .filter(Model::isMadeByItself)
        .isPresent();
  }

  /** Adds a store, and gives the part that holds its password. */
  private Part store(String name, StoreFiles.Placed files) {
    Secret secret = stores.password(files);
    hidden.add(secret);
    Part password =
        Part.of("credential-reference", List.of("clear-text", new String(secret.reveal())));
    allStores.add(
        Part.of(
            "key-store",
            List.of("name", name),
            password,
            Part.of("implementation", List.of("type", "PKCS12")),
            Part.of("file", List.of("path", written(files.store())))));
    return password;
  }

  private void clients(String name, Map<String, String> context) {
    if (wish.mode().isEmpty()) {
      keepClients(context);
      return;
    }
    Mode mode = wish.mode().get();
    context.put("want-client-auth", mode == Mode.OPTIONAL ? "true" : "");
    context.put("need-client-auth", mode == Mode.MUTUAL ? "true" : "");
    if (!mode.asksClients() || wish.trust().isEmpty()) {
      context.put("trust-manager", "");
      return;
    }
    String trust = own("-clients");
    context.put("trust-manager", trust);
    store(trust, stores.truststore(name + "-clients", wish.trust().get()));
    List<Part> lists = new ArrayList<>();
    for (RevocationList list : wish.trust().get().lists()) {
      Path file =
          placed.add(
              name + "-list-" + (lists.size() + 1) + ".pem",
              PemFiles.lists(List.of(list)),
              "a revocation list for clients",
              false);
      lists.add(Part.of(LIST, List.of("path", written(file))));
    }
    Map<String, String> attributes = new LinkedHashMap<>();
    attributes.put("name", trust);
    attributes.put("key-store", trust);
    parts.put(Model.TRUST, new Part("trust-manager", attributes, grouped(lists)));
  }

  private List<Part> grouped(List<Part> lists) {
    if (lists.isEmpty()) {
      return List.of();
    }
    if (model.elytronVersion() >= SEVERAL_LISTS_SINCE) {
      return List.of(new Part(LISTS, Map.of(), lists));
    }
    if (lists.size() > 1) {
      throw refused(
          "This WildFly takes one revocation list, and the files hold " + lists.size() + ".",
          "Name the list of the authority that signs the clients alone.");
    }
    return lists;
  }

  /** Nobody stops asking clients by the way: the new context asks as that of before. */
  private void keepClients(Map<String, String> context) {
    Optional<Element> now = listener.context().flatMap(model::context);
    for (String kept : List.of("want-client-auth", "need-client-auth", "trust-manager")) {
      now.flatMap(one -> one.attribute(kept)).ifPresent(one -> context.put(kept, one.value()));
    }
  }

  /** WildFly takes what stands between ${ and } for the name of a property. */
  private static String written(Path path) {
    String text = Machine.withSlashes(path);
    if (text.contains("${")) {
      throw refused(
          "The path "
              + VisibleText.of(text)
              + " has ${ in it, which WildFly takes for the name of a property.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
    return text;
  }

  // --- where it goes

  private void write(Edits edits) {
    String step = edits.source().step();
    Map<String, List<Part>> byGroup = new LinkedHashMap<>();
    byGroup.put(Model.STORES, allStores);
    parts.forEach((group, part) -> byGroup.put(group, List.of(part)));
    if (model.tls().isEmpty()) {
      List<Part> groups = new ArrayList<>();
      byGroup.forEach((group, all) -> groups.add(new Part(group, Map.of(), all)));
      new XmlEdit(edits, model.elytron().orElseThrow())
          .append(new Part("tls", Map.of(), groups).text(step));
      return;
    }
    byGroup.forEach(
        (group, all) -> {
          Optional<Element> there = model.group(group);
          if (there.isEmpty()) {
            new XmlEdit(edits, model.tls().orElseThrow())
                .append(new Part(group, Map.of(), all).text(step));
            return;
          }
          for (Part part : all) {
            write(edits, group, there.get(), part);
          }
        });
  }

  private void write(Edits edits, String group, Element groupElement, Part part) {
    Optional<Element> there =
        model
            .named(group, part.attributes().getOrDefault("name", ""))
            .filter(one -> one.name().equals(part.name()));
    if (there.isEmpty()) {
      new XmlEdit(edits, groupElement).append(part.text(edits.source().step()));
      return;
    }
    if (!group.equals(Model.TRUST)) {
      part.change(edits, there.get());
      return;
    }
    // Its lists are all of them: there are no others than those that are wanted.
    List<Element> now =
        there.get().children().stream()
            .filter(one -> one.name().equals(LIST) || one.name().equals(LISTS))
            .toList();
    if (!now.isEmpty() && !sameLists(now, part)) {
      now.forEach(one -> new XmlEdit(edits, one).removeElement());
      part.parts()
          .forEach(one -> new XmlEdit(edits, there.get()).append(one.text(edits.source().step())));
    } else if (now.isEmpty()) {
      part.change(edits, there.get());
    }
  }

  private static boolean sameLists(List<Element> now, Part wanted) {
    List<String> there =
        now.stream()
            .flatMap(one -> one.name().equals(LIST) ? Stream.of(one) : one.children(LIST).stream())
            .map(one -> one.value("path", ""))
            .toList();
    List<String> paths =
        wanted.parts().stream()
            .flatMap(one -> one.name().equals(LIST) ? Stream.of(one) : one.parts().stream())
            .map(one -> one.attributes().getOrDefault("path", ""))
            .toList();
    return there.equals(paths);
  }

  private void listen(Edits edits) {
    XmlEdit element = new XmlEdit(edits, listener.element());
    element.set("ssl-context", own(""));
    for (String before : List.of("security-realm", "verify-client", "enabled-protocols")) {
      element.remove(before);
    }
    String binding = listener.binding();
    if (listener.isManagement() && !listener.isTls()) {
      binding = MANAGEMENT_BINDING;
      new XmlEdit(edits, listener.ports().orElseThrow()).set("https", binding);
    }
    String name = binding;
    wish.port()
        .ifPresent(
            port -> {
              Element one =
                  model
                      .binding(name)
                      .orElseThrow(
                          () ->
                              refused(
                                  "The settings have no socket-binding " + name + ".",
                                  "Add it, and give the command again."));
              Expression now = new Expression(one.value("port", ""));
              int wanted = port - model.offset();
              if (now.number().filter(there -> there == wanted).isEmpty()) {
                new XmlEdit(edits, one).set("port", now.withUsual(String.valueOf(wanted)));
              }
            });
  }
}
