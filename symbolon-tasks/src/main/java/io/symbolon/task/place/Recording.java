// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.place;

import io.symbolon.acme.folder.AccountFolder;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.FileItem;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Naming;
import io.symbolon.text.VisibleText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Puts a place on record with the accounts from which its certificates come. */
public final class Recording {
  private final List<Obtained> from;
  private final List<Finding> findings = new ArrayList<>();

  /**
   * With these accounts.
   *
   * @param from what they obtained of what the place shows
   */
  public Recording(List<Obtained> from) {
    this.from = List.copyOf(from);
  }

  /** {@return the accounts' folders, whose renewals reach the place} */
  public List<Path> folders() {
    return from.stream().map(one -> one.folder().folder()).distinct().toList();
  }

  /**
   * {@return what writes it down; nothing where it stands there already}
   *
   * @param place the place, made of the files that were named
   */
  public List<FileItem> items(PlacesRecord.Place place) {
    List<FileItem> items = new ArrayList<>();
    for (Obtained one : from) {
      try {
        item(one, place).ifPresent(items::add);
      } catch (SymbolonException e) {
        findings.add(
            Finding.of(
                FindingKind.RENEWAL_NOT_RECORDED,
                VisibleText.of(one.folder().folder().toString()),
                "Renewals of this account do not reach this server. " + e.seen(Naming.MARKS),
                e.remedy()));
      }
    }
    return items;
  }

  /** {@return what went wrong with that} */
  public List<Finding> findings() {
    return List.copyOf(findings);
  }

  private static Optional<FileItem> item(Obtained one, PlacesRecord.Place place) {
    AccountFolder account = AccountFolder.open(one.folder().folder()); // nobody else can write it
    PlacesRecord before =
        account.places(one.standing()).map(PlacesText::read).orElse(PlacesRecord.NONE);
    List<PlacesRecord.Place> places = new ArrayList<>(before.places());
    places.removeIf(place::isSame);
    places.add(place);
    String json = PlacesText.write(before.with(places));
    return before.places().equals(places)
        ? Optional.empty()
        : Optional.of(account.placesItem(one.standing(), json));
  }
}
