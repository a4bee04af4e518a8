// SPDX-License-Identifier: Apache-2.0
package io.symbolon.party;

import io.symbolon.chain.Chain;
import io.symbolon.chain.Credential;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Format;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Place;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.RevocationList;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Makes sides of a handshake out of surveyed files, as Java and web servers would read them. */
public final class PartyFiles {
  private PartyFiles() {}

  /**
   * {@return every private key with the certificates that its side would show}
   *
   * @param survey the surveyed files
   */
  public static List<Party> credentials(Survey survey) {
    List<Party> parties = new ArrayList<>();
    for (Match match : survey.matches()) {
      if (!match.certificates().isEmpty()) {
        Credential credential =
            Credential.of(match.key().key().orElseThrow(), shown(survey, match));
        parties.add(
            Party.of(VisibleText.of(match.name()), place(survey, match), credential)
                .readFrom(files(survey, match.key().place().file(), credential))
                .withPlaces(places(survey, credential))
                .withTraits(traits(survey, match)));
      }
    }
    return parties;
  }

  /** The file of the key and, where they are not in it, one for each certificate. */
  private static List<Path> files(Survey survey, Path key, Credential credential) {
    Set<Path> files = new LinkedHashSet<>(List.of(key));
    for (Certificate certificate : credential.chain()) {
      List<Path> places =
          survey.certificates().getOrDefault(certificate, List.of()).stream()
              .map(cert -> cert.place().file())
              .toList();
      if (places.stream().noneMatch(files::contains)) {
        places.stream().findFirst().ifPresent(files::add);
      }
    }
    return List.copyOf(files);
  }

  /**
   * A keystore shows the chain it holds; of PEM files every certificate is sent that lies in the
   * file of the end-entity's, in the order of the file.
   */
  private static List<Certificate> shown(Survey survey, Match match) {
    Certificate end = match.certificates().get(0);
    Path file = holder(survey, match, end);
    Optional<FileSurvey> holder =
        survey.files().stream().filter(one -> one.path().equals(file)).findFirst();
    boolean store = holder.filter(one -> one.format().isStore()).isPresent();
    List<Certificate> inFile = certificates(holder);
    if (store) {
      Chain chain = survey.chainOf(end);
      return chain.certificates().stream().filter(inFile::contains).toList();
    }
    List<Certificate> shown = new ArrayList<>(inFile); // repetitions, too: they are sent
    shown.remove(end);
    shown.add(0, end);
    if (shown.size() == 1) { // alone in its file: the chain comes from the other files
      shown.addAll(survey.chainOf(end).withoutRoot().stream().skip(1).toList());
    }
    return List.copyOf(shown);
  }

  private static Set<Party.Trait> traits(Survey survey, Match match) {
    Set<Party.Trait> traits = EnumSet.noneOf(Party.Trait.class);
    Certificate end = match.certificates().get(0);
    Path file = holder(survey, match, end);
    Optional<FileSurvey> holder =
        survey.files().stream().filter(one -> one.path().equals(file)).findFirst();
    boolean text = holder.filter(one -> one.format() == Format.PEM).isPresent();
    List<Certificate> inFile = certificates(holder);
    boolean chained =
        inFile.size() > 1 && survey.chainOf(end).certificates().contains(inFile.get(0));
    if (text && chained && !inFile.get(0).equals(end)) {
      traits.add(Party.Trait.OTHER_CERTIFICATE_FIRST);
    }
    if (holder.filter(PartyFiles::isGlued).isPresent()) {
      traits.add(Party.Trait.GLUED_CHAIN);
    }
    boolean keyIsText =
        survey.files().stream()
            .anyMatch(
                one -> one.path().equals(match.key().place().file()) && one.format() == Format.PEM);
    if (keyIsText && match.key().encrypted()) {
      traits.add(Party.Trait.SEALED_KEY);
    }
    boolean own =
        survey.files().stream()
            .filter(one -> one.path().equals(match.key().place().file()) && one.format().isStore())
            .flatMap(one -> one.opener().stream())
            .anyMatch(
                store -> match.key().opener().filter(key -> !key.isSameAs(store)).isPresent());
    if (own) {
      traits.add(Party.Trait.OWN_KEY_PASSWORD);
    }
    return traits;
  }

