// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

import io.symbolon.chain.Credential;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Owner;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlEdit;
import io.symbolon.lossless.XmlText;
import io.symbolon.remedy.Input;
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
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What would change in the settings of a Tomcat: attributes of one connector, or a connector more;
 * and a few lines of web.xml where clients are sent to TLS.
 */
final class TomcatProposal {
  private static final int USUAL_PORT = 8443;
  private static final List<String> PEM =
      List.of(
          "certificateFile",
          "certificateKeyFile",
          "certificateChainFile",
          "certificateKeyPassword",
          "certificateKeyPasswordFile",
          "certificateKeyAlias",
          "certificateKeystorePassword",
          "certificateKeystoreProvider");

  private final Installation installation;
  private final TomcatBase base;
  private final Wish wish;
  private final Optional<TlsConnector> chosen;
  private final Optional<TlsPlace> place;
  private final List<TlsConnector> connectors;
  private final PlacedFiles placed;
  private final StoreFiles stores;
  private final SettingEdits edits = new SettingEdits();
  private final int port;

  TomcatProposal(Machine machine, Installation installation, TomcatBase base, Wish wish) {
    this.installation = installation;
    this.base = base;
    this.wish = wish;
    TomcatReading reading = new TomcatReading(machine, base);
    this.connectors = reading.connectors();
    this.chosen = chosen(reading);
    this.place = chosen.map(reading::place);
    this.port =
        wish.port()
            .or(() -> chosen.filter(TlsConnector::isTls).map(TlsConnector::port))
            .orElse(USUAL_PORT);
    this.placed =
        new PlacedFiles(
            machine,
            wish.folder().orElse(base.folder().resolve("tls")).toAbsolutePath(),
            wish.owner()
                .or(() -> base.account().flatMap(account -> machine.owner(owner(account)))));
    this.stores = new StoreFiles(machine, placed);
  }

  private static Owner owner(String account) {
    return account.equals(System.getProperty("user.name", ""))
        ? new Owner(account, Optional.empty())
        : new Owner("root", Optional.of(account));
  }

  /** The connector that is meant; nothing where one more is wanted. */
  private Optional<TlsConnector> chosen(TomcatReading reading) {
    List<TlsConnector> tls = connectors.stream().filter(TlsConnector::isTls).toList();
    if (wish.port().isPresent() && wish.site().isEmpty()) {
      List<TlsConnector> there =
          connectors.stream().filter(one -> one.port() == wish.port().get()).toList();
      if (there.isEmpty()) {
        return Optional.empty();
      }
    }
    if (tls.isEmpty() && wish.site().isEmpty() && wish.port().isEmpty()) {
      return Optional.empty();
    }
    List<TlsPlace> places = connectors.stream().map(reading::place).toList();
    TlsPlace place = PlaceChoice.of("Tomcat", places, wish);
    return Optional.of(connectors.get(places.indexOf(place)));
  }

  Proposal proposal() {
    Map<String, String> host = host();
    List<Map<String, String>> certificates =
        wish.credentials().stream().map(this::certificate).toList();
    if (chosen.isEmpty()) {
      add(host, certificates);
    } else {
      change(chosen.get(), host, certificates);
    }
    web();
    List<FileChange> changes = new ArrayList<>(placed.changes());
    changes.addAll(edits.changes(base.files()::octets, base.files()::snapshot));
    return new Proposal(
        installation,
        place
            .map(ProposedPlace::of)
            .orElse(ProposedPlace.made(String.valueOf(port), installation.main())),
        changes,
        placed.newFolders(),
        List.of(),
        List.of());
  }

  private static SymbolonException refused(String seen, String remedy) {
    return new SymbolonException(Reason.INVALID_ARGUMENT, "Nothing was changed.", seen, remedy);
  }

  private String fileName() {
    return FileNames.safe(wish.hosts().isEmpty() ? "server" : wish.hosts().get(0).typed());
  }

