// SPDX-License-Identifier: Apache-2.0
package io.symbolon.configure;

import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.party.Party;
import io.symbolon.server.place.TlsPlace;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.util.List;

/**
 * A place where a server speaks TLS, with what the files hold that it names.
 *
 * @param shown what the server shows there: a credential for each of its keys
 * @param trust whose clients it trusts; nobody where it asks for none
 * @param lists the revocation lists it looks into
 * @param findings what is to be said of the place and its files
 */
public record PlaceReport(
    TlsPlace place,
    List<Party> shown,
    List<Certificate> trust,
    List<RevocationList> lists,
    List<Finding> findings) {
  /** Copies the lists. */
  public PlaceReport {
    shown = List.copyOf(shown);
    trust = List.copyOf(trust);
    lists = List.copyOf(lists);
    findings = List.copyOf(findings);
  }

  /** {@return the credentials that it shows} */
  public List<Credential> credentials() {
    return shown.stream().flatMap(party -> party.credential().stream()).toList();
  }
}
