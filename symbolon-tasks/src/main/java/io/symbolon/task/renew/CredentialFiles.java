// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.convert.FileNames;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.x509.Certificate;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * A private key with its certificate, and the files that they are in.
 *
 * @param file the file of both; where they lie apart, that of the certificate
 * @param match the key and what belongs to it
 * @param all every file with one of the two
 * @param alone whether no other key has its certificate in that file
 */
record CredentialFiles(
    Path file,
    FileSurvey keyFile,
    Match match,
    Certificate certificate,
    Set<Path> all,
    boolean alone) {
  /** Every key among files that has a certificate. */
  static List<CredentialFiles> of(Survey survey) {
    List<Match> matches =
        survey.matches().stream()
            .filter(match -> !match.isWaiting() && !match.certificates().isEmpty())
            .toList();
    List<Path> places = matches.stream().map(match -> file(survey, match)).toList();
    List<CredentialFiles> found = new ArrayList<>();
    for (int i = 0; i < places.size(); i++) {
      boolean alone = Collections.frequency(places, places.get(i)) == 1;
      found.add(of(survey, matches.get(i), places.get(i), alone));
    }
    return found;
  }

  /** The file of the key where its certificate is there, too; else that of the certificate. */
  private static Path file(Survey survey, Match match) {
    Path key = match.key().place().file();
    List<Path> files = files(survey, match);
    return files.contains(key) || files.isEmpty() ? key : files.get(0);
  }

  private static List<Path> files(Survey survey, Match match) {
    return survey.certificates().getOrDefault(match.certificates().get(0), List.of()).stream()
        .map(cert -> cert.place().file())
        .toList();
  }

  private static CredentialFiles of(Survey survey, Match match, Path file, boolean alone) {
    Path key = match.key().place().file();
    Set<Path> all = new HashSet<>(files(survey, match));
    match.keys().forEach(one -> all.add(one.place().file()));
    FileSurvey keyFile =
        survey.files().stream().filter(one -> one.path().equals(key)).findFirst().orElseThrow();
    return new CredentialFiles(file, keyFile, match, match.certificates().get(0), all, alone);
  }

  String name() {
    return certificate.subject().shortText();
  }

  /** Whether key and certificate lie in one file. */
  boolean isTogether() {
    return file.equals(keyFile.path());
  }

  /** The files beside it in which the next key and its request wait. */
  Renewed.NextFiles next() {
    String whole = String.valueOf(keyFile.path().getFileName());
    int dot = whole.lastIndexOf('.');
    boolean store = keyFile.format().isStore();
    String ending = store ? (dot > 0 ? whole.substring(dot) : "") : ".key";
    return new Renewed.NextFiles(beside(".csr"), beside(ending));
  }

  /** Under its name and, where it holds several, that of the entry. */
  private Path beside(String ending) {
    String whole = String.valueOf(file.getFileName());
    int dot = whole.lastIndexOf('.');
    String base = dot > 0 ? whole.substring(0, dot) : whole;
    String entry = alone ? "" : "-" + FileNames.safe(match.key().alias().orElse(name()));
    return file.resolveSibling(base + entry + "-next" + ending);
  }
}