  /** The attributes of SSLHostConfig; the empty text for one that is not to be there. */
  private Map<String, String> host() {
    Map<String, String> host = new LinkedHashMap<>();
    wish.versions(chosen.filter(TlsConnector::isTls).isPresent())
        .ifPresent(versions -> host.put("protocols", Wish.words(versions, "+")));
    wish.ciphers().ifPresent(words -> host.put("ciphers", words));
    if (wish.mode().isEmpty()) {
      return host;
    }
    Mode mode = wish.mode().get();
    boolean asks = mode.asksClients() && wish.trust().isPresent();
    String verification =
        mode == Mode.MUTUAL ? "required" : mode == Mode.OPTIONAL ? "optional" : "";
    host.put("certificateVerification", verification);
    host.put("truststoreFile", "");
    host.put("truststoreType", "");
    host.put("truststorePassword", "");
    host.put("certificateRevocationListFile", "");
    host.put("caCertificateFile", "");
    if (asks) {
      StoreFiles.Placed trust = stores.truststore(fileName() + "-clients", wish.trust().get());
      host.put("truststoreFile", written(trust.store()));
      host.put("truststoreType", "PKCS12");
      // Tomcat reads this one from no file. It seals certificates alone, which are no secret.
      host.put("truststorePassword", new String(stores.password(trust).reveal()));
      if (!wish.trust().get().lists().isEmpty()) {
        Path lists = placed.lists(fileName(), wish.trust().get());
        host.put("certificateRevocationListFile", written(lists));
      }
    }
    return host;
  }

  /** Where there are several, each says of which type its key is; one alone may be of any. */
  private Map<String, String> certificate(Credential credential) {
    String suffix = PemFiles.suffix(credential, wish.credentials().size());
    StoreFiles.Placed keystore = stores.keystore(fileName() + suffix, credential, fileName());
    Map<String, String> certificate = new LinkedHashMap<>();
    certificate.put("type", suffix.isEmpty() ? "" : type(credential));
    PEM.forEach(name -> certificate.put(name, ""));
    certificate.put("certificateKeystoreFile", written(keystore.store()));
    certificate.put("certificateKeystoreType", "PKCS12");
    certificate.put("certificateKeystorePasswordFile", written(keystore.password()));
    return certificate;
  }

  private static String type(Credential credential) {
    String key = credential.certificate().publicKey().algorithm().toString();
    if (key.startsWith("RSA") || key.startsWith("EC")) {
      return key.substring(0, key.startsWith("RSA") ? 3 : 2);
    }
    throw refused(
        "Tomcat has a key of RSA beside one of EC, and none of " + key + " beside them.",
        "Name the files of one key.");
  }

  /** Tomcat takes what stands between ${ and } for a name, and has no way to write it otherwise. */
  private static String written(Path path) {
    if (path.toString().contains("${")) {
      throw refused(
          "The path "
              + io.symbolon.text.VisibleText.of(path.toString())
              + " has ${ in it, which Tomcat takes for the name of a property.",
          "Choose another folder: " + Input.PLACE.mention("FOLDER") + ".");
    }
    return path.toString();
  }

  private void change(
      TlsConnector one, Map<String, String> host, List<Map<String, String>> wanted) {
    XmlEdit connector = new XmlEdit(edits.of(base.source()), one.connector());
    if (one.port() != port) {
      connector.set("port", String.valueOf(port));
    }
    connector.set("SSLEnabled", "true");
    connector.set("scheme", "https");
    connector.set("secure", "true");
    if (one.host().isEmpty()) {
      connector.append(hostText(host, wanted, one.connector().source().step()));
      return;
    }
    XmlEdit hostEdit = new XmlEdit(edits.of(base.source()), one.host().get());
    apply(hostEdit, host);
    List<XmlText.Element> there = one.certificates();
    for (int i = 0; i < Math.min(there.size(), wanted.size()); i++) {
      apply(new XmlEdit(edits.of(base.source()), there.get(i)), wanted.get(i));
    }
    there.stream()
        .skip(wanted.size())
        .forEach(more -> new XmlEdit(edits.of(base.source()), more).removeElement());
    if (there.size() < wanted.size()) {
      hostEdit.append(certificateText(wanted.subList(there.size(), wanted.size()), ""));
    }
  }

