// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.XmlText;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Settings;
import io.symbolon.server.files.PasswordLines;
import io.symbolon.server.machine.Machine;
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
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Where a Tomcat speaks TLS, and what its settings get wrong. */
final class TomcatReading {
  /** Attributes of a connector that named its files before there was a host for it. */
  private static final Set<String> BEFORE =
      Set.of("keystoreFile", "keystorePass", "truststoreFile", "clientAuth", "SSLCertificateFile");

  private static final String USUAL_PASSWORD = "changeit";

  private final Machine machine;
  private final TomcatBase base;
  private final List<Finding> findings = new ArrayList<>();

  TomcatReading(Machine machine, TomcatBase base) {
    this.machine = machine;
    this.base = base;
  }

  List<TlsConnector> connectors() {
    List<TlsConnector> all = new ArrayList<>();
    for (XmlText.Element connector : base.connectors()) {
      List<XmlText.Element> hosts = connector.children("SSLHostConfig");
      if (hosts.isEmpty()) {
        all.add(new TlsConnector(connector, Optional.empty()));
      }
      hosts.forEach(host -> all.add(new TlsConnector(connector, Optional.of(host))));
    }
    return all;
  }

  Settings settings() {
    List<TlsPlace> places = new ArrayList<>();
    List<TlsConnector> connectors = connectors();
    for (TlsConnector one : connectors) {
      places.add(place(one));
      judge(one, connectors);
    }
    return new Settings(base.installation(), places, base.files().paths(), findings);
  }

  TlsPlace place(TlsConnector one) {
    List<String> hosts =
        one.host().map(host -> host.value("hostName", TlsConnector.USUAL_HOST)).stream()
            .filter(name -> !name.equals(TlsConnector.USUAL_HOST))
            .toList();
    XmlText.Element at = one.host().orElse(one.connector());
    return TlsPlace.at(
            PlaceId.at(at.source().path(), at.from()), origin(at), one.name(), "connector")
        .endpoints(one.port() == 0 ? List.of() : List.of(one.endpoint()))
        .mode(one.mode())
        .hosts(hosts)
        .files(files(one))
        .protocols(
            one.host().flatMap(host -> host.attribute("protocols")).map(XmlText.Attribute::value))
        .ciphers(
            one.host().flatMap(host -> host.attribute("ciphers")).map(XmlText.Attribute::value))
        .account(base.account().flatMap(machine::account))
        .build();
  }

  private static Origin origin(XmlText.Element element) {
    return new Origin(element.source().path(), element.line());
  }

  private List<UsedFile> files(TlsConnector one) {
    List<UsedFile> files = new ArrayList<>();
    for (XmlText.Element certificate : one.certificates()) {
      List<Secret> store =
          passwords(
              certificate, "certificateKeystorePassword", "certificateKeystorePasswordFile", files);
      List<Secret> key =
          passwords(certificate, "certificateKeyPassword", "certificateKeyPasswordFile", files);
      // Where no other is said, the key in a keystore has the store's password.
      boolean own =
          certificate.attribute("certificateKeyPassword").isPresent()
              || certificate.attribute("certificateKeyPasswordFile").isPresent();
      Optional<String> alias =
          certificate.attribute("certificateKeyAlias").flatMap(at -> base.resolved(at.value()));
      used(certificate, "certificateKeystoreFile", FileRole.KEYSTORE)
          .map(file -> file.withPasswords(store).withAlias(alias))
          .map(file -> own ? file.withKeyPasswords(key) : file)
          .ifPresent(files::add);
      used(certificate, "certificateFile", FileRole.CERTIFICATE).ifPresent(files::add);
      used(certificate, "certificateChainFile", FileRole.CHAIN).ifPresent(files::add);
      used(certificate, "certificateKeyFile", FileRole.KEY)
          .map(file -> file.withPasswords(key))
          .ifPresent(files::add);
    }
    one.host()
        .filter(host -> one.mode().asksClients())
        .ifPresent(
            host -> {
              List<Secret> store = passwords(host, "truststorePassword", "", files);
              used(host, "truststoreFile", FileRole.TRUST)
                  .map(file -> file.withPasswords(store))
                  .ifPresent(files::add);
              used(host, "certificateRevocationListFile", FileRole.LISTS).ifPresent(files::add);
            });
    return files;
  }

  private List<Secret> passwords(
      XmlText.Element element, String setting, String fileSetting, List<UsedFile> files) {
    Optional<String> file =
        element.attribute(fileSetting).flatMap(one -> base.resolved(one.value()));
    if (file.isPresent()) {
      Path path = base.path(file.get());
      files.add(UsedFile.of(FileRole.PASSWORD, path, fileSetting, origin(element)));
      return PasswordLines.of(machine.files(), path).stream().limit(1).toList();
    }
    String text =
        element
            .attribute(setting)
            .flatMap(one -> base.resolved(one.value()))
            .orElse(USUAL_PASSWORD);
    return List.of(Secret.of(text.toCharArray(), origin(element).toString()));
  }

  private Optional<UsedFile> used(XmlText.Element element, String setting, FileRole role) {
    Optional<XmlText.Attribute> attribute = element.attribute(setting);
    if (attribute.isEmpty()) {
      return Optional.empty();
    }
    Optional<String> value = base.resolved(attribute.get().value());
    if (value.isEmpty()) {
      find(
          FindingKind.VALUE_NOT_KNOWN,
          origin(element).toString(),
          setting
              + " names a property that is not in catalina.properties: "
              + VisibleText.of(attribute.get().value())
              + ".",
          "Look at the file that it stands for: symbolon survey FILE.");
    }
    return value.map(path -> UsedFile.of(role, base.path(path), setting, origin(element)));
  }

