// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.httpd;

import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.lossless.Directive;
import io.symbolon.remedy.Input;
import io.symbolon.server.place.Endpoint;
import io.symbolon.server.place.Mode;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.text.VisibleText;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What the settings of httpd get wrong, most of which its own check lets pass. */
final class HttpdJudge {
  private static final String WRITE_VERSIONS = "Write: SSLProtocol -all +TLSv1.2 +TLSv1.3";

  private final HttpdTree tree;
  private final HttpdReading reading;
  private final List<Site> sites;
  private final List<Site> available;
  private final List<Finding> findings = new ArrayList<>();

  HttpdJudge(HttpdTree tree, HttpdReading reading, List<Site> sites, List<Site> available) {
    this.tree = tree;
    this.reading = reading;
    this.sites = sites;
    this.available = available;
  }

  List<Finding> findings() {
    for (Site site : sites) {
      TlsPlace place = reading.place(site);
      if (site.isTls()) {
        judgeTls(site, place);
      } else {
        judgeClear(site, place);
      }
    }
    module();
    ports();
    notLoaded();
    macros();
    return findings;
  }

  private void macros() {
    for (Directive top : tree.directives()) {
      top.all()
          .filter(one -> one.is("Use"))
          .forEach(
              one ->
                  find(
                      FindingKind.VALUE_NOT_KNOWN,
                      one,
                      "What the macro "
                          + VisibleText.of(one.value(0))
                          + " stands for is not read: a site that it makes is not among these.",
                      "Look at the macro, and name the files by hand: symbolon survey FILE."));
    }
  }

  private void find(FindingKind kind, Directive at, String statement, String advice) {
    findings.add(Finding.of(kind, HttpdReading.origin(at).toString(), statement, advice));
  }

  private static String name(Site site) {
    return VisibleText.of(site.name());
  }

  private void judgeTls(Site site, TlsPlace place) {
    Directive block = site.block().orElseThrow();
    for (Endpoint endpoint : place.endpoints()) {
      if (!reading.isListening(endpoint)) {
        find(
            FindingKind.LISTEN_MISSING,
            block,
            name(site) + " is for " + endpoint.written() + ", and no Listen line opens that port.",
            "Write: Listen " + endpoint.port());
      }
    }
    if (site.inForce("SSLCertificateFile").isEmpty()) {
      find(
          FindingKind.SERVER_REFUSES,
          block,
          name(site) + " speaks TLS and has no certificate: httpd does not start.",
          "Name the certificate: symbolon configure httpd "
              + Input.SITE.mention("NAME")
              + " "
              + Input.CREDENTIAL.mention("FILE")
              + ".");
    }
    pairs(site);
    versions(site);
    clients(site);
    strictTransport(site);
  }

  /** Certificates and keys are pairs in their order; an extra certificate must hold its own key. */
  private void pairs(Site site) {
    List<Directive> certificates = site.inForce("SSLCertificateFile");
    int keys = site.inForce("SSLCertificateKeyFile").size();
    if (keys > 0 && certificates.size() > keys) {
      Directive extra = certificates.get(keys);
      find(
          FindingKind.SERVER_REFUSES,
          extra,
          "There are "
              + certificates.size()
              + " SSLCertificateFile lines and "
              + keys
              + " SSLCertificateKeyFile: httpd does not start where "
              + VisibleText.of(extra.value(0))
              + " holds no key.",
          "Write a SSLCertificateKeyFile line for each certificate, in the same order.");
    }
  }

  private void versions(Site site) {
    Optional<Directive> line = site.one("SSLProtocol");
    List<String> on = List.of(HttpdReading.protocols(site).orElse("").split(" ", -1));
    if (line.isEmpty()) {
      return; // the server's own default has all that its library takes
    }
    if (on.contains("TLSv1") || on.contains("TLSv1.1")) {
      find(
          FindingKind.OLD_PROTOCOLS,
          line.get(),
          name(site) + " takes " + String.join(", ", on) + ".",
          WRITE_VERSIONS);
    }
    if (!on.contains("TLSv1.3")) {
      find(
          FindingKind.NEW_PROTOCOL_OFF,
          line.get(),
          name(site) + " does not take TLS 1.3.",
          WRITE_VERSIONS);
    }
  }

  private void clients(Site site) {
    Directive block = site.block().orElseThrow();
    Mode mode = HttpdReading.mode(site);
    boolean trust =
        !site.inForce("SSLCACertificateFile").isEmpty()
            || !site.inForce("SSLCACertificatePath").isEmpty();
    boolean anybody = site.word("SSLVerifyClient").equals("optional_no_ca");
    if (anybody) {
      find(
          FindingKind.ANY_CERTIFICATE,
          site.one("SSLVerifyClient").orElse(block),
          name(site)
              + " lets clients in with a certificate of any authority, also one that they made"
              + " themselves.",
          "Write SSLVerifyClient optional, or require; unless the application itself checks who"
              + " signed it.");
    } else if (mode.asksClients() && !trust) {
      find(
          FindingKind.VERIFY_WITHOUT_TRUST,
          site.one("SSLVerifyClient").orElse(block),
          name(site) + " asks clients for certificates and trusts nobody: it refuses every one.",
          "Name the authorities of the clients: symbolon configure httpd "
              + Input.CREDENTIAL.mention("FILE")
              + " "
              + Input.CLIENT_AUTHORITIES.mention("FILE")
              + ".");
    } else if (trust && !mode.asksClients()) {
      find(
          FindingKind.TRUST_WITHOUT_VERIFY,
          site.one("SSLCACertificateFile").or(() -> site.one("SSLCACertificatePath")).orElse(block),
          name(site) + " names the authorities of its clients, and asks no client.",
          "Write SSLVerifyClient require, or take the line away.");
    }
    if (mode == Mode.OPTIONAL && !anybody) {
      List<Directive> parts = HttpdReading.partsThatAsk(site);
      boolean looked =
          !parts.isEmpty()
              || block
                  .all()
                  .flatMap(one -> one.values().stream())
                  .anyMatch(value -> value.contains("SSL_CLIENT_"));
      if (!looked) {
        find(
            FindingKind.OPTIONAL_CLIENTS,
            site.one("SSLVerifyClient").orElse(block),
            name(site)
                + " lets clients without a certificate in, and no setting looks at"
                + " SSL_CLIENT_VERIFY.",
            "Let the application look at it, or write SSLVerifyClient require.");
      } else if (!parts.isEmpty()) {
        find(
            FindingKind.OPTIONAL_CLIENTS,
            parts.get(0),
            "Only a part of "
                + name(site)
                + " asks for a certificate: clients without one get into the rest.",
            "Write SSLVerifyClient require outside of that part if all of it is meant.");
      }
    }
    lists(site);
  }

