// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.renew;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.acme.folder.Standing;
import io.symbolon.chain.Credential;
import io.symbolon.configure.PlaceReport;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FileSet;
import io.symbolon.file.WrittenItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Naming;
import io.symbolon.server.Server;
import io.symbolon.server.Servers;
import io.symbolon.task.TaskRun;
import io.symbolon.task.configure.ChangeReport;
import io.symbolon.task.configure.ConfigureJob;
import io.symbolon.task.configure.PlannedChange;
import io.symbolon.task.configure.RecordedPlace;
import io.symbolon.task.place.PlacesRecord;
import io.symbolon.task.place.PlacesText;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The servers that {@code configure} has given a certificate of an account: each is given the one
 * that counts now, as {@code configure} would, and is seen to show it.
 */
final class ServedPlaces {
  private final TaskRun run;
  private final AccountFolder account;
  private final Standing standing;
  private final List<Finding> findings;

  ServedPlaces(TaskRun run, AccountFolder account, Standing standing, List<Finding> findings) {
    this.run = run;
    this.account = account;
    this.standing = standing;
    this.findings = findings;
  }

  /**
   * Looks at each of them, and changes those that do not show it. One that fails does not stop the
   * others.
   *
   * @param wanted the certificate that they are to show
   */
  List<RenewedAt> renew(Certificate wanted) {
    Optional<PlacesRecord> stored = account.places(standing).map(PlacesText::read);
    if (stored.isEmpty()) {
      return List.of();
    }
    List<RenewedAt> all = new ArrayList<>();
    List<PlacesRecord.Place> places = new ArrayList<>();
    for (PlacesRecord.Place place : stored.get().places()) {
      Done done = at(place, wanted);
      places.add(done.place());
      all.add(
          new RenewedAt(
              Servers.named(place.server()).map(Server::title).orElse(place.server()),
              place.site(),
              place.home(),
              done.state()));
    }
    if (!places.equals(stored.get().places())) {
      String json = PlacesText.write(stored.get().with(places));
      List<WrittenItem> unused =
          FileSet.write(List.of(account.placesItem(standing, json).withoutUndo()));
    }
    return all;
  }

  private record Done(PlacesRecord.Place place, RenewedAt.State state) {}

  private Done at(PlacesRecord.Place place, Certificate wanted) {
    try {
      RecordedPlace recorded = RecordedPlace.of(place);
      Optional<PlaceReport> there = recorded.read(run);
      Set<String> shows = there.map(RecordedPlace::leaves).orElse(Set.of());
      boolean has = shows.contains(wanted.sha256());
      if (!has && !shows.isEmpty() && shows.stream().noneMatch(place.shown()::contains)) {
        return new Done(place, changed(place));
      }
      Optional<Certificate> running =
          there.filter(one -> has).flatMap(one -> recorded.running(run, one));
      if (running.filter(one -> shows.contains(one.sha256())).isPresent()) {
        return new Done(place.showing(List.copyOf(shows)), RenewedAt.State.SHOWN);
      }
      return given(place, recorded.job());
    } catch (SymbolonException e) {
      return new Done(place, notShown(place, e.inFull(), e.remedy().advice(Naming.MARKS)));
    }
  }

  private Done given(PlacesRecord.Place place, ConfigureJob job) {
    try (PlannedChange planned = job.plan(run)) {
      ChangeReport report = planned.apply(true);
      List<String> leaves =
          planned.change().place().credentials().stream()
              .map(Credential::certificate)
              .map(Certificate::sha256)
              .toList();
      boolean written =
          report.result().isPresent() && !report.isPutBack() && !report.change().isRefused();
      PlacesRecord.Place now = written ? place.showing(leaves) : place;
      if (written && !report.isUnseen()) {
        return new Done(now, RenewedAt.State.GIVEN);
      }
      Optional<Finding> why =
          report.findings().stream().min(java.util.Comparator.comparing(Finding::level));
      return new Done(
          now,
          notShown(
              place,
              (written ? "It has the new files. " : "It was left as it was. ")
                  + why.map(one -> one.statement(Naming.MARKS)).orElse(""),
              why.map(one -> one.remedy().advice(Naming.MARKS)).orElse("Look at its log.")));
    }
  }

  private RenewedAt.State notShown(PlacesRecord.Place place, String seen, String advice) {
    findings.add(
        Finding.of(
            FindingKind.RENEWAL_NOT_SHOWN,
            Level.PROBLEM,
            where(place),
            "The server was not seen to show the certificate. " + seen,
            advice + " The next renewal tries it again." + forgetting(place)));
    return RenewedAt.State.NOT_SHOWN;
  }

  private RenewedAt.State changed(PlacesRecord.Place place) {
    findings.add(
        Finding.of(
            FindingKind.RENEWAL_PLACE_CHANGED,
            where(place),
            "Somebody gave it another certificate since. It was left as it is.",
            "To give it the certificate of the account again: symbolon configure "
                + VisibleText.of(place.server())
                + " "
                + Input.CREDENTIAL.mention(VisibleText.of(place.credential().get(0)))
                + "."
                + forgetting(place)));
    return RenewedAt.State.CHANGED;
  }

  private String forgetting(PlacesRecord.Place place) {
    return " To renew it there no more: symbolon order account "
        + Input.ACCOUNT.mention(VisibleText.of(account.folder().toString()))
        + " "
        + Input.FORGET.mention("'" + VisibleText.of(place.title()) + "'")
        + ".";
  }

  private static String where(PlacesRecord.Place place) {
    return VisibleText.of(place.title() + ", " + place.home());
  }
}
