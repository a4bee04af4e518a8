// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.artemis;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.lossless.XmlEdit;
import io.symbolon.lossless.XmlText;
import io.symbolon.party.ProtocolVersion;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Installation;
import io.symbolon.server.Proposal;
import io.symbolon.server.ProposedPlace;
import io.symbolon.server.files.PlacedFiles;
import io.symbolon.server.files.StoreFiles;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.server.text.SettingEdits;
import io.symbolon.server.wish.PlaceChoice;
import io.symbolon.server.wish.Wish;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What would change in a broker.xml: parameters of one acceptor, or an acceptor more. */
final class ArtemisProposal {
  private static final int USUAL_PORT = 61_617;
  private static final List<String> OTHER_KEYS =
      List.of("keyStoreAlias", "keyStoreProvider", "sslContext", "sniHost");

  private final Installation installation;
  private final Wish wish;
  private final ArtemisReading reading;
  private final PlacedFiles placed;
  private final StoreFiles stores;
  private final SettingEdits edits = new SettingEdits();
  private final List<Secret> hidden = new ArrayList<>();

  ArtemisProposal(Machine machine, Installation installation, Wish wish) {
    this.installation = installation;
    this.wish = wish;
    this.reading = new ArtemisReading(machine, installation);
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(installation.home().resolve("tls")).toAbsolutePath(),
            wish.owner().or(() -> Artemis.account(machine, installation).flatMap(Artemis::owner)));
    this.stores = new StoreFiles(machine, placed);
  }

  Proposal proposal() {
    if (wish.credentials().size() > 1) {
      throw refused(
          "An acceptor of Artemis shows one certificate, and the files hold several.",
          "Name the files of one key.");
    }
    if (wish.redirectFrom().isPresent() || wish.strictTransport().isPresent()) {
      throw refused(
          "Artemis speaks no HTTP at its acceptors: it has no redirects and no headers.",
          "Leave "
              + Input.REDIRECT_FROM.mention()
              + " and "
              + Input.STRICT_TRANSPORT.mention()
              + " out.");
    }
    List<Acceptor> acceptors = reading.acceptors();
    if (acceptors.isEmpty()) {
      throw refused(
          "broker.xml has no acceptor for tcp.",
          "Write one first, such as <acceptor name=\"clear\">tcp://127.0.0.1:61616</acceptor>, and"
              + " give the command again.");
    }
    acceptors.forEach(this::hide);
    Optional<Acceptor> chosen = chosen(acceptors);
    ProposedPlace place;
    if (chosen.isPresent()) {
      place = ProposedPlace.of(reading.place(chosen.get()));
      change(chosen.get());
    } else {
      String name = freeName(acceptors);
      place = ProposedPlace.made(name, installation.main());
      add(acceptors.get(0), name);
    }
    List<FileChange> changes = new ArrayList<>(placed.changes());
    edits.changes(reading.files()::octets, reading.files()::snapshot).stream()
        .map(change -> change.hiding(hidden))
        .forEach(changes::add);
    return new Proposal(installation, place, changes, placed.newFolders(), List.of(), List.of());
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private void hide(Acceptor acceptor) {
    for (String name : List.of("keyStorePassword", "trustStorePassword")) {
      acceptor.address().parameters().stream()
          .filter(one -> one.name().equals(name) && !one.written().isEmpty())
          .forEach(
              one ->
                  hidden.add(
                      Secret.of(one.written().toCharArray(), installation.main().toString())));
    }
  }

  /** The acceptor that is meant; nothing where one more is wanted, beside those in clear text. */
  private Optional<Acceptor> chosen(List<Acceptor> acceptors) {
    List<TlsPlace> places = acceptors.stream().map(reading::place).toList();
    if (wish.site().isEmpty()) {
      boolean there =
          wish.port().isPresent()
              ? acceptors.stream().anyMatch(one -> one.port().equals(wish.port()))
              : places.stream().anyMatch(TlsPlace::isTls);
      if (!there) {
        return Optional.empty();
      }
    }
    return Optional.of(acceptors.get(places.indexOf(PlaceChoice.of("Artemis", places, wish))));
  }

  private static String freeName(List<Acceptor> acceptors) {
    List<String> taken = acceptors.stream().map(Acceptor::name).toList();
    String name = "tls";
    for (int i = 2; taken.contains(name); i++) {
      name = "tls-" + i;
    }
    return name;
  }

  private void change(Acceptor acceptor) {
    AcceptorAddress wanted = wanted(acceptor.address());
    if (wish.port().isPresent() && !acceptor.port().equals(wish.port())) {
      wanted = wanted.at(wish.port().get());
    }
    if (!wanted.toString().equals(acceptor.address().toString())) {
      edits
          .of(reading.source())
          .replace(
              acceptor.element().tagTo(),
              acceptor.element().contentTo(),
              XmlText.escaped(wanted.toString()));
    }
  }

  /** Another acceptor behind the last one, for the same protocols as the first. */
  private void add(Acceptor first, String name) {
    AcceptorAddress fresh = first.address().at(wish.port().orElse(USUAL_PORT));
    if (first.address().port().startsWith("${") && wish.port().isEmpty()) {
      throw refused(
          "No port is given on which Artemis is to speak TLS.",
          "Say it: " + Input.PORT.mention("PORT") + ".");
    }
    List<Acceptor> all = reading.acceptors();
    new XmlEdit(edits.of(reading.source()), all.get(all.size() - 1).element())
        .after(
            "<acceptor name=\""
                + name
                + "\">"
                + XmlText.escaped(wanted(fresh).toString())
                + "</acceptor>");
  }

  private AcceptorAddress wanted(AcceptorAddress now) {
    String name = FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
    StoreFiles.Placed store = stores.keystore(name, wish.credentials().get(0), name);
    AcceptorAddress address =
        now.with("sslEnabled", "true")
            .with("keyStorePath", written(store.store()))
            .with("keyStorePassword", password(store))
            .with("keyStoreType", "PKCS12");
    Optional<List<ProtocolVersion>> versions =
        wish.versions(now.value("sslEnabled").filter("true"::equalsIgnoreCase).isPresent());
    if (versions.isPresent()) {
      address = address.with("enabledProtocols", Wish.words(versions.get(), ","));
    }
    for (String other : OTHER_KEYS) {
      address = address.without(other);
    }
    if (wish.ciphers().isPresent()) {
      address = address.with("enabledCipherSuites", wish.ciphers().get());
    }
    if (wish.mode().isEmpty()) {
      return address;
    }
    Mode mode = wish.mode().get();
    address =
        mode == Mode.MUTUAL
            ? address.with("needClientAuth", "true")
            : address.without("needClientAuth");
    address =
        mode == Mode.OPTIONAL
            ? address.with("wantClientAuth", "true")
            : address.without("wantClientAuth");
    if (!mode.asksClients() || wish.trust().isEmpty()) {
      for (String option :
          List.of("trustStorePath", "trustStorePassword", "trustStoreType", "crlPath")) {
        address = address.without(option);
      }
      return address;
    }
    StoreFiles.Placed trust = stores.truststore(name + "-clients", wish.trust().get());
    address =
        address
            .with("trustStorePath", written(trust.store()))
            .with("trustStorePassword", password(trust))
            .with("trustStoreType", "PKCS12");
    return wish.trust().get().lists().isEmpty()
        ? address.without("crlPath")
        : address.with("crlPath", written(placed.lists(name, wish.trust().get())));
  }

  private String password(StoreFiles.Placed store) {
    Secret password = stores.password(store);
    hidden.add(password);
    return new String(password.reveal());
  }

  private static String written(Path path) {
    return Machine.withSlashes(path);
  }
}
