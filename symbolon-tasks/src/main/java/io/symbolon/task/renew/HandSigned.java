// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.acme.RenewalWindow;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.file.FileItem;
import io.symbolon.file.FolderWork;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.format.Format;
import io.symbolon.issue.byhand.RenewalByHand;
import io.symbolon.issue.byhand.WaitingKey;
import io.symbolon.key.KeyForm;
import io.symbolon.pem.PemWriter;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Survey;
import io.symbolon.task.TaskRun;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.SealPassword;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Files whose certificates a person's authority signs. Of one that is due, a new key and its
 * request are made beside it; it goes on being used until the reply has come.
 */
final class HandSigned {
  private final TaskRun run;
  private final RenewJob job;
  private final List<Finding> findings;
  private final List<Secret> unlock;

  HandSigned(TaskRun run, RenewJob job, List<Finding> findings) {
    this.run = run;
    this.job = job;
    this.findings = findings;
    this.unlock = run.unlock(job.unlock());
  }

  /** One file that can't be renewed does not stop the others. */
  List<Renewed> run() {
    List<Renewed> all = new ArrayList<>();
    List<Path> readable = new ArrayList<>();
    for (Path file : job.files()) {
      if (Files.exists(file)) {
        readable.add(file);
      } else {
        all.add(nothing(file, "There is no such file."));
      }
    }
    if (readable.isEmpty()) {
      return all;
    }
    Survey survey = run.survey(readable, unlock);
    List<CredentialFiles> credentials = CredentialFiles.of(survey);
    Set<Path> used = new HashSet<>();
    credentials.forEach(one -> used.addAll(one.all()));
    for (FileSurvey file : survey.files()) {
      if (file.failure().isPresent()) {
        all.add(
            failed(
                Wording.shown(file.path()), file.path(), Optional.empty(), file.failure().get()));
      } else if (job.files().contains(file.path())
          && !used.contains(file.path())
          && !isChain(file)) {
        all.add(nothing(file.path(), "It holds no private key with its certificate."));
      }
    }
    credentials.forEach(one -> all.add(held(one)));
    return all;
  }

  /** A chain that is named as well is nothing to be renewed. */
  private static boolean isChain(FileSurvey file) {
    return !file.isEmpty()
        && file.holdings().stream()
            .allMatch(one -> one instanceof Holding.Cert cert && cert.certificate().isAuthority());
  }

  private Renewed nothing(Path file, String seen) {
    return failed(
        Wording.shown(file),
        file,
        Optional.empty(),
        new SymbolonException(
            Reason.NOT_FOUND,
            "There is nothing to renew in " + Wording.shown(file) + ".",
            seen,
            "Name the keystore, or the files of the key and of its certificate."));
  }

  private Renewed failed(
      String name, Path file, Optional<Certificate> certificate, SymbolonException e) {
    findings.add(
        Finding.of(FindingKind.RENEWAL_FAILED, Wording.shown(file), e.inFull(), e.remedy()));
    return new Renewed(
        name,
        file.toString(),
        Renewed.Outcome.FAILED,
        certificate,
        Optional.empty(),
        Optional.empty());
  }

  /** Nobody else prepares the same meanwhile. */
  private Renewed held(CredentialFiles one) {
    Renewed.NextFiles next = one.next();
    try {
      return FolderWork.holding(List.of(next.request(), next.key()), () -> renew(one, next));
    } catch (SymbolonException e) {
      return failed(one.name(), one.file(), Optional.of(one.certificate()), e);
    }
  }

