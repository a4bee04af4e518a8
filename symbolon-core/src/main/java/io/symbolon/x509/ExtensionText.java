// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.text.Hex;
import io.symbolon.text.VisibleText;
import java.math.BigInteger;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * The content of extensions for people: one statement a line. What is not known here, or damaged,
 * comes in hexadecimal, so that nothing is hidden.
 */
public final class ExtensionText {
  private static final int LINE = 32; // octets of hexadecimal in a line

  private static final Map<Oid, Function<Element, List<String>>> READERS =
      Map.ofEntries(
          Map.entry(Oids.BASIC_CONSTRAINTS, ExtensionText::basicConstraints),
          Map.entry(Oids.KEY_USAGE, ExtensionText::keyUsage),
          Map.entry(Oids.EXT_KEY_USAGE, element -> each(element, ExtensionText::name)),
          Map.entry(Oids.SUBJECT_ALT_NAME, ExtensionText::names),
          Map.entry(Oids.ISSUER_ALT_NAME, ExtensionText::names),
          Map.entry(Oids.SUBJECT_KEY_ID, element -> List.of(hex(element.octets()))),
          Map.entry(Oids.AUTHORITY_KEY_ID, ExtensionText::authorityKeyIdentifier),
          Map.entry(Oids.CRL_DISTRIBUTION, ExtensionText::distributionPoints),
          Map.entry(Oids.FRESHEST_CRL, ExtensionText::distributionPoints),
          Map.entry(Oids.AUTHORITY_INFO, ExtensionText::access),
          Map.entry(Oids.SUBJECT_INFO, ExtensionText::access),
          Map.entry(Oids.CERTIFICATE_POLICIES, ExtensionText::policies),
          Map.entry(Oids.NAME_CONSTRAINTS, ExtensionText::nameConstraints),
          Map.entry(Oids.POLICY_CONSTRAINTS, ExtensionText::policyConstraints),
          Map.entry(Oids.POLICY_MAPPINGS, ExtensionText::policyMappings),
          Map.entry(Oids.INHIBIT_ANY_POLICY, ExtensionText::number),
          Map.entry(Oids.CRL_NUMBER, ExtensionText::number),
          Map.entry(Oids.DELTA_CRL, ExtensionText::number),
          Map.entry(Oids.CRL_REASON, ExtensionText::reason),
          Map.entry(Oids.INVALIDITY_DATE, element -> List.of(element.time().toString())),
          Map.entry(Oids.TLS_FEATURE, ExtensionText::tlsFeatures),
          Map.entry(Oids.OCSP_NO_CHECK, element -> List.of("yes")),
          Map.entry(Oids.PRECERTIFICATE, element -> List.of("no certificate to be used")),
          Map.entry(Oids.TIMESTAMP_LIST, ExtensionText::timestamps),
          Map.entry(Oids.NETSCAPE_COMMENT, element -> List.of(element.text())));

  private ExtensionText() {}

  /** {@return the name of an extension, or its identifier where it has none} */
  public static String title(Extension extension) {
    return Oids.nameOrDotted(extension.oid());
  }

  /** {@return what an extension says: safe to be shown on a terminal} */
  public static List<String> values(Extension extension) {
    Function<Element, List<String>> reader = READERS.get(extension.oid());
    if (reader != null) {
      try {
        return reader.apply(Element.read(extension.value())).stream()
            .limit(Limits.EXTENSION_STATEMENTS)
            .map(VisibleText::of)
            .toList();
      } catch (SymbolonException e) {
        List<String> values = new ArrayList<>(List.of("(damaged) " + e.seen()));
        values.addAll(raw(extension.value()));
        return values;
      }
    }
    return raw(extension.value());
  }

  private static List<String> raw(byte[] octets) {
    List<String> lines = new ArrayList<>();
    for (int at = 0; at < octets.length && lines.size() < Limits.EXTENSION_STATEMENTS; at += LINE) {
      lines.add(Hex.of(octets, at, Math.min(at + LINE, octets.length)));
    }
    if (lines.size() == Limits.EXTENSION_STATEMENTS) {
      lines.add("(" + octets.length + " octets in all)");
    }
    return lines.isEmpty() ? List.of("(empty)") : lines;
  }

