// SPDX-License-Identifier: Apache-2.0
package io.symbolon.chain;

import io.symbolon.der.Oids;
import io.symbolon.x509.Attribute;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.util.ArrayList;
import java.util.List;

/** The names of a certificate that name constraints are about (RFC 5280, 4.2.1.10). */
final class ConstrainedNames {
  private ConstrainedNames() {}

  /**
   * The alternative names, the subject, and the e-mail addresses in it.
   *
   * @param endEntity whether it is the end of a path: then a common name that looks like a host
   *     counts as one where there is no alternative name, as it does for Java and others
   */
  static List<GeneralName> of(Certificate certificate, boolean endEntity) {
    List<GeneralName> names = new ArrayList<>(certificate.alternativeNames());
    boolean none = names.isEmpty();
    if (!certificate.subject().isEmpty()) {
      names.add(new GeneralName(GeneralName.NameForm.DIRECTORY, certificate.subject().toString()));
    }
    for (Attribute attribute : certificate.subject().attributes()) {
      if (attribute.type().equals(Oids.EMAIL) && none) {
        names.add(new GeneralName(GeneralName.NameForm.EMAIL, attribute.text()));
      }
    }
    if (endEntity && none) {
      certificate
          .subject()
          .commonName()
          .filter(name -> name.matches("([A-Za-z0-9_-]+\\.)+[A-Za-z0-9-]+"))
          .ifPresent(name -> names.add(new GeneralName(GeneralName.NameForm.DNS, name)));
    }
    return names;
  }
}