  private Renewed renew(CredentialFiles one, Renewed.NextFiles next) {
    Instant now = run.around().clock().instant();
    Instant due =
        job.within()
            .map(time -> one.certificate().notAfter().minus(Duration.between(now, time.from(now))))
            .orElseGet(() -> RenewalWindow.due(one.certificate(), Optional.empty()));
    if (due.isAfter(now)) {
      return renewed(one, Renewed.Outcome.NOT_DUE, due, Optional.empty());
    }
    List<Path> there =
        Stream.of(next.request(), next.key())
            .filter(path -> Files.exists(path, LinkOption.NOFOLLOW_LINKS))
            .toList();
    there.forEach(path -> RenewalByHand.checkOwner(path, one.file()));
    Optional<Survey> found =
        there.isEmpty() ? Optional.empty() : Optional.of(run.surveyorWithAll().survey(there));
    return switch (RenewalByHand.of(one.certificate(), next.request(), found)) {
      case NOT_BEGUN -> {
        Optional<String> source =
            prepare(one, next, there.isEmpty() ? Existing.KEEP : Existing.REPLACE);
        yield waiting(
            one, Renewed.Outcome.PREPARED, due, next, reply(one, next, source.stream().toList()));
      }
      case WAITS ->
          waiting(one, Renewed.Outcome.WAITING, due, next, reply(one, next, sources(found, next)));
      case ANSWERED ->
          waiting(
              one, Renewed.Outcome.ANSWERED, due, next, answered(one, found.orElseThrow(), next));
    };
  }

  /** Where the passwords of the new key come from that was made before. */
  private static List<String> sources(Optional<Survey> found, Renewed.NextFiles next) {
    return found.stream()
        .flatMap(survey -> survey.files().stream())
        .filter(file -> file.path().equals(next.key()))
        .flatMap(file -> sources(file).stream())
        .toList();
  }

  /** Where the passwords come from that open a file and the keys in it. */
  private static List<String> sources(FileSurvey file) {
    return Stream.concat(
            file.openers().stream(),
            file.holdings().stream()
                .filter(Holding.PrivateKey.class::isInstance)
                .flatMap(one -> ((Holding.PrivateKey) one).opener().stream()))
        .filter(secret -> !secret.isEmpty())
        .map(Secret::source)
        .toList();
  }

  private static Renewed renewed(
      CredentialFiles one, Renewed.Outcome outcome, Instant due, Optional<Renewed.NextFiles> next) {
    return new Renewed(
        one.name(),
        one.file().toString(),
        outcome,
        Optional.of(one.certificate()),
        Optional.of(due),
        next);
  }

  /** Makes them, and tells where the password of the new key can be read again. */
  private Optional<String> prepare(CredentialFiles one, Renewed.NextFiles next, Existing existing) {
    String alias =
        one.match().key().alias().orElseGet(() -> Wording.fileName(one.name(), "server"));
    WaitingKey fresh = WaitingKey.like(one.certificate(), alias, new SecureRandom());
    boolean store = one.keyFile().format().isStore();
    Destination destination =
        new Destination(next.key(), store ? one.keyFile().format() : Format.PEM, false);
    destination.checkPrivate(existing);
    WrittenResult written =
        WrittenResult.write(
            run,
            destination,
            Conversion.of(
                Bundle.of(List.of(fresh.entry(run.around().clock().instant(), store))),
                destination.target(),
                KeyForm.PKCS8,
                destination.shown()),
            existing,
            protection(one, destination),
            List.of(
                new FileItem(
                    next.request(),
                    PemWriter.write("CERTIFICATE REQUEST", fresh.request().encoding()),
                    Privacy.SYSTEM_DEFAULT,
                    existing)));
    written.findings().stream()
        .filter(finding -> !finding.is(FindingKind.NAMES_LEFT_OUT))
        .forEach(findings::add);
    return written.source().filter(source -> !source.equals("empty"));
  }

  /** What is said; otherwise as the key is protected that it takes the place of. */
  private OutputProtection protection(CredentialFiles one, Destination destination) {
    if (job.result().seal().isPresent() || job.result().unsealed()) {
      return OutputProtection.of(run, job.result(), destination, true);
    }
    return opener(one)
        .map(
            secret ->
                OutputProtection.of(
                    new SealPassword(secret, Existing.KEEP),
                    ownKeyPassword(one, secret),
                    Pkcs12Strength.STRONG))
        .orElseGet(
            () ->
                new OutputProtection(
                    KeyForm.PKCS8, Pkcs12Strength.STRONG, Optional.empty(), Optional.empty()));
  }

