// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.request;

import io.symbolon.der.Oids;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.Use;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Input;
import io.symbolon.task.PasswordSource;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.DistinguishedName;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * For whom a certificate is asked, and what for.
 *
 * @param hosts the hosts among its names
 * @param others its other names
 * @param use what it is for
 */
public record RequestContent(
    Optional<DistinguishedName> subject,
    List<HostName> hosts,
    List<GeneralName> others,
    Optional<Use> use) {
  /**
   * What a file has that is asked for again.
   *
   * @param file the file, where one is named
   * @param alias which of several is meant
   * @param unlock the sources of passwords to try on it
   */
  public static Optional<Renewal> like(
      TaskRun run, Optional<Path> file, Optional<String> alias, List<PasswordSource> unlock) {
    return file.map(
        one -> Renewal.of(run.survey(List.of(one), run.unlock(unlock)), alias, Wording.shown(one)));
  }

  /** Refuses a certificate for nobody. */
  public void check() {
    if (subject.isEmpty() && hosts.isEmpty()) {
      throw new WrongJob(
          "No subject and no host is given for the certificate.",
          "Give "
              + Input.HOST.mention("NAME")
              + " for a server, or "
              + Input.SUBJECT.mention("DN")
              + "; symbolon request asks for each part when"
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
        : nobody.with(Oids.CN, host.toString());
  }

  /** The old names, but for the old common name where there is a new one. */
  private static List<GeneralName> kept(RequestDraft old, Optional<DistinguishedName> subject) {
    Optional<String> gone =
        subject.isPresent() ? old.subject().commonName() : Optional.<String>empty();
    return old.withoutForeignNames().names().stream()
        .filter(name -> gone.filter(name.value()::equalsIgnoreCase).isEmpty())
        .toList();
  }
}
