// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.der.Oids;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Attribute;
import io.symbolon.x509.AttributeTypes;
import io.symbolon.x509.DistinguishedName;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** What no subject may have, whoever receives it: RFC 5280, A.1 and common sense. */
public final class SubjectCheck {

  /** The upper bounds of RFC 5280, A.1, in characters. */
  private static final Map<Oid, Integer> LONGEST =
      Map.ofEntries(
          Map.entry(Oids.CN, Limits.COMMON_NAME),
          Map.entry(Oids.O, 64),
          Map.entry(Oids.OU, 64),
          Map.entry(Oids.L, 128),
          Map.entry(Oids.ST, 128),
          Map.entry(Oids.SERIAL_NUMBER, 64),
          Map.entry(Oids.TITLE, 64),
          Map.entry(Oids.EMAIL, 255),
          Map.entry(Oids.STREET, 128),
          Map.entry(Oids.DC, 63));

  private static final Set<String> COUNTRIES = Set.copyOf(Arrays.asList(Locale.getISOCountries()));

  private SubjectCheck() {}

  /**
   * {@return what is wrong with a name}
   *
   * @param where what to name in the findings
   */
  public static List<Finding> check(DistinguishedName subject, String where) {
    List<Finding> findings = new ArrayList<>();
    if (subject.parts().size() > Limits.SUBJECT_PARTS) {
      findings.add(
          Finding.of(
              FindingKind.SUBJECT_TOO_LONG,
              where,
              "The subject has " + subject.parts().size() + " parts.",
              "Leave parts out; " + Limits.SUBJECT_PARTS + " are the most."));
      return findings;
    }
    for (List<Attribute> part : subject.parts()) {
      if (part.isEmpty()) {
        findings.add(empty("A part of the subject", where));
      }
      for (Attribute attribute : part) {
        attribute(attribute, where, findings);
      }
    }
    return findings;
  }

  private static void attribute(Attribute attribute, String where, List<Finding> findings) {
    String name = title(attribute.type());
    String value = attribute.text();
    if (!attribute.isText() && AttributeTypes.shortName(attribute.type()).isEmpty()) {
      return; // a type of somebody's own, whose values need not be text
    }
    if (!attribute.isText()) {
      findings.add(
          Finding.of(
              FindingKind.SUBJECT_PART_UNREADABLE,
              where,
              "The " + name + " of the subject is not text.",
              "Write it as text."));
      return;
    }
    if (value.isBlank()) {
      findings.add(empty("The " + name + " of the subject", where));
      return;
    }
    if (value.codePoints().anyMatch(c -> c < 0x20 || (c >= 0x7F && c < 0xA0) || c == 0xFFFD)) {
      findings.add(
          Finding.of(
              FindingKind.SUBJECT_PART_UNPRINTABLE,
              where,
              "The "
                  + name
                  + " of the subject holds a character that can't be seen: "
                  + VisibleText.of(value)
                  + ".",
              "Write it without; programs that stop at such a character would take it for another"
                  + " name."));
      return;
    }
    Integer most = LONGEST.get(attribute.type());
    if (most != null && value.codePointCount(0, value.length()) > most) {
      findings.add(
          Finding.of(
              FindingKind.SUBJECT_PART_TOO_LONG,
              where,
              "The "
                  + name
                  + " of the subject has "
                  + value.codePointCount(0, value.length())
                  + " characters; "
                  + most
                  + " are the most.",
              attribute.type().equals(Oids.CN)
                  ? Remedy.of(
                      "Use a shorter name there, and give the host as an alternative name: clients"
                          + " look for it there alone.",
                      Action.again(Input.HOST))
                  : Remedy.of("Shorten it.")));
    }
    if (attribute.type().equals(Oids.C) && !isCountry(value)) {
      findings.add(country(value, where));
    }
  }

  /** {@return whether a text is a country code of ISO 3166-1, two letters in upper case} */
  public static boolean isCountry(String code) {
    return COUNTRIES.contains(code);
  }

  private static Finding country(String value, String where) {
    String upper = value.toUpperCase(Locale.ROOT);
    String remedy =
        isCountry(upper)
            ? "Write it " + upper + "."
            : upper.equals("UK")
                ? "The code of the United Kingdom is GB."
                : "Use the code of two capital letters, such as IS for Iceland.";
    return Finding.of(
        FindingKind.COUNTRY_UNKNOWN,
        where,
        "'" + VisibleText.of(value) + "' is not a country code of ISO 3166-1.",
        remedy);
  }

  private static Finding empty(String what, String where) {
    return Finding.of(
        FindingKind.SUBJECT_PART_EMPTY, where, what + " is empty.", "Fill it in or leave it out.");
  }

  /** {@return what people call a part of a name, such as {@code common name (CN)}} */
  public static String title(Oid type) {
    String code = AttributeTypes.shortName(type).orElseGet(type::toString);
    String words =
        switch (code) {
          case "CN" -> "common name";
          case "O" -> "organisation";
          case "OU" -> "organisational unit";
          case "L" -> "place";
          case "ST" -> "state or province";
          case "C" -> "country";
          case "UID" -> "user id";
          case "DC" -> "domain component";
          case "STREET" -> "street";
          case "SN" -> "surname";
          case "serialNumber" -> "serial number";
          case "givenName" -> "given name";
          case "emailAddress" -> "e-mail address";
          default -> "";
        };
    return words.isEmpty() ? "part " + code : words + " (" + code + ")";
  }
}
