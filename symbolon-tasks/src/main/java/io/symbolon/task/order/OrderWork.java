// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.order;

import io.symbolon.acme.Ordering;
import io.symbolon.acme.folder.FolderOrdering;
import io.symbolon.acme.folder.FolderOrdering.Obtained;
import io.symbolon.acme.folder.Standing;
import io.symbolon.chain.Credential;
import io.symbolon.configure.NewFiles;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.StoreEdit;
import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import io.symbolon.issue.byhand.Renewal;
import io.symbolon.key.KeyKind;
import io.symbolon.party.PartyFiles;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.Server;
import io.symbolon.server.machine.Machine;
import io.symbolon.survey.Survey;
import io.symbolon.task.TaskRun;
import io.symbolon.task.WrongJob;
import io.symbolon.task.place.OwnPrograms;
import io.symbolon.task.place.PlacesText;
import io.symbolon.task.renewal.RenewalJob;
import io.symbolon.task.renewal.RenewalText;
import io.symbolon.task.request.RequestContent;
import io.symbolon.task.result.Destination;
import io.symbolon.task.result.OutputProtection;
import io.symbolon.task.result.ResultOptions;
import io.symbolon.task.result.WrittenResult;
import io.symbolon.task.words.Wording;
import io.symbolon.x509.Certificate;
import io.symbolon.x509.GeneralName;
import io.symbolon.x509.HostName;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** One certificate: ordered, written where it belongs, and its server told. */
public final class OrderWork {
  private static final KeyKind USUAL_KEY = KeyKind.EC_P256;

  private final TaskRun run;
  private final OrderAccount account;
  private final OrderJob job;
  private final Ordering.Progress progress;

  /**
   * Of an open account.
   *
   * @param run what it is done in
   * @param job what is ordered, with its hosts
   */
  public OrderWork(TaskRun run, OrderAccount account, OrderJob job) {
    this.run = run;
    this.account = account;
    this.job = job;
    this.progress = run.around().orderProgress();
  }

  /** A job whose hosts are known: those that are said, or those of a file. */
  static OrderJob complete(TaskRun run, OrderJob job) {
    Optional<Renewal> like =
        RequestContent.like(run, job.like(), job.alias(), job.account().unlock());
    if (like.isEmpty()) {
      return job;
    }
    List<HostName> hosts = job.hosts();
    if (hosts.isEmpty()) {
      hosts =
          like.get().draft().names().stream()
              .filter(GeneralName::isHost)
              .map(name -> HostName.parse(name.value()))
              .toList();
    }
    if (hosts.isEmpty()) {
      throw new WrongJob(
          "The file of " + Input.LIKE.mention() + " names no host.",
          "Name each host with " + Input.HOST.mention("NAME") + ".");
    }
    return job.with(hosts, like.get().kind());
  }

  /** How the certificate that goes to this place stood; a new one where none did. */
  Standing standing() {
    RenewalJob wanted = StoredRenewal.of(job);
    for (Standing one : account.folder().standings()) {
      boolean same =
          StoredRenewal.of(one)
              .filter(stored -> stored.path().equals(wanted.path()))
              .filter(stored -> stored.hosts().get(0).equals(wanted.hosts().get(0)))
              .isPresent();
      if (same) {
        return one.with(RenewalText.write(wanted));
      }
    }
    return Standing.begun(
        account.folder().freeName(wanted.hosts().get(0).toString()), RenewalText.write(wanted));
  }

  /** What went to the same place under another host's name is not renewed any more. */
  private void forgetOthers(Standing standing) {
    String into = StoredRenewal.place(standing);
    for (Standing one : account.folder().standings()) {
      if (into.equals(StoredRenewal.place(one)) && !one.name().equals(standing.name())) {
        boolean unused = account.folder().forget(one.name());
      }
    }
  }

  /**
   * Orders and writes.
   *
   * @param standing how the certificate stood until now
   * @return what was obtained
   */
  public OrderReport run(Standing standing) {
    return run(standing, false);
  }