  private static String hex(byte[] octets) {
    return Hex.of(octets);
  }

  private static List<String> each(Element element, Function<Element, String> one) {
    List<String> all = new ArrayList<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    while (cursor.hasNext() && all.size() < Limits.EXTENSION_STATEMENTS) {
      all.add(one.apply(cursor.next()));
    }
    return all;
  }

  private static String name(Element oid) {
    return Oids.nameOrDotted(oid.oid());
  }

  private static List<String> names(Element element) {
    return each(element, name -> GeneralName.read(name).toString());
  }

  private static List<String> number(Element element) {
    return List.of(element.integer().toString());
  }

  private static List<String> basicConstraints(Element element) {
    BasicConstraints constraints = BasicConstraints.read(element);
    if (!constraints.authority()) {
      return List.of("no authority");
    }
    return List.of(
        constraints.pathLength().isPresent()
            ? "authority, with at most "
                + constraints.pathLength().getAsInt()
                + " intermediates below it"
            : "authority");
  }

  private static List<String> keyUsage(Element element) {
    return List.of(
        String.join(", ", KeyUsage.of(element.namedBits()).stream().map(KeyUsage::title).toList()));
  }

  private static List<String> authorityKeyIdentifier(Element element) {
    List<String> values = new ArrayList<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    cursor.nextIf(Tags.contextPrimitive(0)).ifPresent(id -> values.add(hex(id.content())));
    cursor
        .nextIf(Tags.context(1))
        .ifPresent(names -> values.addAll(generalNames(names, "issuer: ")));
    cursor
        .nextIf(Tags.contextPrimitive(2))
        .ifPresent(serial -> values.add("serial: " + hex(serial.content())));
    return values;
  }

  private static List<String> generalNames(Element names, String lead) {
    List<String> values = new ArrayList<>();
    Cursor cursor = names.cursor();
    while (cursor.hasNext() && values.size() < Limits.EXTENSION_STATEMENTS) {
      values.add(lead + GeneralName.read(cursor.next()));
    }
    return values;
  }

  private static List<String> distributionPoints(Element element) {
    List<String> values = new ArrayList<>();
    Cursor points = element.cursor(Tags.SEQUENCE);
    while (points.hasNext() && values.size() < Limits.EXTENSION_STATEMENTS) {
      Cursor point = points.next().cursor(Tags.SEQUENCE);
      Optional<Element> name = point.nextIf(Tags.context(0));
      if (name.isPresent()) {
        Element choice = name.get().only();
        values.addAll(
            choice.is(Tags.context(0))
                ? generalNames(choice, "")
                : List.of("relative to its issuer: " + hex(choice.encoding())));
      }
      point.nextIf(Tags.contextPrimitive(1)).ifPresent(r -> values.add("for some reasons only"));
      point
          .nextIf(Tags.context(2))
          .ifPresent(issuer -> values.addAll(generalNames(issuer, "signed by: ")));
    }
    return values;
  }

  private static List<String> access(Element element) {
    return each(
        element,
        description -> {
          Cursor cursor = description.cursor(Tags.SEQUENCE);
          return name(cursor.next()) + ": " + GeneralName.read(cursor.next());
        });
  }

  private static List<String> policies(Element element) {
    List<String> values = new ArrayList<>();
    Cursor policies = element.cursor(Tags.SEQUENCE);
    while (policies.hasNext() && values.size() < Limits.EXTENSION_STATEMENTS) {
      Cursor policy = policies.next().cursor(Tags.SEQUENCE);
      values.add(name(policy.next()));
      if (policy.hasNext()) {
        Cursor qualifiers = policy.next().cursor(Tags.SEQUENCE);
        while (qualifiers.hasNext() && values.size() < Limits.EXTENSION_STATEMENTS) {
          Cursor qualifier = qualifiers.next().cursor(Tags.SEQUENCE);
          String kind = name(qualifier.next());
          Element value = qualifier.next();
          values.add("  " + kind + ": " + (value.isText() ? value.text() : texts(value)));
        }
      }
    }
    return values;
  }

  /** The text parts of a user notice, or all of it in hexadecimal. */
  private static String texts(Element value) {
    List<String> texts = new ArrayList<>();
    if (value.isConstructed()) {
      Cursor cursor = value.cursor();
      while (cursor.hasNext()) {
        Element part = cursor.next();
        if (part.isText()) {
          texts.add(part.text());
        }
      }
    }
    return texts.isEmpty() ? hex(value.encoding()) : String.join(" ", texts);
  }

