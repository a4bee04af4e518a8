package io.symbolon.store;

import io.symbolon.Limits;
import io.symbolon.SymbolonException;
import io.symbolon.der.Ber;
import io.symbolon.der.Cursor;
import io.symbolon.der.Element;
import io.symbolon.der.Oid;
import io.symbolon.der.Oids;
import io.symbolon.der.Tags;
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
 * @param revocationLists the revocation lists
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
}
