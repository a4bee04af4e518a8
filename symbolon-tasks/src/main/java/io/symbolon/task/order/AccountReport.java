// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.acme.protocol.AccountKey;
import io.symbolon.failure.SymbolonException;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.place.PlacesText;
import io.symbolon.x509.Certificate;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/**
 * An account, as it is.
 *
 * @param address its address at the authority; nothing where that was not asked
 * @param key the key that it has; nothing where it was not opened
 * @param outcome what was done
 */
public record AccountReport(
    AccountFolder folder, Optional<URI> address, Optional<AccountKey> key, Outcome outcome) {
  /** {@return the thumbprint of its key (RFC 7638); empty where it was not opened} */
  public String thumbprint() {
    return key.map(AccountKey::thumbprint).orElse("");
  }

  /** {@return everything that it has obtained or begun to order} */
  public List<Obtained> obtained() {
    return folder.standings().stream()
        .map(
            one ->
                new Obtained(
                    one.name(),
                    StoredRenewal.place(one),
                    one.certificate(),
                    one.order().isPresent(),
                    one.isUnfinished(),
                    servers(one)))
        .toList();
  }

  /**
   * What an account has obtained, or begun to order.
   *
   * @param name its name in the account
   * @param place where it lies
   * @param certificate the certificate that was obtained last
   * @param ordered whether an order of it is not finished
   * @param unfinished whether it was never obtained
   * @param servers the servers that its renewals reach
   */
  public record Obtained(
      String name,
      String place,
      Optional<Certificate> certificate,
      boolean ordered,
      boolean unfinished,
      List<PlacesRecord.Place> servers) {
    /** Copies the list. */
    public Obtained {
      servers = List.copyOf(servers);
    }

    /** One whose renewals reach no server. */
    public Obtained(
        String name,
        String place,
        Optional<Certificate> certificate,
        boolean ordered,
        boolean unfinished) {
      this(name, place, certificate, ordered, unfinished, List.of());
    }
  }

  private List<PlacesRecord.Place> servers(Standing standing) {
    try {
      return folder
          .places(standing)
          .map(PlacesText::read)
          .map(PlacesRecord::places)
          .orElse(List.of());
    } catch (SymbolonException e) {
      return List.of(); // told when it is renewed
    }
  }

  /** What can be done with an account. */
  public enum Outcome {
    /** Nothing was changed. */
    SHOWN,
    /** It has other contacts, or another key. */
    CHANGED,
    /** Nothing more can be ordered with it. */
    GIVEN_UP,
    /** Something of it is not tried any more. */
    FORGOTTEN
  }
}
