// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.chain.Chain;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Derives what to do next from what a survey found, with the files at hand filled in. */
final class NextSteps {
  private static final int MOST = 4;
  private final Survey survey;
  private final List<NextStep> steps = new ArrayList<>();

  private NextSteps(Survey survey) {
    this.survey = survey;
  }

  static List<NextStep> of(Survey survey) {
    NextSteps next = new NextSteps(survey);
    next.unlock();
    next.join();
    next.trust();
    return next.steps.size() <= MOST ? List.copyOf(next.steps) : next.steps.subList(0, MOST);
  }

  private void unlock() {
    Set<Path> locked = new LinkedHashSet<>();
    for (FileSurvey file : survey.files()) {
      if (file.failure()
          .map(SymbolonException::reason)
          .filter(r -> r == Reason.LOCKED)
          .isPresent()) {
        locked.add(file.path());
      }
    }
    if (!locked.isEmpty()) {
      Action survey =
          Action.of(Task.SURVEY, locked.stream().limit(5).toList()).with(Input.PASSWORD);
      add(survey, "shows what is locked, once you give the password");
    }
  }

  private void join() {
    for (Match match : survey.matches()) {
      Optional<Chain> chain = match.chain();
      if (chain.isEmpty()
          || chain.get().endEntity().isAuthority() // an authority's key is no server's
          || match.isWaiting()
          || isJoinedAlready(match, chain.get())) {
        continue;
      }
      if (chain.get().uncheckedLinks() > 0) {
        steps.add(
            new NextStep(
                Optional.empty(),
                "Ask the authority whether these are its certificates, or survey them with a Java"
                    + " that can check their signatures."));
      } else if (CertificateVerdict.brokenSignature(survey, chain.get()).isPresent()) {
        steps.add(
            new NextStep(
                Optional.empty(),
                "Get the certificate of "
                    + chain.get().last().subject().shortText()
                    + " again from its authority, and survey the files again."));
      } else if (!chain.get().reachesRoot()) {
        steps.add(
            new NextStep(
                Optional.empty(),
                "Get the certificate of "
                    + chain.get().last().issuer()
                    + " from the authority, add it to these files, and survey them again."));
      } else {
        steps.add(step(match, chain.get()));
      }
    }
  }

  /** A key that waits in one keystore and nowhere else gets its certificate there. */
  private NextStep step(Match match, Chain chain) {
    boolean waits =
        match.keys().size() == 1
            && match.key().alias().isPresent()
            && match.certificates().stream().anyMatch(Certificate::isSelfSigned)
            && !chain.endEntity().isSelfSigned();
    if (!waits) {
      String base = baseName(chain.endEntity());
      return new NextStep(
          Optional.of(
              joining(match, chain)
                  .with(Input.INTO, base + ".p12")
                  .with(Input.NEW_PASSWORD_FILE, base + ".pass")),
          "makes the keystore of the server");
    }
    return new NextStep(
        Optional.of(joining(match, chain).with(Input.REPLACE)),
        "gives the key that waits in the keystore its certificate");
  }

  /** Whether a keystore holds the key with all of its chain but, at the most, the root. */
  private boolean isJoinedAlready(Match match, Chain chain) {
    if (!chain.reachesRoot() && !chain.last().isAuthority()) {
      return false;
    }
    return match.keys().stream()
        .filter(key -> key.alias().isPresent())
        .map(key -> key.place().file())
        .anyMatch(
            store ->
                chain.withoutRoot().stream()
                    .allMatch(
                        link ->
                            survey.certificates().getOrDefault(link, List.of()).stream()
                                .anyMatch(place -> place.place().file().equals(store))));
  }

  private void add(Action action, String why) {
    steps.add(new NextStep(Optional.of(action), why));
  }

  private Action joining(Match match, Chain chain) {
    Set<Path> files = new LinkedHashSet<>();
    files.add(match.key().place().file());
    chain.certificates().forEach(certificate -> addFile(files, certificate));
    Action action = Action.of(Task.JOIN, files);
    long keys =
        survey.matches().stream()
            .filter(m -> m.keys().stream().anyMatch(k -> files.contains(k.place().file())))
            .count();
    return unlocking(keys > 1 ? action.with(Input.ALIAS, match.name()) : action, files);
  }

  private void addFile(Set<Path> files, Certificate certificate) {
    List<Holding.Cert> places = survey.certificates().getOrDefault(certificate, List.of());
    if (places.stream().noneMatch(place -> files.contains(place.place().file()))) {
      places.stream().findFirst().ifPresent(place -> files.add(place.place().file()));
    }
  }

  /** With the passwords that opened these files. */
  private Action unlocking(Action action, Set<Path> files) {
    String[] sources =
        survey.files().stream()
            .filter(file -> files.contains(file.path()))
            .flatMap(file -> file.openers().stream())
            .filter(secret -> !secret.isEmpty())
            .map(Secret::source)
            .distinct()
            .toArray(String[]::new);
    return sources.length == 0 ? action : action.with(Input.PASSWORD, sources);
  }

  private void trust() {
    List<Certificate> authorities =
        survey.certificates().keySet().stream().filter(Certificate::isAuthority).toList();
    boolean isTruststoreAlready =
        survey.files().size() == 1
            && survey.files().get(0).format().isStore()
            && survey.matches().isEmpty();
    if (authorities.isEmpty() || isTruststoreAlready || authorities.size() > 20) {
      return;
    }
    Set<Path> files = new LinkedHashSet<>();
    authorities.forEach(certificate -> addFile(files, certificate));
    add(
        unlocking(Action.of(Task.TRUSTSTORE, files), files)
            .with(Input.INTO, "truststore.p12")
            .with(Input.NEW_PASSWORD_FILE, "truststore.pass"),
        "makes the truststore of its clients");
  }

  /** A file name after the host or the common name: lower case, nothing a path could be made of. */
  static String baseName(Certificate certificate) {
    String name =
        certificate.alternativeNames().stream()
            .filter(GeneralName::isHost)
            .map(GeneralName::value)
            .findFirst()
            .or(() -> certificate.subject().commonName())
            .orElse("server");
    String safe =
        name.toLowerCase(Locale.ROOT).replace("*", "wildcard").replaceAll("[^a-z0-9.-]+", "-");
    safe = safe.replaceAll("^[.-]+|[.-]+$", "");
    String first =
        safe.contains(".") && !safe.matches("[0-9.]+")
            ? safe.substring(0, safe.indexOf('.'))
            : safe;
    return first.isEmpty() ? "server" : first.substring(0, Math.min(40, first.length()));
  }
}
