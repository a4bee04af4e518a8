// SPDX-License-Identifier: Apache-2.0
package io.symbolon.demo.standin;

import io.symbolon.demo.standin.Setup.Clients;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Properties;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import org.w3c.dom.Element;
import org.xml.sax.SAXException;

/**
 * Six invented programs of the observatory, each with its own way to want a key and certificates.
 * docs/descriptions has a description of each.
 */
public enum StandIn {
  /** Shows the tides: an ini file, and two PEM files that only its account may read. */
  TIDEWATCH("tidewatch.ini") {
    @Override
    String settings(int port) {
      return "; Shows the tides\n[web]\nprotocol = http\nhttp_port = "
          + port
          + "\n\n[log]\nlevel = info\n";
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      Map<String, String> ini = ini(home.resolve(file()));
      int port = Integer.parseInt(value(ini, "web.http_port"));
      if (!value(ini, "web.protocol").equals("https")) {
        return Setup.clear(port);
      }
      String clients = ini.getOrDefault("web.client_auth", "no");
      return Setup.of(
          port,
          Given.pemKey(Given.closed(Path.of(value(ini, "web.cert_key")))),
          Given.certificates(Given.closed(Path.of(value(ini, "web.cert_file")))),
          clients.equals("no")
              ? List.of()
              : Given.certificates(Path.of(value(ini, "web.client_ca"))),
          clients(clients, "asked", "required"));
    }
  },
  /** Moves work along: a keystore, two passwords through its own scrambling program, the alias. */
  CURRENTFLOW("etc/flow.ini") {
    @Override
    String settings(int port) {
      return "[server]\nport=" + port + "\n\n[tls]\nenabled=false\n";
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      Map<String, String> ini = ini(home.resolve(file()));
      int port = Integer.parseInt(value(ini, "server.port"));
      if (!value(ini, "tls.enabled").equals("true")) {
        return Setup.clear(port);
      }
      KeyStore store =
          Given.store(
              Path.of(value(ini, "tls.keystore")), "JKS", clear(value(ini, "tls.store_password")));
      String trust = ini.getOrDefault("tls.truststore", "");
      return Setup.of(
          port,
          store,
          value(ini, "tls.alias"),
          clear(value(ini, "tls.key_password")),
          trust.isEmpty()
              ? List.of()
              : trusted(
                  Given.store(Path.of(trust), "JKS", clear(value(ini, "tls.trust_password")))),
          clients(ini.getOrDefault("tls.clients", "ignore"), "want", "need"));
    }

    /** What the program bin/scramble did, done backwards. */
    private char[] clear(String scrambled) throws GeneralSecurityException {
      if (!scrambled.startsWith("scrambled:")) {
        throw new GeneralSecurityException("a password that is not scrambled");
      }
      String turned =
          new String(
              Base64.getDecoder().decode(scrambled.substring("scrambled:".length())),
              StandardCharsets.UTF_8);
      StringBuilder text = new StringBuilder();
      for (char c : turned.strip().toCharArray()) {
        boolean letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
        int base = c >= 'a' ? 'a' : 'A';
        text.append(letter ? (char) ((c - base + 13) % 26 + base) : c);
      }
      return text.toString().toCharArray();
    }
  },
  /** Passes messages on: finds its certificate by a label of a fixed form. */
  DRIFTQUEUE("queue.properties") {
    @Override
    String settings(int port) {
      return "# Queue manager INGEST\nqueue.manager=INGEST\nlistener.port=" + port + "\n";
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      Properties all = new Properties();
      try (InputStream in = Files.newInputStream(home.resolve(file()))) {
        all.load(in);
      }
      int port = Integer.parseInt(all.getProperty("listener.port"));
      String repository = all.getProperty("listener.repository", "");
      if (repository.isEmpty()) {
        return Setup.clear(port);
      }
      char[] password = Given.firstLine(Path.of(all.getProperty("listener.stash")));
      KeyStore store = Given.store(Path.of(repository), "PKCS12", password);
      String label = "driftqueue" + all.getProperty("queue.manager").toLowerCase(Locale.ROOT);
      String trust = all.getProperty("listener.peers", "");
      return Setup.of(
          port,
          store,
          label,
          password,
          trust.isEmpty() ? List.of() : Given.certificates(Path.of(trust)),
          clients(all.getProperty("listener.peer.check", "none"), "optional", "required"));
    }
  },
  /** Serves pages: a key database with several entries, of which the settings name one. */
  REEFWEB("conf/reefweb.xml") {
    @Override
    String settings(int port) {
      return """
          <?xml version="1.0" encoding="UTF-8"?>
          <reefweb>
            <!-- one listener -->
            <listener port="%d" secure="no"/>
          </reefweb>
          """
          .formatted(port);
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      Element listener = listener(home.resolve(file()));
      int port = Integer.parseInt(listener.getAttribute("port"));
      if (!listener.getAttribute("secure").equals("yes")) {
        return Setup.clear(port);
      }
      Element tls = (Element) listener.getElementsByTagName("tls").item(0);
      char[] password = Given.firstLine(Path.of(tls.getAttribute("stash")));
      KeyStore store = Given.store(Path.of(tls.getAttribute("database")), "PKCS12", password);
      String label = tls.getElementsByTagName("default-entry").item(0).getTextContent();
      String clients = tls.getAttribute("clients");
      return Setup.of(
          port,
          store,
          label,
          password,
          clients.isEmpty() || clients.equals("none")
              ? List.of()
              : Given.certificates(Path.of(tls.getAttribute("authorities"))),
          clients(clients, "asked", "demanded"));
    }

    private Element listener(Path file) throws IOException, GeneralSecurityException {
      try (InputStream in = Files.newInputStream(file)) {
        DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
        factory.setFeature("http://apache.org/xml/features/disallow-doctype-decl", true);
        Element root = factory.newDocumentBuilder().parse(in).getDocumentElement();
        return (Element) root.getElementsByTagName("listener").item(0);
      } catch (ParserConfigurationException | SAXException e) {
        throw new GeneralSecurityException("the settings are no XML", e);
      }
    }
  },
  /** An appliance: certificate, chain and key glued together in one file, settings in JSON. */
  SLUICE("sluice.json") {
    @Override
    String settings(int port) {
      return "{\n  \"name\": \"sluice-1\",\n  \"listener\": {\n    \"port\": "
          + port
          + ",\n    \"tls\": false\n  }\n}\n";
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      String json = Files.readString(home.resolve(file()));
      int port = Integer.parseInt(member(json, "port", ""));
      if (!member(json, "tls", "false").equals("true")) {
        return Setup.clear(port);
      }
      Path bundle = Path.of(member(json, "bundle", ""));
      String text = Files.readString(bundle);
      if (text.indexOf("BEGIN CERTIFICATE") > text.indexOf("BEGIN PRIVATE KEY")) {
        throw new GeneralSecurityException("the key must stand behind the certificates");
      }
      String clients = member(json, "clients", "off");
      return Setup.of(
          port,
          Given.pemKey(bundle),
          Given.certificates(bundle),
          clients.equals("off")
              ? List.of()
              : Given.certificates(Path.of(member(json, "authorities", ""))),
          clients(clients, "may", "must"));
    }

    private String member(String json, String name, String otherwise) {
      Matcher member =
          Pattern.compile("\"" + name + "\"\\s*:\\s*(?:\"([^\"]*)\"|(true|false|\\d+))")
              .matcher(json);
      return !member.find()
          ? otherwise
          : member.group(1) == null ? member.group(2) : member.group(1);
    }
  },
  /** A portal: key and certificate under fixed names in one folder; restarted by its own tool. */
  LAGOON("lagoon.env") {
    @Override
    String settings(int port) {
      return "# The portal\nLAGOON_TITLE=\"Lagoon of the observatory\"\nLAGOON_PORT=" + port + "\n";
    }

    @Override
    Setup read(Path home) throws IOException, GeneralSecurityException {
      Map<String, String> all = new TreeMap<>();
      for (String line : Files.readAllLines(home.resolve(file()))) {
        int sign = line.indexOf('=');
        if (sign > 0 && !line.startsWith("#")) {
          all.put(line.substring(0, sign), line.substring(sign + 1).replace("\"", ""));
        }
      }
      int port = Integer.parseInt(value(all, "LAGOON_PORT"));
      if (!all.getOrDefault("LAGOON_TLS", "off").equals("on")) {
        return Setup.clear(port);
      }
      Path folder = home.resolve("tls");
      List<Certificate> chain = new ArrayList<>(Given.certificates(folder.resolve("portal.cer")));
      chain.addAll(Given.certificates(folder.resolve("portal-chain.p7b")));
      String clients = all.getOrDefault("LAGOON_CLIENTS", "none");
      return Setup.of(
          port,
          Given.derKey(Given.closed(folder.resolve("portal.key"))),
          chain,
          clients.equals("none") ? List.of() : Given.certificates(folder.resolve("clients.pem")),
          clients(clients, "wanted", "needed"));
    }
  };

