// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import java.util.ArrayList;
import java.util.List;

/**
 * What a DER value is, told from the types of its first parts alone. Each structure known here
 * differs from all others in them, so no label and no file name is needed.
 */
enum Structure {
  CERTIFICATE,
  REQUEST,
  REVOCATION_LIST,
  PKCS8,
  ENCRYPTED_PKCS8,
  PKCS1,
  SEC1,
  DSA,
  PUBLIC_KEY,
  RSA_PUBLIC_KEY,
  PKCS7,
  PKCS12,
  UNKNOWN;

  private static final int PARTS = 10; // no structure needs more to be told

  static Structure of(Element element) {
    if (!element.is(Tags.SEQUENCE)) {
      return UNKNOWN;
    }
    try {
      List<Element> parts = parts(element);
      if (parts.size() < 2) {
        return UNKNOWN;
      }
      return switch (parts.get(0).tag()) {
        case Tags.INTEGER -> startingWithNumber(parts);
        case Tags.SEQUENCE -> startingWithSequence(parts);
        case Tags.OID ->
            parts.get(1).is(Tags.context(0)) && isPkcs7(parts.get(0).oid()) ? PKCS7 : UNKNOWN;
        default -> UNKNOWN;
      };
    } catch (SymbolonException e) {
      return UNKNOWN;
    }
  }

  private static boolean isPkcs7(Oid type) {
    return type.equals(Oids.SIGNED_DATA)
        || type.equals(Oids.ENVELOPED_DATA)
        || type.equals(Oids.DATA)
        || type.equals(Oids.ENCRYPTED_DATA);
  }

  private static List<Element> parts(Element element) {
    List<Element> parts = new ArrayList<>();
    Cursor cursor = element.cursor();
    while (cursor.hasNext() && parts.size() < PARTS) {
      parts.add(cursor.next());
    }
    return parts;
  }

  private static Structure startingWithNumber(List<Element> parts) {
    Element second = parts.get(1);
    if (second.is(Tags.OCTET_STRING)) {
      return SEC1;
    }
    if (second.is(Tags.SEQUENCE) && parts.size() > 2 && parts.get(2).is(Tags.OCTET_STRING)) {
      return PKCS8;
    }
    if (second.is(Tags.SEQUENCE) && second.cursor().next().is(Tags.OID)) {
      return PKCS12;
    }
    if (parts.stream().limit(9).allMatch(part -> part.is(Tags.INTEGER))) {
      return switch (parts.size()) {
        case 9, 10 -> PKCS1;
        case 6 -> DSA;
        case 2 -> RSA_PUBLIC_KEY;
        default -> UNKNOWN;
      };
    }
    return UNKNOWN;
  }

  private static Structure startingWithSequence(List<Element> parts) {
    Element first = parts.get(0);
    if (parts.size() == 2) {
      boolean algorithm = first.cursor().next().is(Tags.OID);
      return algorithm && parts.get(1).is(Tags.BIT_STRING)
          ? PUBLIC_KEY
          : algorithm && parts.get(1).is(Tags.OCTET_STRING) ? ENCRYPTED_PKCS8 : UNKNOWN;
    }
    if (parts.size() != 3 || !parts.get(1).is(Tags.SEQUENCE) || !parts.get(2).is(Tags.BIT_STRING)) {
      return UNKNOWN;
    }
    return signed(parts(first));
  }

  /** Certificate, request and revocation list are all SIGNED: what is signed tells them apart. */
  private static Structure signed(List<Element> fields) {
    if (fields.isEmpty()) {
      return UNKNOWN;
    }
    if (fields.get(0).is(Tags.context(0))) {
      return CERTIFICATE;
    }
    if (fields.size() >= 6
        && fields.get(0).is(Tags.INTEGER)
        && fields.get(3).is(Tags.SEQUENCE)
        && fields.get(5).is(Tags.SEQUENCE)) {
      return CERTIFICATE; // version 1 leaves its number out
    }
    boolean numbered = fields.get(0).is(Tags.INTEGER);
    int at = numbered ? 3 : 2;
    if (fields.size() > at && isTime(fields.get(at))) {
      return REVOCATION_LIST;
    }
    boolean attributes = fields.size() < 4 || fields.get(3).is(Tags.context(0));
    return numbered && fields.size() >= 3 && attributes ? REQUEST : UNKNOWN;
  }

  private static boolean isTime(Element element) {
    return element.is(Tags.UTC_TIME) || element.is(Tags.GENERALIZED_TIME);
  }
}
