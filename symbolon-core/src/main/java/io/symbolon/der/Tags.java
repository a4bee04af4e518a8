// SPDX-License-Identifier: Apache-2.0
package io.symbolon.der;

/** The identifier octets (X.690, 8.1.2) that the formats read here use. */
public final class Tags {
  /** BOOLEAN. */
  public static final int BOOLEAN = 0x01;

  /** INTEGER. */
  public static final int INTEGER = 0x02;

  /** BIT STRING. */
  public static final int BIT_STRING = 0x03;

  /** OCTET STRING. */
  public static final int OCTET_STRING = 0x04;

  /** NULL. */
  public static final int NULL = 0x05;

  /** OBJECT IDENTIFIER. */
  public static final int OID = 0x06;

  /** ENUMERATED. */
  public static final int ENUMERATED = 0x0A;

  /** UTF8String. */
  public static final int UTF8_STRING = 0x0C;

  /** NumericString. */
  public static final int NUMERIC_STRING = 0x12;

  /** PrintableString. */
  public static final int PRINTABLE_STRING = 0x13;

  /** TeletexString, also called T61String. */
  public static final int TELETEX_STRING = 0x14;

  /** IA5String. */
  public static final int IA5_STRING = 0x16;

  /** UTCTime. */
  public static final int UTC_TIME = 0x17;

  /** GeneralizedTime. */
  public static final int GENERALIZED_TIME = 0x18;

  /** VisibleString. */
  public static final int VISIBLE_STRING = 0x1A;

  /** UniversalString. */
  public static final int UNIVERSAL_STRING = 0x1C;

  /** BMPString. */
  public static final int BMP_STRING = 0x1E;

  /** SEQUENCE, always constructed. */
  public static final int SEQUENCE = 0x30;

  /** SET, always constructed. */
  public static final int SET = 0x31;

  static final int CONSTRUCTED = 0x20;
  private static final int CONTEXT = 0x80;

  private Tags() {}

  /** The context-specific tag {@code [number]}, constructed: explicit tags, implicit structures. */
  public static int context(int number) {
    return CONTEXT | CONSTRUCTED | number;
  }

  /** The context-specific tag {@code [number]}, primitive: implicit strings and integers. */
  public static int contextPrimitive(int number) {
    return CONTEXT | number;
  }

  static boolean isConstructed(int tag) {
    return ((tag > 0xFF ? tag >>> 24 : tag) & CONSTRUCTED) != 0;
  }

  static String name(int tag) {
    return switch (tag) {
      case BOOLEAN -> "BOOLEAN";
      case INTEGER -> "INTEGER";
      case BIT_STRING -> "BIT STRING";
      case OCTET_STRING -> "OCTET STRING";
      case NULL -> "NULL";
      case OID -> "OBJECT IDENTIFIER";
      case UTF8_STRING -> "UTF8String";
      case PRINTABLE_STRING -> "PrintableString";
      case IA5_STRING -> "IA5String";
      case UTC_TIME -> "UTCTime";
      case GENERALIZED_TIME -> "GeneralizedTime";
      case BMP_STRING -> "BMPString";
      case SEQUENCE -> "SEQUENCE";
      case SET -> "SET";
      default ->
          (tag & 0xC0) == CONTEXT && tag <= 0xFF
              ? "[" + (tag & 0x1F) + "]"
              : String.format("tag 0x%02X", tag);
    };
  }
}