  private static List<String> nameConstraints(Element element) {
    List<String> values = new ArrayList<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    cursor.nextIf(Tags.context(0)).ifPresent(trees -> subtrees(trees, "permitted: ", values));
    cursor.nextIf(Tags.context(1)).ifPresent(trees -> subtrees(trees, "excluded: ", values));
    return values;
  }

  private static void subtrees(Element trees, String lead, List<String> values) {
    Cursor cursor = trees.cursor();
    while (cursor.hasNext() && values.size() < Limits.EXTENSION_STATEMENTS) {
      Element base = cursor.next().cursor(Tags.SEQUENCE).next();
      byte[] content = base.content();
      boolean network = base.is(Tags.contextPrimitive(7)) && content.length % 2 == 0;
      values.add(lead + (network ? "IP " + network(content) : GeneralName.read(base).toString()));
    }
  }

  /** An address and a mask (RFC 5280, 4.2.1.10). */
  private static String network(byte[] content) {
    int half = content.length / 2;
    byte[] mask = java.util.Arrays.copyOfRange(content, half, content.length);
    int ones = new BigInteger(1, mask).bitCount();
    boolean prefix = new BigInteger(1, mask).getLowestSetBit() == 8 * half - ones || ones == 0;
    return IpAddress.text(java.util.Arrays.copyOf(content, half))
        + "/"
        + (prefix ? String.valueOf(ones) : IpAddress.text(mask));
  }

  private static List<String> policyConstraints(Element element) {
    List<String> values = new ArrayList<>();
    Cursor cursor = element.cursor(Tags.SEQUENCE);
    cursor
        .nextIf(Tags.contextPrimitive(0))
        .ifPresent(n -> values.add("policies required after " + n.as(Tags.INTEGER).integer()));
    cursor
        .nextIf(Tags.contextPrimitive(1))
        .ifPresent(n -> values.add("no mapping after " + n.as(Tags.INTEGER).integer()));
    return values;
  }

  private static List<String> policyMappings(Element element) {
    return each(
        element,
        mapping -> {
          Cursor cursor = mapping.cursor(Tags.SEQUENCE);
          return name(cursor.next()) + " is " + name(cursor.next());
        });
  }

  /** RFC 5280, 5.3.1. */
  private static List<String> reason(Element element) {
    byte[] content = element.expect(Tags.ENUMERATED).content();
    int code = content.length == 1 ? content[0] : -1;
    return List.of(
        switch (code) {
          case 0 -> "unspecified";
          case 1 -> "the key was compromised";
          case 2 -> "the authority was compromised";
          case 3 -> "the affiliation changed";
          case 4 -> "superseded";
          case 5 -> "no longer in operation";
          case 6 -> "on hold";
          case 8 -> "removed from the list";
          case 9 -> "the privilege was withdrawn";
          case 10 -> "the attribute authority was compromised";
          default -> "reason " + HexFormat.of().formatHex(content);
        });
  }

  private static List<String> tlsFeatures(Element element) {
    return each(
        element,
        feature -> {
          int number = feature.smallInteger();
          return number == 5 ? "a stapled status is required" : "TLS extension " + number;
        });
  }

  /** The list of RFC 6962, 3.3: lengths in two octets; each entry has a log and a moment. */
  private static List<String> timestamps(Element element) {
    byte[] list = element.octets();
    List<String> values = new ArrayList<>();
    int at = 2;
    while (at + 2 <= list.length && values.size() < Limits.EXTENSION_STATEMENTS) {
      int length = (list[at] & 0xFF) << 8 | (list[at + 1] & 0xFF);
      at += 2;
      if (length < 41 || at + length > list.length) {
        throw SymbolonException.malformed("extension", "A timestamp is cut off.");
      }
      long millis =
          new BigInteger(1, java.util.Arrays.copyOfRange(list, at + 33, at + 41)).longValue();
      values.add("log " + Hex.of(list, at + 1, at + 9) + ", " + Instant.ofEpochMilli(millis));
      at += length;
    }
    return values;
  }
}
