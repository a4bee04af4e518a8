// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.oid.Oid;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Extension;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Where an authority publishes its revocation list and its own certificate; both stand in what it
 * signs (RFC 5280, 4.2.1.13 and 4.2.2.1).
 *
 * @param list where the revocation list is, in DER
 * @param certificate where the authority's certificate is, in DER
 * @param status where it answers whether a certificate is revoked (RFC 6960)
 */
public record Published(Optional<URI> list, Optional<URI> certificate, Optional<URI> status) {
  /** Nothing is published. */
  public static final Published NOTHING =
      new Published(Optional.empty(), Optional.empty(), Optional.empty());

  private static final Oid LIST_POINTS = Oid.of("2.5.29.31");
  private static final int URI_NAME = 6; // the number of a URI among general names

  /**
   * {@return the address of a list, as it is typed}
   *
   * @param text the address: HTTP, since whoever fetches a list can't need one for that
   * @throws SymbolonException if it is none
   */
  public static URI address(String text) {
    try {
      URI url = new URI(text);
      boolean plain = text.chars().allMatch(c -> c > ' ' && c <= '~');
      if (plain && "http".equals(url.getScheme()) && url.getHost() != null) {
        return url;
      }
    } catch (URISyntaxException e) {
      // told below
    }
    throw new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "'" + VisibleText.of(text) + "' can't be the address of a revocation list.",
        "It is not an address that begins with http://. The list is signed, and needs no TLS.",
        "Write it like http://authority.lanternfish.example/revocations.crl.");
  }

  /** The extensions that say it. */
  List<Extension> extensions() {
    List<Extension> all = new ArrayList<>();
    list.ifPresent(
        url ->
            all.add(
                new Extension(
                    LIST_POINTS,
                    false,
                    Der.sequence(Der.sequence(Der.context(0, Der.context(0, name(url))))))));
    List<byte[]> access = new ArrayList<>();
    status.ifPresent(url -> access.add(Der.sequence(Der.oid(Oids.OCSP), name(url))));
    certificate.ifPresent(url -> access.add(Der.sequence(Der.oid(Oids.CA_ISSUERS), name(url))));
    if (!access.isEmpty()) {
      all.add(new Extension(Oids.AUTHORITY_INFO, false, Der.sequence(access)));
    }
    return all;
  }

  private static byte[] name(URI url) {
    return Der.contextPrimitive(URI_NAME, url.toString().getBytes(StandardCharsets.US_ASCII));
  }
}
