// SPDX-License-Identifier: Apache-2.0
package io.symbolon.store;

import io.symbolon.der.Ber;
import io.symbolon.der.Cursor;
import io.symbolon.der.Der;
import io.symbolon.der.Element;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.oid.Oid;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A PKCS#7 bundle: SignedData (RFC 2315, 9.1; RFC 5652, 5.1) used for the certificates and
 * revocation lists in it. Its signature, if it has one, is not looked at.
 *
 * @param certificates the certificates, in the order of the file
 */
public record Pkcs7(List<Certificate> certificates, List<RevocationList> revocationLists) {
  /** Copies the lists. */
  public Pkcs7 {
    certificates = List.copyOf(certificates);
    revocationLists = List.copyOf(revocationLists);
  }

  /**
   * Reads a bundle, in DER or BER.
   *
   * @throws SymbolonException if it is none
   */
  public static Pkcs7 read(byte[] bytes) {
    Element element;
    try {
      element = Element.read(bytes);
    } catch (SymbolonException notDer) {
      element = Element.read(Ber.toDefinite(bytes));
    }
    Cursor contentInfo = element.cursor(Tags.SEQUENCE);
    Oid type = contentInfo.next().oid();
    if (!type.equals(Oids.SIGNED_DATA)) {
      throw SymbolonException.malformed(
          "PKCS#7 bundle", "It holds " + Oids.nameOrDotted(type) + " instead of certificates.");
    }
    Cursor signedData = contentInfo.next().only().cursor(Tags.SEQUENCE);
    signedData.next().smallInteger();
    signedData.next(Tags.SET);
    signedData.next(Tags.SEQUENCE);
    List<Certificate> certificates = new ArrayList<>();
    Optional<Element> certificateSet = signedData.nextIf(Tags.context(0));
    if (certificateSet.isPresent()) {
      Cursor cursor = certificateSet.get().cursor();
      while (cursor.hasNext() && certificates.size() < Limits.HOLDINGS_PER_FILE) {
        certificates.add(Certificate.readWhole(cursor.next().encoding()));
      }
    }
    List<RevocationList> lists = new ArrayList<>();
    Optional<Element> listSet = signedData.nextIf(Tags.context(1));
    if (listSet.isPresent()) {
      Cursor cursor = listSet.get().cursor();
      while (cursor.hasNext() && lists.size() < Limits.HOLDINGS_PER_FILE) {
        lists.add(RevocationList.read(cursor.next().encoding()));
      }
    }
    return new Pkcs7(certificates, lists);
  }

  /**
   * Writes a bundle: SignedData without a signature (RFC 5652, 5.1; the degenerate case of its
   * section 5). All is DER but the order of the certificates, which stays as it is: an end-entity's
   * comes first, as readers that take the first one expect.
   */
  public byte[] encoding() {
    List<byte[]> parts = new ArrayList<>();
    parts.add(Der.integer(1));
    parts.add(Der.setOf(List.of()));
    parts.add(Der.sequence(Der.oid(Oids.DATA)));
    if (!certificates.isEmpty()) {
      parts.add(
          Der.context(0, certificates.stream().map(Certificate::encoding).toArray(byte[][]::new)));
    }
    if (!revocationLists.isEmpty()) {
      parts.add(
          Der.context(
              1, revocationLists.stream().map(RevocationList::encoding).toArray(byte[][]::new)));
    }
    parts.add(Der.setOf(List.of()));
    return Der.sequence(Der.oid(Oids.SIGNED_DATA), Der.context(0, Der.sequence(parts)));
  }
}