  private final String file;

  StandIn(String file) {
    this.file = file;
  }

  /** {@return its name} */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** {@return its settings file, below its home} */
  public String file() {
    return file;
  }

  abstract String settings(int port);

  abstract Setup read(Path home) throws IOException, GeneralSecurityException;

  /**
   * Puts it into a folder, in clear text, with its tools.
   *
   * @param home the folder
   * @param port where it is to listen
   * @throws IOException if that can't be written
   */
  public void install(Path home, int port) throws IOException {
    Path main = home.resolve(file);
    Files.createDirectories(main.resolveSibling("."));
    Files.createDirectories(home.resolve("run"));
    Files.createDirectories(home.resolve("bin"));
    Files.writeString(main, settings(port));
    tool(
        home.resolve("bin/control"),
        """
        #!/bin/sh
        # Tells the running program to check its settings or to take them, and waits for its answer.
        home=$(cd "$(dirname "$0")/.." && pwd)
        rm -f "$home/run/answer"
        echo "$1" > "$home/run/command.new"
        mv "$home/run/command.new" "$home/run/command"
        i=0
        while [ ! -f "$home/run/answer" ]; do
          i=$((i + 1))
          if [ "$i" -gt 200 ]; then echo "nobody answers: does it run?"; exit 9; fi
          sleep 0.1
        done
        cat "$home/run/answer"
        """);
    tool(
        home.resolve("bin/scramble"),
        """
        #!/bin/sh
        # Turns the password on its input so that nobody reads it by the way.
        printf 'scrambled:%s\\n' "$(tr 'A-Za-z' 'N-ZA-Mn-za-m' | base64 -w 0)"
        """);
  }

