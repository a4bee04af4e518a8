// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.tomcat;

import io.symbolon.lossless.Edits;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.XmlEdit;
import io.symbolon.lossless.XmlText;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** What web.xml says for all applications: a constraint that sends to TLS, a filter of headers. */
final class WebXml {
  private static final String FILTER = "org.apache.catalina.filters.HttpHeaderSecurityFilter";
  private static final String USUAL_NAME = "strictTransport";
  private static final String SECONDS = "hstsMaxAgeSeconds";
  private static final String ENABLED = "hstsEnabled";

  private final SourceText source;
  private final XmlText.Element root;

  WebXml(SourceText source) {
    this.source = source;
    this.root = XmlText.read(source);
  }

  SourceText source() {
    return source;
  }

  /** Whether clients in clear text are sent to TLS, whatever they ask for. */
  boolean sendsToTls() {
    for (XmlText.Element constraint : root.children("security-constraint")) {
      boolean everything =
          constraint.children("web-resource-collection").stream()
              .flatMap(one -> one.children("url-pattern").stream())
              .anyMatch(one -> text(one).equals("/*") || text(one).equals("/"));
      boolean confidential =
          constraint.children("user-data-constraint").stream()
              .flatMap(one -> one.children("transport-guarantee").stream())
              .anyMatch(one -> text(one).equals("CONFIDENTIAL"));
      if (everything && confidential) {
        return true;
      }
    }
    return false;
  }

  void sendToTls(Edits edits) {
    append(
        edits,
        """
        <!-- Clients in clear text are sent to TLS. -->
        <security-constraint>
        S<web-resource-collection>
        SS<web-resource-name>everything</web-resource-name>
        SS<url-pattern>/*</url-pattern>
        S</web-resource-collection>
        S<user-data-constraint>
        SS<transport-guarantee>CONFIDENTIAL</transport-guarantee>
        S</user-data-constraint>
        </security-constraint>
        """);
  }

  /**
   * The header is one of several that the filter knows; where it is not there, the others stay off.
   */
  void strictTransport(Edits edits, Duration time) {
    String seconds = String.valueOf(time.toSeconds());
    Optional<XmlText.Element> filter =
        root.children("filter").stream()
            .filter(one -> value(one, "filter-class").equals(FILTER))
            .findFirst();
    if (filter.isEmpty()) {
      append(
          edits,
          """
          <!-- Clients insist on TLS for this time; no other header is sent. -->
          <filter>
          S<filter-name>NAME</filter-name>
          S<filter-class>FILTER</filter-class>
          S<async-supported>true</async-supported>
          """
                  .replace("NAME", USUAL_NAME)
                  .replace("FILTER", FILTER)
              + parameter(SECONDS, seconds)
              + parameter("antiClickJackingEnabled", "false")
              + parameter("blockContentTypeSniffingEnabled", "false")
              + "</filter>\n"
              + mapping(USUAL_NAME));
      return;
    }
    set(edits, filter.get(), SECONDS, seconds);
    if (parameter(filter.get(), ENABLED).isPresent()) {
      set(edits, filter.get(), ENABLED, "true");
    }
    String name = value(filter.get(), "filter-name");
    boolean mapped =
        root.children("filter-mapping").stream()
            .anyMatch(
                one ->
                    value(one, "filter-name").equals(name)
                        && value(one, "url-pattern").equals("/*"));
    if (!mapped) {
      append(edits, mapping(XmlText.escaped(name)));
    }
  }

  private static String mapping(String name) {
    return """
    <filter-mapping>
    S<filter-name>NAME</filter-name>
    S<url-pattern>/*</url-pattern>
    </filter-mapping>
    """
        .replace("NAME", name);
  }

  private static String parameter(String name, String value) {
    return """
    S<init-param>
    SS<param-name>NAME</param-name>
    SS<param-value>VALUE</param-value>
    S</init-param>
    """
        .replace("NAME", name)
        .replace("VALUE", value);
  }

  private static Optional<XmlText.Element> parameter(XmlText.Element filter, String name) {
    return filter.children("init-param").stream()
        .filter(one -> value(one, "param-name").equals(name))
        .findFirst();
  }

  private void set(Edits edits, XmlText.Element filter, String name, String value) {
    List<XmlText.Element> values =
        parameter(filter, name).map(one -> one.children("param-value")).orElse(List.of());
    if (values.isEmpty()) {
      new XmlEdit(edits, filter).append(stepped(parameter(name, value).replace("\nS", "\n")));
    } else if (!text(values.get(0)).equals(value)) {
      edits.replace(values.get(0).tagTo(), values.get(0).contentTo(), value);
    }
  }

  private void append(Edits edits, String lines) {
    new XmlEdit(edits, root).append(stepped(lines));
  }

  /** Lines that begin with S are that many steps further in. */
  private String stepped(String lines) {
    String step = source.step();
    return ("\n" + lines)
        .replace("\nSS<", "\n" + step + step + "<")
        .replace("\nS<", "\n" + step + "<")
        .substring(1);
  }

  private static String value(XmlText.Element element, String name) {
    return element.children(name).stream().findFirst().map(WebXml::text).orElse("");
  }

  private static String text(XmlText.Element element) {
    return element.isOneTag()
        ? ""
        : element.source().text().substring(element.tagTo(), element.contentTo()).strip();
  }
}
