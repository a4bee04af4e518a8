// SPDX-License-Identifier: Apache-2.0
package io.symbolon.lossless;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.SymbolonException;
import java.io.ByteArrayInputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.Random;
import java.util.function.Function;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.w3c.dom.Element;
import org.w3c.dom.NamedNodeMap;
import org.w3c.dom.Node;

/** What is read stays as it is; what is written means what was meant; what is broken is told. */
class LosslessTest {
  private static final String SIGNS = "ab$ \t\"'\\{}();#&<>=é🐟/.";

  private final Random random = new Random(17);

  private static SourceText source(String text) {
    return SourceText.of(Path.of("x.conf"), text.getBytes(StandardCharsets.UTF_8));
  }

  private String value() {
    StringBuilder value = new StringBuilder("v");
    int[] signs = SIGNS.codePoints().toArray();
    for (int i = random.nextInt(12); i > 0; i--) {
      value.appendCodePoint(signs[random.nextInt(signs.length)]);
    }
    return value.toString();
  }

  @Test
  void everyValueIsReadAsItWasWritten() {
    for (int i = 0; i < 5_000; i++) {
      String value = value();
      Directive nginx = NginxText.read(source("name " + NginxText.word(value) + ";")).get(0);
      assertEquals(List.of(value), nginx.values());
      String oneLine = value.replaceAll("[\r\n]", "");
      String httpd = "<Name x>\n \\\n name " + HttpdText.word(oneLine) + " \\\r\n y\n</name>";
      assertEquals(
          List.of(oneLine, "y"), HttpdText.read(source(httpd)).get(0).inside().get(0).values());
      Directive line = LineText.read(source("name = " + LineText.quoted(value) + " # note")).get(0);
      assertEquals(List.of(value), line.values());
      String properties =
          "a " + PropertiesText.value(value) + "\n" + PropertiesText.name(value) + "=1";
      List<DottedText.Named> named = PropertiesText.read(source(properties)).settings();
      assertEquals(List.of(value, "1"), named.stream().map(DottedText.Named::value).toList());
      assertEquals(value, named.get(1).name());
      assertEquals(value, platform(properties).getProperty("a"));
      String yaml =
          "a: {b: " + YamlText.scalar(value) + ", c: d}\ne:\n  - f: " + YamlText.scalar(value);
      assertEquals(
          List.of(value, "d", value),
          YamlText.read(source(yaml)).settings().stream().map(DottedText.Named::value).toList());
      XmlText.Element element = XmlText.read(source("<a b=\"" + XmlText.escaped(value) + "\"/>"));
      assertEquals(value, element.value("b", ""));
    }
  }

