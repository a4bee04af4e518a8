// SPDX-License-Identifier: Apache-2.0
package io.symbolon.acme.answer;

import io.symbolon.acme.records.Records;
import io.symbolon.acme.records.Records.Certified;
import io.symbolon.pem.PemReader;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** A page for people: what this authority is, how to trust it, what it issued last. */
final class AuthorityPage {
  static final int LATEST = 50;
  static final String PUBLIC_CERTIFICATES = "/certificates/";

  private static final String STYLE =
      """
      :root{color-scheme:light dark;--ink:#1b2733;--soft:#5b6b7a;--line:#d5dde5;--back:#fbfcfd;\
      --panel:#fff;--link:#0b5a8a}
      @media (prefers-color-scheme:dark){:root{--ink:#e4ebf2;--soft:#9fb0c0;--line:#33414f;\
      --back:#12181f;--panel:#1a222b;--link:#7cc4f0}}
      body{font:16px/1.5 system-ui,sans-serif;color:var(--ink);background:var(--back);margin:0}
      main{max-width:62rem;margin:0 auto;padding:2rem 1.5rem}
      h1{font-size:1.7rem;margin:0 0 .2rem}h2{font-size:1.15rem;margin:2rem 0 .5rem}
      p{margin:.4rem 0}.soft{color:var(--soft)}a{color:var(--link)}
      code,pre{font:14px/1.5 ui-monospace,monospace}
      pre{background:var(--panel);border:1px solid var(--line);border-radius:6px;padding:.8rem 1rem;\
      overflow-x:auto;white-space:pre-wrap;overflow-wrap:anywhere}
      dl{display:grid;grid-template-columns:max-content 1fr;gap:.25rem 1.2rem;margin:.8rem 0}
      dt{color:var(--soft)}dd{margin:0;overflow-wrap:anywhere}
      table{border-collapse:collapse;width:100%;background:var(--panel);border:1px solid var(--line)}
      th,td{text-align:left;padding:.45rem .8rem;border-bottom:1px solid var(--line);\
      vertical-align:top;overflow-wrap:anywhere}
      th{color:var(--soft);font-weight:600}
      """;

  private final AnswerPlan plan;
  private final List<Certificate> chain;
  private final Records records;
  private final Addresses addresses;

  AuthorityPage(AnswerPlan plan, List<Certificate> chain, Records records, Addresses addresses) {
    this.plan = plan;
    this.chain = chain;
    this.records = records;
    this.addresses = addresses;
  }