  /**
   * The same.
   *
   * @param told whether the administrator's own programs are started as well
   */
  OrderReport run(Standing standing, boolean told) {
    Target target = target(standing);
    FolderOrdering ordering =
        new FolderOrdering(
            account.folder(),
            account.remote(),
            account.seal(),
            job.proofs().proofs(run.around().clock()),
            progress,
            new SecureRandom());
    Obtained obtained =
        ordering.obtain(standing, job.hosts(), job.kind().orElse(USUAL_KEY), job.root());
    Credential credential = Credential.ofPair(obtained.pair(), obtained.chain());
    StoreEntry.KeyEntry entry =
        new StoreEntry.KeyEntry(target.alias(), credential.key(), credential.chain());
    Conversion conversion =
        target.edit().isPresent()
            ? target.edit().get().renewed(entry)
            : Conversion.of(
                Bundle.of(List.of(entry)),
                target.destination().target(),
                target.result().keyForm(),
                target.destination().shown());
    WrittenResult result =
        WrittenResult.write(
            run,
            target.destination(),
            conversion,
            target.result().existing(),
            target.guard(),
            List.of());
    ordering.finished(standing, obtained);
    forgetOthers(standing);
    Optional<NewFiles> reload =
        job.server()
            .filter(one -> !isGivenIt(standing, one)) // its place is looked after by itself
            .map(
                one ->
                    NewFiles.taken(
                        one,
                        Machine.here(),
                        job.home(),
                        result.files().stream().map(WrittenResult.WrittenFile::path).toList()));
    List<Finding> findings = new ArrayList<>(result.findings());
    reload.flatMap(NewFiles::finding).ifPresent(findings::add);
    OwnPrograms programs = new OwnPrograms(account.folder(), standing);
    job.then().forEach(programs::add);
    if (told) {
      programs
          .run(obtained.chain().get(0), job.hosts().get(0).typed(), whole(job.destination().path()))
          .forEach(one -> one.failure().ifPresent(findings::add));
    }
    Optional<ShownBy> shown =
        job.shownBy()
            .flatMap(
                one ->
                    new ShowingServer(
                            run,
                            one,
                            job.destination().path(),
                            job.result().seal().map(StoredRenewal::source))
                        .given(findings));
    return new OrderReport(
        job, account, obtained.chain(), target.alias(), result, reload, findings, shown);
  }

  private static Path whole(Path path) {
    return Path.of(StoredRenewal.whole(path));
  }

  /** Whether configure has given the certificate to the server: its renewals reach it. */
  private boolean isGivenIt(Standing standing, Server server) {
    return account
        .folder()
        .places(standing)
        .map(PlacesText::read)
        .filter(all -> all.places().stream().anyMatch(one -> one.server().equals(server.name())))
        .isPresent();
  }

  /** Where it will be written, with every password known before the authority is asked. */
  private record Target(
      ResultOptions result,
      Destination destination,
      String alias,
      Optional<StoreEdit> edit,
      OutputProtection guard) {}

  private Target target(Standing standing) {
    Destination destination = job.destination();
    Path path = destination.path();
    String alias =
        job.alias().orElseGet(() -> Wording.fileName(job.hosts().get(0).typed(), "server"));
    boolean there = Files.exists(path) && !destination.folder();
    if (there && destination.target().isStore()) {
      List<Secret> unlock = run.unlock(job.unlock());
      StoreEdit edit = StoreEdit.open(path, run.surveyor(unlock));
      ResultOptions replacing = job.result().replacing();
      Destination same =
          new Destination(path, edit.target(), false)
              .ownedBy(job.result().owner())
              .expecting(edit.snapshot());
      return new Target(
          replacing,
          same,
          alias,
          Optional.of(edit),
          OutputProtection.of(run, replacing, same, edit));
    }
    ResultOptions writing = isOurs(standing) ? job.result().replacing() : job.result();
    destination.checkPrivate(writing.existing());
    return new Target(
        writing,
        destination,
        alias,
        Optional.empty(),
        OutputProtection.of(run, writing, destination, true));
  }

  /** Whether what lies there is what was obtained last for it: then it may be replaced. */
  private boolean isOurs(Standing standing) {
    Path path = job.destination().path();
    List<Certificate> last =
        account.folder().standings().stream()
            .filter(one -> StoredRenewal.place(one).equals(StoredRenewal.place(standing)))
            .flatMap(one -> one.certificate().stream())
            .toList();
    if (last.isEmpty() || !Files.exists(path)) {
      return false;
    }
    Survey there = run.survey(List.of(path), run.unlock(job.unlock()));
    List<Certificate> trusted = PartyFiles.trust(there, new ArrayList<>());
    return last.stream()
        .anyMatch(one -> there.certificates().containsKey(one) || trusted.contains(one));
  }
}
