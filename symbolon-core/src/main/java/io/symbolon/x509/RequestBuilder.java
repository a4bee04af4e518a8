// SPDX-License-Identifier: Apache-2.0
package io.symbolon.x509;

import io.symbolon.der.Der;
import io.symbolon.der.Oids;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.oid.Oid;
import java.security.PrivateKey;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Builds and signs a certificate signing request (RFC 2986, 4). What is asked for beside the name
 * goes into one extensionRequest attribute (RFC 2985, 5.4.2). Not thread-safe.
 */
public final class RequestBuilder {
  private final DistinguishedName subject;
  private final SubjectPublicKeyInfo publicKey;
  private final Map<Oid, Extension> extensions = new LinkedHashMap<>();

  private RequestBuilder(DistinguishedName subject, SubjectPublicKeyInfo publicKey) {
    this.subject = subject;
    this.publicKey = publicKey;
  }

  /** {@return a request for a subject and its public key} */
  public static RequestBuilder of(DistinguishedName subject, SubjectPublicKeyInfo publicKey) {
    return new RequestBuilder(subject, publicKey);
  }

  /** {@return what the key shall be used for} */
  public RequestBuilder keyUsage(Set<KeyUsage> usages) {
    return add(KeyUsage.toExtension(usages));
  }

  /** {@return the purposes the key shall be used for, such as {@link Oids#SERVER_AUTH}} */
  public RequestBuilder extendedKeyUsage(Collection<Oid> usages) {
    return add(
        new Extension(
            Oids.EXT_KEY_USAGE, false, Der.sequence(usages.stream().map(Der::oid).toList())));
  }

  /** {@return the subject alternative names; none leaves the extension out} */
  public RequestBuilder alternativeNames(Collection<GeneralName> names) {
    return names.isEmpty() ? this : add(GeneralName.toExtension(names, subject.isEmpty()));
  }

  /** {@return any other extension} */
  public RequestBuilder add(Extension extension) {
    extensions.put(extension.oid(), extension);
    return this;
  }

  /**
   * Signs it with the private key of its public key.
   *
   * @return the certificate request
   */
  public CertificateRequest sign(PrivateKey key) {
    SignatureAlgorithm algorithm = SignatureAlgorithm.forKey(key);
    List<byte[]> attributes = new ArrayList<>();
    if (!extensions.isEmpty()) {
      attributes.add(
          Der.sequence(
              Der.oid(Oids.EXTENSION_REQUEST),
              Der.setOf(List.of(Extensions.of(extensions.values()).encoding()))));
    }
    byte[] info =
        Der.sequence(
            Der.integer(0),
            subject.encoding(),
            publicKey.encoding(),
            Der.context(0, attributes.toArray(byte[][]::new)));
    byte[] signature = algorithm.sign(info, key);
    return CertificateRequest.read(Der.sequence(info, algorithm.encoding(), Der.bits(signature)));
  }
}