  private static Properties platform(String text) {
    Properties properties = new Properties();
    try {
      properties.load(new java.io.StringReader(text));
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
    return properties;
  }

  private static String changed(DottedText document) {
    Edits edits = new Edits(document.source());
    Map<String, String> fresh = new LinkedHashMap<>();
    fresh.put("server.port", "8443");
    fresh.put("server.ssl.bundle", "web");
    fresh.put("spring.ssl.bundle.pem.web.keystore.certificate", "/a b'c");
    Map<String, DottedText.Named> there = new LinkedHashMap<>();
    document.settings().forEach(one -> there.put(one.plainName(), one));
    there.forEach(
        (name, named) -> {
          if (fresh.containsKey(name)) {
            document.replace(edits, named, fresh.remove(name));
          }
        });
    document.change(
        edits,
        document.settings().stream()
            .filter(one -> one.plainName().startsWith("server.ssl.key"))
            .toList(),
        fresh);
    return edits.apply();
  }

  @Test
  void namedSettingsChangeWhereTheyStand() {
    assertEquals(
        """
        # the service
        server:
          port: 8443   # the port
          ssl:
            # what was
            bundle: web

        spring.ssl:
          bundle:
            pem:
              web:
                keystore:
                  certificate: '/a b''c'
        logging: {level: {root: info}}
        ---
        other: 1
        """,
        changed(
            YamlText.read(
                source(
                    """
                    # the service
                    server:
                      port: "8080"   # the port
                      ssl:
                        # what was
                        keyStore: old.p12
                        key-store-password: [a, b]

                    spring.ssl:
                    logging: {level: {root: info}}
                    ---
                    other: 1
                    """))));
    assertEquals(
        """
        server: {port: 8443, ssl: {bundle: web}}
        spring:
          ssl:
            bundle:
              pem:
                web:
                  keystore:
                    certificate: '/a b''c'
        """,
        changed(YamlText.read(source("server: {port: 80, ssl: {key-store: x}}\n"))));
    assertEquals(
        "! old\r\nserver.port : 8443\r\nother = a\\\r\n   b\r\nserver.ssl.bundle=web\r\n"
            + "spring.ssl.bundle.pem.web.keystore.certificate=/a b'c\r\n#---\r\nx=1",
        changed(
            PropertiesText.read(
                source(
                    "! old\r\nserver.port : 80\r\nserver.ssl.key-store = a\\\r\n  c\r\nother = a\\\r\n"
                        + "   b\r\n#---\r\nx=1"))));
    assertEquals("server.port=1\na=b\n", added(PropertiesText.read(source("server.port=1"))));
    assertEquals("# c\na: b\n", added(YamlText.read(source("# c"))));
  }

  @Test
  void whatIsSharedInYamlIsReadAndNotChanged() {
    YamlText text = YamlText.read(source("x: &x {port: 1}\nserver:\n  <<: *x\nother: *x\n"));
    assertEquals(
        List.of("x.port", "server.port"),
        text.settings().stream().map(DottedText.Named::name).toList());
    Edits edits = new Edits(text.source());
    SymbolonException shared =
        assertThrows(
            SymbolonException.class, () -> text.replace(edits, text.settings().get(1), "2"));
    assertTrue(shared.seen().contains("alias"), shared.seen());
    assertThrows(SymbolonException.class, () -> text.change(edits, List.of(), Map.of("x.y", "z")));
    assertTrue(edits.isEmpty());
    String bomb = "a: &a {<<: *a}\n";
    assertThrows(SymbolonException.class, () -> YamlText.read(source(bomb)));
    StringBuilder many = new StringBuilder("a0: &a0 {x: 1}\n");
    for (int i = 1; i < 60; i++) {
      String before = "*a" + (i - 1);
      many.append("a%d: &a%d {<<: %s, <<: %s}\n".formatted(i, i, before, before));
    }
    assertThrows(SymbolonException.class, () -> YamlText.read(source(many.toString())));
  }

  private static String added(DottedText document) {
    Edits edits = new Edits(document.source());
    document.change(edits, List.of(), Map.of("a", "b"));
    return edits.apply();
  }

  @Test
  void octetsStayInEveryEncodingWithEveryLineEnd() {
    String text = "a = 'é'\r\n# ü\r\nb = 2";
    for (Charset charset :
        List.of(StandardCharsets.UTF_8, StandardCharsets.ISO_8859_1, StandardCharsets.UTF_16)) {
      byte[] octets = text.getBytes(charset); // UTF-16 with its mark
      SourceText source = SourceText.of(Path.of("x"), octets);
      assertEquals(text, source.text());
      assertArrayEquals(octets, source.encode(source.text()));
      Edits edits = new Edits(source);
      edits.insert(source.text().length(), "\nc = 3\n");
      assertArrayEquals((text + "\r\nc = 3\r\n").getBytes(charset), edits.octets());
    }
    SourceText latin = SourceText.of(Path.of("x"), "a = 'é'".getBytes(StandardCharsets.ISO_8859_1));
    assertThrows(SymbolonException.class, () -> latin.encode("a = '🐟'"));
  }

  @Test
  void anEditTouchesNothingElse() {
    SourceText source =
        source("server {\n\tlisten 80; # here\n\n\t# last\n}\nserver { listen 81; }\nserver {}\n");
    Edits edits = new Edits(source);
    for (Directive server : NginxText.read(source)) {
      BlockEdit edit = BlockEdit.in(edits, server);
      edit.append("a b;");
      server.inside("listen").forEach(one -> edit.after(one, "c d;"));
      edit.finish();
    }
    assertEquals(
        """
        server {
        \tlisten 80;
        \tc d; # here

        \t# last
        \ta b;
        }
        server { listen 81; c d; a b; }
        server { a b; }
        """,
        edits.apply());
    Edits away = new Edits(source);
    Directive first = NginxText.read(source).get(0);
    BlockEdit.in(away, first).remove(first.inside().get(0));
    assertEquals(source.text().replace("listen 80;", ""), away.apply());
    Edits twice = new Edits(source);
    twice.replace(3, 9, "x");
    assertThrows(IllegalArgumentException.class, () -> twice.replace(5, 6, "y"));
  }

  @Test
  void elementsAreChangedWhereTheyStand() {
    SourceText source =
        source(
            """
            <?xml version='1.0'?>
            <!-- <C port="1"/> -->
            <S>
              <C port='1' name="a>b"/>
              <D>
              </D>
            </S>
            """);
    XmlText.Element root = XmlText.read(source);
    Edits edits = new Edits(source);
    XmlEdit first = new XmlEdit(edits, root.children().get(0));
    first.set("port", "it's");
    first.set("more", "\"");
    first.append("<E/>");
    new XmlEdit(edits, root.children().get(1)).append("<F>\n</F>");
    assertEquals(
        """
        <?xml version='1.0'?>
        <!-- <C port="1"/> -->
        <S>
          <C port='it&apos;s' name="a>b" more="&quot;">
            <E/>
          </C>
          <D>
            <F>
            </F>
          </D>
        </S>
        """,
        edits.apply());
  }

  @Test
  void elementsAreThoseThatThePlatformSees() throws Exception {
    for (int i = 0; i < 300; i++) {
      String text = "<?xml version=\"1.0\"?>\n<!DOCTYPE a [ <!-- > --> ]>" + element(4);
      text = i % 2 == 0 ? text : text.replace("\n", "\r\n");
      XmlText.Element ours = XmlText.read(source(text));
      DocumentBuilderFactory factory = DocumentBuilderFactory.newInstance();
      Element theirs =
          factory
              .newDocumentBuilder()
              .parse(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)))
              .getDocumentElement();
      compare(theirs, ours);
    }
  }

  private String element(int depth) {
    StringBuilder text = new StringBuilder("<a");
    for (int i = random.nextInt(3); i > 0; i--) {
      text.append("\n x").append(i).append(" = \"").append(XmlText.escaped(value())).append('"');
    }
    if (depth == 0) {
      return text.append("/>").toString();
    }
    text.append(">t &lt; <![CDATA[<b>]]><?p <c/> ?><!-- <d e='>'> -->");
    for (int i = random.nextInt(4); i > 0; i--) {
      text.append('\n').append(element(depth - 1));
    }
    return text.append("</a >").toString();
  }

  private static void compare(Element theirs, XmlText.Element ours) {
    assertEquals(theirs.getTagName(), ours.name());
    NamedNodeMap attributes = theirs.getAttributes();
    assertEquals(attributes.getLength(), ours.attributes().size());
    for (XmlText.Attribute one : ours.attributes()) {
      assertEquals(theirs.getAttribute(one.name()), one.value());
    }
    List<Element> children = new ArrayList<>();
    for (Node at = theirs.getFirstChild(); at != null; at = at.getNextSibling()) {
      if (at instanceof Element child) {
        children.add(child);
      }
    }
    assertEquals(children.size(), ours.children().size());
    for (int i = 0; i < children.size(); i++) {
      compare(children.get(i), ours.children().get(i));
    }
  }

  @Test
  void whatIsBrokenIsToldWithLineAndColumn() {
    assertTrue(told(NginxText::read, "a b;\nc {\n").startsWith("Line 2, column 3"));
    assertTrue(told(NginxText::read, "a;\n}\n").startsWith("Line 2, column 1"));
    assertTrue(told(NginxText::read, "a \"b;\n").startsWith("Line 1, column 3"));
    assertTrue(told(HttpdText::read, "a b\n<c d>\ne\n").startsWith("Line 2, column 1"));
    assertTrue(told(HttpdText::read, "<c d>\n</e>\n").startsWith("Line 2, column 1"));
    assertTrue(told(HttpdText::read, "a\n</c>\n").startsWith("Line 2, column 1"));
    assertTrue(told(LineText::read, "a = 1\nb = 'x\n").startsWith("Line 2, column 5"));
    assertTrue(told(LineText::read, "a = 1 2\n").startsWith("Line 1, column 7"));
    assertTrue(told(XmlText::read, "<a>\n<b></a>").startsWith("Line 2"));
  }

  private static String told(Function<SourceText, Object> reader, String text) {
    return assertThrows(SymbolonException.class, () -> reader.apply(source(text))).seen();
  }

  @Test
  void nothingButAClearFailureComesOfDamage() {
    String nginx = "http { server { listen 80; add_header X \"a;b\" always; # }\n } }";
    String httpd = "<If \"a > b\">\n# c \\\n d\n Listen 80 \"x y\"\\\n z\n</If>\n";
    String lines = "a = 'x''y' # note\nb on\ninclude_dir 'conf.d'\n";
    String xml = "<a b='1'><!-- c --><d e=\"&lt;\"/><![CDATA[x]]></a>";
    for (int i = 0; i < 6_000; i++) {
      damaged(NginxText::read, nginx);
      damaged(HttpdText::read, httpd);
      damaged(PropertiesText::read, "a.b = c\\\n d\\u0041\n# x\n!y\ne:f");
      damaged(YamlText::read, "a:\n  b: 'c'\n  d: &x [1, {e: f}]\ng: *x\n---\nh: |\n  i\n");
      damaged(LineText::read, lines);
      damaged(XmlText::read, xml);
    }
    assertThrows(SymbolonException.class, () -> NginxText.read(source("a{".repeat(100_000))));
    assertThrows(SymbolonException.class, () -> HttpdText.read(source("<a>\n".repeat(100_000))));
    assertThrows(SymbolonException.class, () -> XmlText.read(source("<a>".repeat(100_000))));
  }

  private void damaged(Function<SourceText, Object> reader, String text) {
    StringBuilder broken = new StringBuilder(text);
    for (int i = random.nextInt(3); i >= 0 && broken.length() > 0; i--) {
      int at = random.nextInt(broken.length());
      switch (random.nextInt(3)) {
        case 0 -> broken.deleteCharAt(at);
        case 1 -> broken.insert(at, SIGNS.charAt(random.nextInt(SIGNS.length())));
        default -> broken.setLength(at + 1);
      }
    }
    try {
      assertTrue(reader.apply(source(broken.toString())) != null);
    } catch (SymbolonException e) {
      assertTrue(e.seen().startsWith("Line "), e.seen());
    }
  }
}