  private static void apply(XmlEdit edit, Map<String, String> attributes) {
    attributes.forEach(
        (name, value) -> {
          if (value.isEmpty()) {
            edit.remove(name);
          } else {
            edit.set(name, value);
          }
        });
  }

  /** A connector more, behind the last one that is not of AJP. */
  private void add(Map<String, String> host, List<Map<String, String>> certificates) {
    SourceText source = base.source();
    String step = source.step();
    StringBuilder text = new StringBuilder();
    text.append("<Connector port=\"").append(port).append('"');
    text.append(" protocol=\"org.apache.coyote.http11.Http11NioProtocol\"");
    // It listens where the one in clear text does.
    connectors.stream()
        .flatMap(one -> one.connector().attribute("address").stream())
        .findFirst()
        .ifPresent(
            one -> text.append(" address=\"").append(XmlText.escaped(one.value())).append('"'));
    text.append("\n           SSLEnabled=\"true\" scheme=\"https\" secure=\"true\">\n");
    text.append(step)
        .append(hostText(host, certificates, step).replace("\n", "\n" + step))
        .append("\n</Connector>");
    if (!connectors.isEmpty()) {
      XmlText.Element last = connectors.get(connectors.size() - 1).connector();
      new XmlEdit(edits.of(source), last).after(text.toString());
      return;
    }
    XmlText.Element service =
        base.service()
            .orElseThrow(
                () ->
                    refused(
                        "server.xml has no Service.",
                        "Name Tomcat's own: " + Input.HOME.mention("PATH") + "."));
    new XmlEdit(edits.of(source), service).append(text.toString());
  }

  private static String hostText(
      Map<String, String> host, List<Map<String, String>> certificates, String step) {
    return tag("SSLHostConfig", host)
        + ">\n"
        + certificateText(certificates, step)
        + "\n</SSLHostConfig>";
  }

  private static String certificateText(List<Map<String, String>> certificates, String step) {
    return certificates.stream()
        .map(one -> step + tag("Certificate", one) + "/>")
        .collect(Collectors.joining("\n"));
  }

  private static String tag(String name, Map<String, String> attributes) {
    StringBuilder text = new StringBuilder("<").append(name);
    attributes.forEach(
        (attribute, value) -> {
          if (!value.isEmpty()) {
            text.append(' ')
                .append(attribute)
                .append("=\"")
                .append(XmlText.escaped(value))
                .append('"');
          }
        });
    return text.toString();
  }

  private void web() {
    if (wish.redirectFrom().isEmpty() && wish.strictTransport().isEmpty()) {
      return;
    }
    WebXml web =
        base.webXml()
            .orElseThrow(() -> refused("There is no web.xml beside server.xml.", "Restore it."));
    wish.strictTransport().ifPresent(time -> web.strictTransport(edits.of(web.source()), time));
    if (wish.redirectFrom().isPresent()) {
      redirect(wish.redirectFrom().get(), web);
    }
  }

  private void redirect(int from, WebXml web) {
    TlsConnector plain =
        connectors.stream()
            .filter(one -> one.port() == from && !one.isTls())
            .findFirst()
            .orElseThrow(
                () ->
                    refused(
                        "There is no connector in clear text on port " + from + ".",
                        "Name the port of the one that is there: "
                            + Input.REDIRECT_FROM.mention("PORT")
                            + "."));
    new XmlEdit(edits.of(base.source()), plain.connector())
        .set("redirectPort", String.valueOf(port));
    if (!web.sendsToTls()) {
      web.sendToTls(edits.of(web.source()));
    }
  }
}