  /**
   * {@return what is so with files of trust, and matters to servers}
   *
   * @param survey the surveyed files
   */
  public static Set<Party.Trait> trustTraits(Survey survey) {
    return survey.files().stream().anyMatch(PartyFiles::isGlued)
        ? Set.of(Party.Trait.GLUED_TRUST)
        : Set.of();
  }

  /**
   * {@return the revocation lists in files}
   *
   * @param survey the surveyed files
   */
  public static List<RevocationList> lists(Survey survey) {
    return survey.files().stream()
        .flatMap(file -> file.holdings().stream())
        .filter(Holding.Crl.class::isInstance)
        .map(holding -> ((Holding.Crl) holding).list())
        .toList();
  }

  private static boolean isGlued(FileSurvey file) {
    return file.findings().stream().anyMatch(finding -> finding.is(FindingKind.BLOCKS_GLUED));
  }

  private static Map<Certificate, String> places(Survey survey, Credential credential) {
    Map<Certificate, String> places = new HashMap<>();
    for (Certificate certificate : credential.chain().stream().skip(1).toList()) {
      survey.firstPlace(certificate).ifPresent(place -> places.put(certificate, place.toString()));
    }
    return places;
  }

  /** Where the certificate lies that the other side sees: what is said of it is said of there. */
  private static String place(Survey survey, Match match) {
    Certificate end = match.certificates().get(0);
    Path file = holder(survey, match, end);
    return survey.certificates().getOrDefault(end, List.of()).stream()
        .map(Holding.Cert::place)
        .filter(place -> place.file().equals(file))
        .findFirst()
        .orElse(match.key().place())
        .toString();
  }

  private static Path holder(Survey survey, Match match, Certificate end) {
    return survey.certificates().getOrDefault(end, List.of()).stream()
        .map(cert -> cert.place().file())
        .filter(path -> path.equals(match.key().place().file()))
        .findFirst()
        .or(() -> survey.firstPlace(end).map(Place::file))
        .orElseThrow();
  }

  private static List<Certificate> certificates(Optional<FileSurvey> file) {
    return file.stream()
        .flatMap(one -> one.holdings().stream())
        .filter(Holding.Cert.class::isInstance)
        .map(holding -> ((Holding.Cert) holding).certificate())
        .toList();
  }

  /**
   * {@return whom files make a side trust, as Java reads them; nobody, where nothing is marked as
   * trusted}
   *
   * @param survey the surveyed files
   * @param findings takes what is to be said of it, such as a private key in a truststore
   */
  public static List<Certificate> trust(Survey survey, Collection<Finding> findings) {
    Set<Certificate> trusted = new LinkedHashSet<>();
    for (FileSurvey file : survey.files()) {
      trust(survey, file, trusted, findings);
    }
    return List.copyOf(trusted);
  }

  private static void trust(
      Survey survey, FileSurvey file, Set<Certificate> trusted, Collection<Finding> findings) {
    boolean store = file.format().isStore();
    String where = VisibleText.of(file.path().toString());
    int unmarked = 0;
    boolean key = false;
    for (Holding holding : file.holdings()) {
      key |= holding instanceof Holding.PrivateKey;
      if (holding instanceof Holding.Cert cert) {
        if (!store || cert.labels().trusted()) {
          trusted.add(cert.certificate());
        } else {
          unmarked++;
        }
      }
    }
    if (key) {
      // Java trusts the certificate of a key that lies in a truststore.
      survey.matches().stream()
          .filter(
              match -> match.keys().stream().anyMatch(k -> k.place().file().equals(file.path())))
          .flatMap(match -> match.certificates().stream().limit(1))
          .forEach(trusted::add);
      findings.add(
          Finding.of(
              FindingKind.TRUST_HOLDS_KEY,
              where,
              "A private key lies in the trust. Whoever is given the truststore is given the key.",
              Remedy.of(
                  "Make the truststore anew from the certificates alone, and replace the key if others had the"
                      + " file.",
                  Action.of(Task.TRUSTSTORE))));
    } else if (unmarked > 0) {
      findings.add(
          Finding.of(
              FindingKind.NOT_MARKED_AS_TRUSTED,
              where,
              unmarked
                  + " certificates in this PKCS#12 lack the mark of trust: Java reads the file and"
                  + " trusts none of them.",
              Remedy.of(
                  "Make it anew as a truststore.",
                  Action.of(Task.TRUSTSTORE, file.path())
                      .with(Input.INTO, "truststore.p12")
                      .with(Input.NEW_PASSWORD_FILE, "truststore.pass"))));
    }
  }
}
