// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.frame;

import io.symbolon.cli.output.Output;
import io.symbolon.convert.FileNames;
import io.symbolon.failure.SymbolonException;
import io.symbolon.issue.Renewal;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.limit.Limits;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What a certificate is asked for, as options say it.
 *
 * @param subject the subject
 * @param hosts the hosts among its names
 * @param others its other names
 * @param use what it is for
 */
public record DraftOptions(
    Optional<DistinguishedName> subject,
    List<HostName> hosts,
    List<GeneralName> others,
    Optional<Use> use) {
  public static DraftOptions of(GivenOptions given) {
    List<GeneralName> others = new ArrayList<>();
    given.values("email").forEach(email -> others.add(GeneralName.ofEmail(email)));
    given.values("uri").forEach(uri -> others.add(GeneralName.ofUri(uri)));
    return new DraftOptions(given.subject(), given.hosts(), List.copyOf(others), given.use());
  }

  /**
   * What a file has that is asked for again.
   *
   * @param file the file, where one is named
   * @param alias which of several is meant
   * @param unlock the sources of passwords to try on it
   */
  public static Optional<Renewal> like(
      Invocation invocation,
      Optional<Path> file,
      Optional<String> alias,
      List<SecretSource> unlock) {
    return file.map(
        one ->
            Renewal.of(
                invocation.survey(List.of(one), invocation.unlock(unlock)),
                alias,
                Output.shown(one)));
  }

  /** Refuses a certificate for nobody. */
  public void check() {
    if (subject.isEmpty() && hosts.isEmpty()) {
      throw Usage.wrong(
          "No subject and no host is given for the certificate.",
          "Give --host NAME for a server, or --subject DN; symbolon request asks for each part when"
              + " it is given without options at a terminal.");
    }
  }

  /**
   * All of it, and what is not said as in an older one.
   *
   * @param like the older one
   */
  public RequestDraft draft(Optional<RequestDraft> like) {
    if (like.isEmpty()) {
      check();
    }
    List<GeneralName> names = new ArrayList<>();
    hosts.forEach(host -> names.add(GeneralName.ofHost(host.toString())));
    names.addAll(others);
    if (names.isEmpty()) {
      like.ifPresent(old -> names.addAll(kept(old, subject)));
    }
    DistinguishedName whole =
        subject.or(() -> like.map(RequestDraft::subject)).orElseGet(() -> named(hosts.get(0)));
    return RequestDraft.of(
        whole, names, use.or(() -> like.map(RequestDraft::use)).orElse(Use.SERVER));
  }

  /** A host as the common name; one that is too long for it is an alternative name alone. */
  private static DistinguishedName named(HostName host) {
    DistinguishedName nobody = DistinguishedName.parse("");
    return host.toString().length() > Limits.COMMON_NAME
        ? nobody
        : nobody.with(io.symbolon.der.Oids.CN, host.toString());
  }

  /** The old names, but for the old common name where there is a new one. */
  private static List<GeneralName> kept(RequestDraft old, Optional<DistinguishedName> subject) {
    Optional<String> gone =
        subject.isPresent() ? old.subject().commonName() : Optional.<String>empty();
    return old.withoutForeignNames().names().stream()
        .filter(name -> gone.filter(name.value()::equalsIgnoreCase).isEmpty())
        .toList();
  }

  /** The first label of the host, or what the common name leaves. */
  public static String fileName(RequestDraft draft) {
    String name =
        draft
            .subject()
            .commonName()
            .or(() -> draft.names().stream().findFirst().map(GeneralName::value))
            .orElse("request");
    return fileName(typed(name), "request");
  }

  /** The first label of a host; another word where nothing of the name is safe in a file name. */
  public static String fileName(String name, String otherwise) {
    String safe = FileNames.safe(name);
    boolean dotted = safe.contains(".") && !safe.matches("[0-9.]+");
    String first = dotted ? safe.substring(0, safe.indexOf('.')) : safe;
    return first.isEmpty() ? otherwise : first;
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
