// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.document;

import io.symbolon.text.Hex;
import io.symbolon.x509.ExtensionText;
import io.symbolon.x509.Extensions;
import java.util.List;

/** An extension of a certificate, a request or a revocation list. */
public record ExtensionDocument(
    String oid, String name, boolean critical, String der, List<String> values) {
  /** All of them. */
  public static List<ExtensionDocument> all(Extensions extensions) {
    return extensions.all().stream()
        .map(
            one ->
                new ExtensionDocument(
                    one.oid().toString(),
                    ExtensionText.title(one),
                    one.critical(),
                    Hex.of(one.value()),
                    ExtensionText.values(one)))
        .toList();
  }
}
