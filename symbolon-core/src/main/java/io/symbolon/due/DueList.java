// SPDX-License-Identifier: Apache-2.0
package io.symbolon.due;

import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Gathers what ends, from files, accounts, authorities and running servers: each certificate once,
 * with all of its places. Not thread-safe.
 */
public final class DueList {
  private final Map<Certificate, Set<String>> uses = new LinkedHashMap<>();
  private final Map<Certificate, Remedy> remedies = new LinkedHashMap<>();
  private final Map<Certificate, String> keyFiles = new LinkedHashMap<>();
  private final Map<Certificate, Path> issuers = new LinkedHashMap<>();
  private final Map<RevocationList, Set<String>> lists = new LinkedHashMap<>();
  private final Map<RevocationList, Remedy> listRemedies = new LinkedHashMap<>();

  /** An empty list. */
  public DueList() {}

  /**
   * Adds what files hold.
   *
   * @param survey the files
   */
  public void add(Survey survey) {
    Set<Certificate> withKey = new HashSet<>();
    for (Match match : survey.matches()) {
      withKey.addAll(match.issued());
      match
          .issued()
          .forEach(one -> keyFiles.putIfAbsent(one, match.key().place().file().toString()));
    }
    for (FileSurvey file : survey.files()) {
      for (Holding holding : file.holdings()) {
        if (holding instanceof Holding.Cert one) {
          use(one.certificate(), one.place() + purpose(one, withKey));
        } else if (holding instanceof Holding.Crl one) {
          lists.computeIfAbsent(one.list(), list -> new LinkedHashSet<>()).add(one.place() + "");
        }
      }
    }
  }

  private static String purpose(Holding.Cert holding, Set<Certificate> withKey) {
    if (withKey.contains(holding.certificate())) {
      return ", with its key";
    }
    return holding.certificate().isAuthority() ? ", to be trusted or in a chain" : "";
  }

  private void use(Certificate certificate, String where) {
    uses.computeIfAbsent(certificate, one -> new LinkedHashSet<>()).add(where);
  }

  /**
   * Adds what a running server shows.
   *
   * @param sent the certificates that it sends, its own first
   */
  public void addServer(String address, List<Certificate> sent) {
    for (int i = 0; i < sent.size(); i++) {
      use(
          sent.get(i),
          VisibleText.of(address) + (i == 0 ? ", shown by the running server" : ", in its chain"));
    }
  }

  /**
   * Adds what an account has obtained.
   *
   * @param folder the folder of the account
   * @param place where it lies
   */
  public void addObtained(Path folder, Certificate certificate, String place) {
    use(certificate, VisibleText.of(place) + ", obtained by the account in " + shown(folder));
    remedies.put(
        certificate,
        Remedy.of("Renew it.", Action.of(Task.RENEW).with(Input.ACCOUNT, folder.toString())));
  }

  /**
   * Adds an authority, with what it has issued: of several for the same names, the one that ends
   * last.
   *
   * @param chain its certificate and those above it
   * @param issued what it has issued and not revoked
   * @param list its revocation list
   */
  public void addAuthority(
      Path folder,
      List<Certificate> chain,
      List<Certificate> issued,
      Optional<RevocationList> list) {
    for (int i = 0; i < chain.size(); i++) {
      use(chain.get(i), shown(folder) + (i == 0 ? ", the authority itself" : ", above it"));
    }
    remedies.put(chain.get(0), Remedy.of("Found a new authority in time."));
    Map<String, Certificate> latest = new LinkedHashMap<>();
    for (Certificate one : issued) {
      latest.merge(names(one), one, (a, b) -> a.notAfter().isAfter(b.notAfter()) ? a : b);
    }
    for (Certificate one : latest.values()) {
      use(one, "issued by " + shown(folder));
      issuers.putIfAbsent(one, folder);
    }
    list.ifPresent(
        one -> {
          lists.computeIfAbsent(one, key -> new LinkedHashSet<>()).add(shown(folder));
          listRemedies.put(
              one,
              Remedy.of(
                  "Write it anew, and give it to whoever uses it.",
                  Action.of(Task.RENEW_REVOCATION_LIST).with(Input.AUTHORITY, folder.toString())));
        });
  }

  private static String names(Certificate certificate) {
    List<String> names =
        certificate.alternativeNames().stream().map(GeneralName::toString).sorted().toList();
    return certificate.subject() + " " + names;
  }

  private static String shown(Path path) {
    return VisibleText.of(path.toString());
  }

  /** {@return everything, what ends first first} */
  public List<DueItem> items() {
    List<DueItem> all = new ArrayList<>();
    uses.forEach((certificate, where) -> all.add(item(certificate, where)));
    lists.forEach(
        (list, where) -> list.nextUpdate().ifPresent(ends -> all.add(item(list, ends, where))));
    all.sort(Comparator.comparing(DueItem::ends).thenComparing(DueItem::name));
    return all;
  }

  private DueItem item(Certificate certificate, Set<String> where) {
    boolean authority = certificate.isAuthority();
    return new DueItem(
        authority ? DueItem.Kind.AUTHORITY : DueItem.Kind.CERTIFICATE,
        name(certificate),
        certificate.notAfter(),
        List.copyOf(where),
        Optional.of(certificate),
        Optional.ofNullable(remedies.get(certificate)).orElseGet(() -> remedy(certificate)));
  }

  private Remedy remedy(Certificate certificate) {
    Optional<String> file = Optional.ofNullable(keyFiles.get(certificate));
    Optional<Path> issuer = Optional.ofNullable(issuers.get(certificate));
    if (certificate.isAuthority()) {
      return Remedy.of(
          "Ask whoever runs this authority for its new certificate, and trust it as well.");
    }
    if (issuer.isPresent()) {
      Action issue =
          Action.of(Task.ISSUE).with(Input.AUTHORITY, issuer.get().toString()).with(Input.INTO);
      return Remedy.of(
          "Issue it again, or let whoever has it order it.",
          file.isPresent() ? issue.with(Input.LIKE, file.get()) : issue.with(Input.LIKE));
    }
    return file.isPresent()
        ? Remedy.of(
            "Ask for a new certificate like it.",
            Action.of(Task.REQUEST).with(Input.LIKE, file.get()).with(Input.INTO))
        : Remedy.of("Ask whoever has its key for a new one.");
  }

  private static String name(Certificate certificate) {
    return certificate.isAuthority()
        ? certificate.subject().shortText()
        : certificate.alternativeNames().stream()
            .filter(GeneralName::isHost)
            .findFirst()
            .map(one -> VisibleText.of(one.value()))
            .orElseGet(() -> certificate.subject().shortText());
  }

  private DueItem item(RevocationList list, Instant ends, Set<String> where) {
    return new DueItem(
        DueItem.Kind.REVOCATION_LIST,
        list.issuer().shortText(),
        ends,
        List.copyOf(where),
        Optional.empty(),
        listRemedies.getOrDefault(
            list, Remedy.of("Fetch the new list from the authority, where servers read it.")));
  }
}