  private void lists(Site site) {
    Optional<Directive> lists =
        site.one("SSLCARevocationFile").or(() -> site.one("SSLCARevocationPath"));
    String check = site.word("SSLCARevocationCheck");
    if (lists.isPresent() && (check.isEmpty() || check.equals("none"))) {
      find(
          FindingKind.LISTS_NOT_CHECKED,
          lists.get(),
          name(site)
              + " names revocation lists, and no setting lets httpd look at them:"
              + " revoked clients get in.",
          "Write: SSLCARevocationCheck chain");
    }
  }

  private void strictTransport(Site site) {
    if (!tree.hasModule("headers")) {
      site.inside("Header").stream()
          .filter(HttpdProposal::isStrict)
          .findFirst()
          .ifPresent(
              one ->
                  find(
                      FindingKind.MODULE_NOT_ENABLED,
                      one,
                      "The module headers is not loaded: httpd does not start with this line.",
                      "Switch it on: a2enmod headers"));
    }
  }

  private void judgeClear(Site site, TlsPlace place) {
    Directive block = site.block().orElseThrow();
    boolean certificate = !site.inside("SSLCertificateFile").isEmpty();
    if (certificate) {
      find(
          FindingKind.CLEAR_ON_TLS_PORT,
          block,
          name(site) + " has a certificate, but SSLEngine is not on: it speaks clear text.",
          "Write: SSLEngine on");
    } else if (!site.isRedirect() && !place.endpoints().isEmpty()) {
      boolean twin =
          sites.stream()
              .filter(Site::isTls)
              .anyMatch(
                  other ->
                      site.hosts().isEmpty()
                          ? other.hosts().isEmpty()
                          : other.hosts().stream().anyMatch(site.hosts()::contains));
      findings.add(
          Finding.of(
              FindingKind.CLEAR_TEXT_OPEN,
              twin ? Level.WARNING : Level.NOTE,
              HttpdReading.origin(block).toString(),
              name(site) + " serves its content in clear text, and sends nobody to TLS.",
              "Let it redirect: symbolon configure httpd "
                  + Input.CREDENTIAL.mention("FILE")
                  + " "
                  + Input.REDIRECT_FROM.mention("PORT")
                  + "."));
    }
  }

  private void module() {
    boolean loaded = tree.hasModule("ssl");
    if (!loaded) {
      for (Site site : sites) {
        site.inside("SSLEngine").stream()
            .findFirst()
            .ifPresent(
                one ->
                    find(
                        FindingKind.MODULE_NOT_ENABLED,
                        one,
                        "The module ssl is not loaded: httpd does not start with this line.",
                        "Switch it on: a2enmod ssl"));
      }
      for (Directive site : tree.leftOut()) {
        if (!site.inside("SSLEngine").isEmpty()) {
          find(
              FindingKind.MODULE_NOT_ENABLED,
              site,
              "httpd leaves this site out, without a word: the module ssl is not loaded.",
              "Switch it on: a2enmod ssl");
        }
      }
    }
  }

  /** The port for TLS that is open with no site for it answers in clear text. */
  private void ports() {
    for (Directive one : tree.directives()) {
      boolean usual = one.is("Listen") && one.value(0).matches("(.*:)?443");
      boolean said = one.is("Listen") && one.value(1).equalsIgnoreCase("https");
      if (usual || said) {
        List<Endpoint> listen = Site.listens(List.of(one));
        boolean tls =
            sites.stream()
                .filter(Site::isTls)
                .flatMap(site -> site.endpoints(reading.listens()).stream())
                .anyMatch(each -> each.port() == listen.get(0).port());
        boolean mainSpeaks = new Site(Optional.empty(), tree.directives(), true).isTls();
        if (!tls && !mainSpeaks) {
          findings.add(
              Finding.of(
                  FindingKind.CLEAR_ON_TLS_PORT,
                  Level.WARNING,
                  HttpdReading.origin(one).toString(),
                  "Port "
                      + listen.get(0).port()
                      + " is open and no site speaks TLS there: httpd answers in clear text.",
                  "Switch a site on, write one, or take that line away."));
        }
      }
    }
  }

  private void notLoaded() {
    for (Site site : available) {
      if (site.isTls()) {
        Directive block = site.block().orElseThrow();
        find(
            FindingKind.SITE_NOT_ENABLED,
            block,
            "This site speaks TLS, and httpd does not load it.",
            "Switch it on if it is to be served: a2ensite " + site.file());
      }
    }
  }
}