  private static void tool(Path file, String text) throws IOException {
    Files.writeString(file, text);
    Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rwxr-xr-x"));
  }

  static Clients clients(String word, String may, String must) {
    return word.equals(must) ? Clients.MUST : word.equals(may) ? Clients.MAY : Clients.NOT_ASKED;
  }

  static String value(Map<String, String> all, String key) {
    String value = all.get(key);
    if (value == null) {
      throw new IllegalStateException("the setting " + key + " is missing");
    }
    return value;
  }

  static Map<String, String> ini(Path file) throws IOException {
    Map<String, String> all = new TreeMap<>();
    String section = "";
    for (String line : Files.readAllLines(file)) {
      String text = line.strip();
      int sign = text.indexOf('=');
      if (text.startsWith("[")) {
        section = text.substring(1, text.length() - 1);
      } else if (sign > 0 && !text.startsWith(";")) {
        all.put(section + "." + text.substring(0, sign).strip(), text.substring(sign + 1).strip());
      }
    }
    return all;
  }

  static List<Certificate> trusted(KeyStore store) throws GeneralSecurityException {
    List<Certificate> all = new ArrayList<>();
    for (String alias : Collections.list(store.aliases())) {
      if (store.isCertificateEntry(alias)) {
        all.add(store.getCertificate(alias));
      }
    }
    return all;
  }
}