  Reply page() {
    Certificate own = chain.get(0);
    Certificate root = chain.get(chain.size() - 1);
    StringBuilder html = new StringBuilder(8_000);
    html.append("<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n")
        .append("<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n<title>")
        .append(escaped(own.subject().shortText()))
        .append("</title>\n<style>\n")
        .append(STYLE)
        .append("</style>\n</head>\n<body>\n<main>\n<h1>")
        .append(escaped(own.subject().shortText()))
        .append("</h1>\n<p class=\"soft\">A certificate authority. It answers the automatic")
        .append(" protocol (RFC 8555).</p>\n");
    facts(html, own, root);
    html.append("<h2>Trust it</h2>\n<p>Fetch ")
        .append(
            "<a href=\"/root.pem\">the certificate of its root</a>. Compare its fingerprint with")
        .append(
            " what whoever runs this authority told you on another way. Then, for a program that")
        .append(" reads a truststore:</p>\n<pre>")
        .append("symbolon truststore root.pem --into truststore.p12 --seal new=truststore.pw")
        .append("</pre>\n<h2>Order a certificate</h2>\n<pre>")
        .append(
            escaped(
                "symbolon order --from "
                    + addresses.of(Addresses.DIRECTORY)
                    + " --trust root.pem --host NAME --account account --into NAME.p12"
                    + " --seal new=NAME.pw"))
        .append("</pre>\n");
    plan.terms()
        .ifPresent(
            terms ->
                html.append("<p><a href=\"")
                    .append(escaped(terms.toString()))
                    .append("\">Terms of service</a></p>\n"));
    latest(html);
    html.append("</main>\n</body>\n</html>\n");
    return Reply.of("text/html; charset=utf-8", html.toString().getBytes(StandardCharsets.UTF_8))
        .with("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
        .with("X-Content-Type-Options", "nosniff");
  }

  private void facts(StringBuilder html, Certificate own, Certificate root) {
    html.append("<dl>\n");
    fact(html, "subject", escaped(own.subject().toString()));
    fact(html, "valid until", day(own));
    fact(html, "SHA-256", "<code>" + fingerprint(own) + "</code>");
    if (!root.equals(own)) {
      fact(html, "root", escaped(root.subject().shortText()) + ", valid until " + day(root));
      fact(html, "SHA-256 of the root", "<code>" + fingerprint(root) + "</code>");
    }
    fact(html, "directory", "<code>" + escaped(addresses.of(Addresses.DIRECTORY)) + "</code>");
    fact(
        html,
        "issues for",
        plan.allowed().isEmpty()
            ? "every host" + constrained(own)
            : escaped(String.join(", ", plan.allowed())));
    fact(html, "certificates last", escaped(plan.lasts().title()));
    fact(
        html,
        "files",
        "<a href=\"/authority.pem\">chain</a>, <a href=\"/root.pem\">root</a>,"
            + " <a href=\"/revocations.crl\">revocation list</a>");
    html.append("</dl>\n");
  }

  private static String constrained(Certificate own) {
    return own.extensions().nameConstraints().isPresent()
        ? " that its own certificate permits"
        : "";
  }

  private static void fact(StringBuilder html, String name, String value) {
    html.append("<dt>").append(name).append("</dt><dd>").append(value).append("</dd>\n");
  }

  private void latest(StringBuilder html) {
    List<Certified> all = records.latest(LATEST);
    html.append("<h2>Latest certificates</h2>\n");
    if (all.isEmpty()) {
      html.append("<p class=\"soft\">None were ordered yet.</p>\n");
      return;
    }
    html.append("<table>\n<thead><tr><th scope=\"col\">hosts</th><th scope=\"col\">from</th>")
        .append("<th scope=\"col\">until</th><th scope=\"col\">serial number</th></tr></thead>\n")
        .append("<tbody>\n");
    for (Certified one : all) {
      Certificate certificate = first(one);
      String names =
          certificate.alternativeNames().stream()
              .map(GeneralName::value)
              .map(AuthorityPage::escaped)
              .collect(Collectors.joining("<br>"));
      html.append("<tr><td>")
          .append(names)
          .append("</td><td>")
          .append(LocalDate.ofInstant(certificate.notBefore(), ZoneOffset.UTC))
          .append("</td><td>")
          .append(day(certificate))
          .append("</td><td><a href=\"")
          .append(PUBLIC_CERTIFICATES)
          .append(one.serial())
          .append("\"><code>")
          .append(one.serial())
          .append("</code></a></td></tr>\n");
    }
    html.append("</tbody>\n</table>\n");
  }

  /** A certificate by its serial number: they are public. */
  Reply certificate(String serial) throws Trouble {
    Optional<Certified> known =
        serial.matches("[0-9a-f]{1,40}") ? records.certifiedAs(serial) : Optional.empty();
    return Reply.of(
        "application/x-pem-file",
        known.orElseThrow(Trouble::notFound).chain().getBytes(StandardCharsets.US_ASCII));
  }

  private static Certificate first(Certified known) {
    return Certificate.read(
        PemReader.read(known.chain().getBytes(StandardCharsets.US_ASCII))
            .blocks()
            .get(0)
            .content());
  }

  private static String day(Certificate certificate) {
    return LocalDate.ofInstant(certificate.notAfter(), ZoneOffset.UTC).toString();
  }

  private static String fingerprint(Certificate certificate) {
    return certificate.sha256().replaceAll("(..)(?=.)", "$1:");
  }

  private static String escaped(String text) {
    return VisibleText.of(text)
        .replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;")
        .replace("'", "&#39;");
  }
}
