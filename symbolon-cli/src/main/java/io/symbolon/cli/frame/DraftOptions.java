// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.convert.FileNames;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What a certificate is asked for, as options say it: subject, names and use. */
public final class DraftOptions {
  private DraftOptions() {}

  public static RequestDraft draft(Invocation invocation, Optional<RequestDraft> like) {
    Optional<Use> said = invocation.use();
    Use use = said.or(() -> like.map(RequestDraft::use)).orElse(Use.SERVER);
    List<HostName> hosts = invocation.hosts();
    Optional<DistinguishedName> subject = invocation.value("subject").map(DistinguishedName::parse);
    if (subject.isEmpty() && like.isEmpty() && hosts.isEmpty()) {
      throw Invocation.usage(
          "No subject and no host is given for the certificate.",
          "Give --host NAME for a server, or --subject DN; symbolon request asks for each part when"
              + " it is given without options at a terminal.");
    }
    List<GeneralName> names = new ArrayList<>(names(invocation, hosts));
    if (names.isEmpty()) {
      like.ifPresent(old -> names.addAll(kept(old, subject)));
    }
    DistinguishedName whole =
        subject
            .or(() -> like.map(RequestDraft::subject))
            .orElseGet(
                () ->
                    DistinguishedName.parse("")
                        .with(io.symbolon.der.Oids.CN, hosts.get(0).toString()));
    return RequestDraft.of(whole, names, use);
  }

  /** The old names, but for the old common name where there is a new one. */
  private static List<GeneralName> kept(RequestDraft old, Optional<DistinguishedName> subject) {
    Optional<String> gone =
        subject.isPresent() ? old.subject().commonName() : Optional.<String>empty();
    return old.withoutForeignNames().names().stream()
        .filter(name -> gone.filter(name.value()::equalsIgnoreCase).isEmpty())
        .toList();
  }

  private static List<GeneralName> names(Invocation invocation, List<HostName> hosts) {
    List<GeneralName> names = new ArrayList<>();
    hosts.forEach(host -> names.add(GeneralName.ofHost(host.toString())));
    invocation.values("email").forEach(email -> names.add(GeneralName.ofEmail(email)));
    invocation.values("uri").forEach(uri -> names.add(GeneralName.ofUri(uri)));
    return names;
  }

  /** The first label of the host, or what the common name leaves. */
  public static String fileName(RequestDraft draft) {
    String name =
        draft
            .subject()
            .commonName()
            .or(() -> draft.names().stream().findFirst().map(GeneralName::value))
            .orElse("request");
    String safe = FileNames.safe(typed(name));
    boolean dotted = safe.contains(".") && !safe.matches("[0-9.]+");
    String first = dotted ? safe.substring(0, safe.indexOf('.')) : safe;
    return first.isEmpty() ? "request" : first;
  }

  /** An international host in its own letters: its encoded form names no file well. */
  private static String typed(String name) {
    try {
      return name.contains("xn--") ? HostName.parse(name).typed() : name;
    } catch (SymbolonException e) {
      return name;
    }
  }
}
