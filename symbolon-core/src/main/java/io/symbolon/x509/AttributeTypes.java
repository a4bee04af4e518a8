// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Oids;
import io.symbolon.oid.Oid;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The short names of attribute types in the text form of names (RFC 4514, 3; RFC 4519). */
public final class AttributeTypes {
  private static final Map<Oid, String> SHORT = new LinkedHashMap<>();
  private static final Map<String, Oid> BY_NAME = new LinkedHashMap<>();

  static {
    put("CN", Oids.CN);
    put("L", Oids.L);
    put("ST", Oids.ST);
    put("O", Oids.O);
    put("OU", Oids.OU);
    put("C", Oids.C);
    put("STREET", Oids.STREET);
    put("DC", Oids.DC);
    put("UID", Oids.UID);
    put("SN", Oids.SURNAME);
    put("serialNumber", Oids.SERIAL_NUMBER);
    put("givenName", Oids.GIVEN_NAME);
    put("title", Oids.TITLE);
    put("emailAddress", Oids.EMAIL);
  }

  private AttributeTypes() {}

  private static void put(String name, Oid oid) {
    SHORT.put(oid, name);
    BY_NAME.put(name.toLowerCase(Locale.ROOT), oid);
  }

  /**
   * {@return the short name of a type, such as {@code OU}}
   *
   * @param oid the object identifier
   */
  public static Optional<String> shortName(Oid oid) {
    return Optional.ofNullable(SHORT.get(oid));
  }

  /** {@return the type of a short name, whatever its case} */
  public static Optional<Oid> byName(String name) {
    return Optional.ofNullable(BY_NAME.get(name.toLowerCase(Locale.ROOT)));
  }

  /** {@return all short names} */
  public static String known() {
    return String.join(", ", SHORT.values());
  }
}