  /** A server that has two passwords in its settings would not start with one. */
  private static Optional<SealPassword> ownKeyPassword(CredentialFiles one, Secret store) {
    return one.keyFile().format().isStore()
        ? StoreEdit.ownKeyPassword(one.keyFile(), store)
            .map(own -> new SealPassword(own, Existing.KEEP))
        : Optional.empty();
  }

  /** The password of the file; of a keystore that has none, the empty one. */
  private static Optional<Secret> opener(CredentialFiles one) {
    return one.keyFile().format().isStore()
        ? Optional.of(one.keyFile().opener().orElseGet(Secret::empty))
        : one.match().keys().stream()
            .filter(key -> key.place().file().equals(one.keyFile().path()))
            .findFirst()
            .filter(Holding.PrivateKey::encrypted)
            .flatMap(Holding.PrivateKey::opener);
  }

  private Renewed waiting(
      CredentialFiles one,
      Renewed.Outcome outcome,
      Instant due,
      Renewed.NextFiles next,
      Action join) {
    Instant ends = one.certificate().notAfter();
    Instant now = run.around().clock().instant();
    boolean ended = ends.isBefore(now);
    boolean answered = outcome == Renewed.Outcome.ANSWERED;
    findings.add(
        Finding.of(
            FindingKind.RENEWAL_WAITS,
            ended ? Level.PROBLEM : Level.WARNING,
            Wording.shown(one.file()),
            "The certificate of "
                + Wording.name(one.certificate().subject())
                + (ended ? " ended on " : " ends on ")
                + Wording.day(ends)
                + ". "
                + (answered
                    ? "The reply for the new key is in " + Wording.shown(next.key()) + "."
                    : "The request for the new one is "
                        + Wording.shown(next.request())
                        + "; its key waits in "
                        + Wording.shown(next.key())
                        + "."),
            remedy(one, answered, join)));
    return renewed(one, outcome, due, Optional.of(next));
  }

  private static Remedy remedy(CredentialFiles one, boolean answered, Action join) {
    String lead =
        answered
            ? ""
            : "Send the request to whoever signs for "
                + Wording.name(one.certificate().issuer())
                + ". When the reply has come, in whatever file, ";
    if (!one.isTogether()) {
      return Remedy.of(
          lead
              + (answered ? "Give" : "give")
              + " the server both, the new key and the reply: symbolon configure does it in one"
              + " step.");
    }
    return Remedy.of(
        answered ? "Take the new key and its certificate into use." : lead + "take it into use.",
        taking(one, join));
  }

  private static Action reply(CredentialFiles one, Renewed.NextFiles next, List<String> sources) {
    return opening(one, Action.of(Task.JOIN, next.key()).with(Input.REPLY), sources);
  }

  /** The chain was checked when the reply was put beside its key; the root is not in it. */
  private static Action answered(CredentialFiles one, Survey found, Renewed.NextFiles next) {
    boolean bare =
        found.matches().stream()
            .flatMap(match -> match.chain().stream())
            .anyMatch(chain -> !chain.reachesRoot() && !chain.last().isAuthority());
    Action join = opening(one, Action.of(Task.JOIN, next.key()), sources(Optional.of(found), next));
    return bare ? join.with(Input.INCOMPLETE_CHAIN) : join;
  }

  /** The new key's passwords come first; those of the file that it goes into are needed too. */
  private static Action opening(CredentialFiles one, Action join, List<String> sources) {
    List<String> all =
        Stream.of(sources, sources(one.keyFile())).flatMap(List::stream).distinct().toList();
    boolean open = sources.isEmpty() && !one.keyFile().format().isStore();
    return all.isEmpty() || open ? join : join.with(Input.PASSWORD, all.toArray(String[]::new));
  }

  /** What puts the new key with its certificate in the place of the old one. */
  private static Action taking(CredentialFiles one, Action join) {
    Action into = join.with(Input.INTO, one.file().toString()).with(Input.REPLACE);
    if (one.keyFile().format().isStore()) {
      return into;
    }
    List<String> source = join.inputs().getOrDefault(Input.PASSWORD, List.of());
    return source.isEmpty()
        ? into.with(Input.UNSEALED)
        : into.with(Input.SEALED_WITH, source.get(0));
  }
}