  private void judge(TlsConnector one, List<TlsConnector> all) {
    String where = origin(one.connector()).toString();
    Optional<String> before =
        BEFORE.stream()
            .filter(name -> one.connector().attribute(name).isPresent())
            .sorted()
            .findFirst();
    if (before.isPresent()) {
      find(
          FindingKind.SETTING_IGNORED,
          where,
          "Tomcat 10 and later do not heed " + before.get() + " of a Connector.",
          "Write it in an SSLHostConfig in the Connector: symbolon configure tomcat "
              + Input.CREDENTIAL.mention()
              + " FILE... does.");
    }
    if (one.connector().value("protocol", "").endsWith("Http11AprProtocol")) {
      find(
          FindingKind.SERVER_REFUSES,
          where,
          "Tomcat 10.1 and later have no Http11AprProtocol: the server does not start.",
          "Write protocol=\"org.apache.coyote.http11.Http11NioProtocol\".");
    }
    if ("optionalnoca"
        .equalsIgnoreCase(
            one.host().map(host -> host.value("certificateVerification", "")).orElse(""))) {
      find(
          FindingKind.ANY_CERTIFICATE,
          where,
          "The connector of port "
              + one.port()
              + " lets clients in with a certificate of any authority.",
          "Write certificateVerification=\"optional\", or \"required\".");
    }
    if (!one.isTls()) {
      judgeClear(one, all, where);
      return;
    }
    if (one.host().isEmpty() || one.certificates().isEmpty()) {
      find(
          FindingKind.SERVER_REFUSES,
          where,
          "The connector of port " + one.port() + " has no certificate: it does not start.",
          "Name one: symbolon configure tomcat "
              + Input.SITE.mention()
              + " "
              + one.name()
              + " "
              + Input.CREDENTIAL.mention("FILE..."));
      return;
    }
    XmlText.Element host = one.host().get();
    String inside = origin(host).toString();
    if (host.attribute("caCertificateFile").isPresent() && !isNative(one.connector())) {
      find(
          FindingKind.SETTING_IGNORED,
          inside,
          "Tomcat does not heed caCertificateFile where Java makes the handshakes.",
          "Name a truststore instead: truststoreFile.");
    }
    if (one.mode() == Mode.MUTUAL && host.attribute("truststoreFile").isEmpty()) {
      find(
          FindingKind.VERIFY_WITHOUT_TRUST,
          inside,
          "Clients must show a certificate, and no truststore is named: Java's public authorities"
              + " count, and your own clients are refused.",
          "Name the authorities of the clients: " + Input.CLIENT_AUTHORITIES.mention("FILE..."));
    } else if (one.mode() == Mode.ONE_WAY && host.attribute("truststoreFile").isPresent()) {
      find(
          FindingKind.TRUST_WITHOUT_VERIFY,
          inside,
          "A truststore is named, and no client is asked for a certificate.",
          "Write certificateVerification=\"required\", or take truststoreFile away.");
    } else if (one.mode() == Mode.OPTIONAL) {
      find(
          FindingKind.OPTIONAL_CLIENTS,
          inside,
          "Clients without a certificate get in.",
          "Let the application look at the certificate, or write certificateVerification=\"required\".");
    }
    judgeProtocols(host, inside);
    judgePasswords(one);
  }

  /** Whether a native library makes the handshakes of a connector, as far as it says so. */
  private static boolean isNative(XmlText.Element connector) {
    return connector.value("sslImplementationName", "").contains("openssl");
  }

  private void judgeClear(TlsConnector one, List<TlsConnector> all, String where) {
    boolean other = all.stream().anyMatch(TlsConnector::isTls);
    boolean sends = base.webXml().map(WebXml::sendsToTls).orElse(false);
    if (!sends) {
      findings.add(
          Finding.of(
              FindingKind.CLEAR_TEXT_OPEN,
              other ? Level.WARNING : Level.NOTE,
              where,
              "The connector of port "
                  + one.port()
                  + " serves its content in clear text, and sends nobody to TLS.",
              "Let it redirect: symbolon configure tomcat "
                  + Input.CREDENTIAL.mention("FILE")
                  + " "
                  + Input.REDIRECT_FROM.mention()
                  + " "
                  + one.port()
                  + "."));
    }
  }

  private void judgeProtocols(XmlText.Element host, String where) {
    String words = host.value("protocols", "").toLowerCase(Locale.ROOT);
    boolean old =
        List.of(words.split("[,+ ]+", -1)).stream()
            .anyMatch(
                word -> word.equals("tlsv1") || word.equals("tlsv1.1") || word.startsWith("ssl"));
    if (old) {
      find(
          FindingKind.OLD_PROTOCOLS,
          where,
          "It takes " + VisibleText.of(words) + ".",
          "Write protocols=\"TLSv1.2+TLSv1.3\".");
    } else if (!words.isEmpty() && !words.contains("tlsv1.3") && !words.contains("all")) {
      find(
          FindingKind.NEW_PROTOCOL_OFF,
          where,
          "It does not take TLS 1.3.",
          "Write protocols=\"TLSv1.2+TLSv1.3\".");
    }
  }

  private void judgePasswords(TlsConnector one) {
    for (XmlText.Element certificate : one.certificates()) {
      for (String setting : List.of("certificateKeystorePassword", "certificateKeyPassword")) {
        if (certificate.attribute(setting).isPresent()) {
          findings.add(
              OpenPassword.note(
                  origin(certificate),
                  setting,
                  "Put it into a file of its own and name that: " + setting + "File."));
        }
      }
    }
  }

  private void find(FindingKind kind, String where, String statement, String advice) {
    findings.add(Finding.of(kind, where, statement, advice));
  }
}
