// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.join.Joined;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.survey.Place;
import io.symbolon.survey.Survey;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Gives a key its certificate in the keystore in which it waits; all else in it stays. */
public final class InPlaceCompletion {
  private final StoreEdit edit;
  private final Conversion conversion;
  private final Joined joined;

  private InPlaceCompletion(StoreEdit edit, Conversion conversion, Joined joined) {
    this.edit = edit;
    this.conversion = conversion;
    this.joined = joined;
  }

  /**
   * {@return the completion of a keystore} Nothing is written yet.
   *
   * @param store the keystore in which the key of {@code joined} lies
   * @param surveyor how files are surveyed
   * @param joined what was joined
   * @throws SymbolonException if it can't be changed without losing what is in it, or holds the key
   *     more than once
   */
  public static InPlaceCompletion of(Path store, Surveyor surveyor, Joined joined) {
    StoreEdit edit = StoreEdit.open(store, surveyor);
    Conversion conversion = edit.completed(joined.credential().key(), joined.credential().chain());
    return new InPlaceCompletion(edit, conversion, joined);
  }

  /**
   * {@return the keystore that is meant: the one that is named as the result and holds the key
   * already, or, where none is named, the one that holds it}
   *
   * @param joined what was joined
   * @param survey the surveyed files
   * @param into where it goes
   * @throws SymbolonException if none is named, and the key lies in no keystore or in several
   */
  public static Optional<Path> keystore(Joined joined, Survey survey, Optional<Path> into) {
    List<Path> stores =
        joined.keyPlaces().stream()
            .map(Place::file)
            .distinct()
            .filter(path -> isStore(survey, path))
            .toList();
    if (into.isPresent()) {
      return stores.stream().filter(store -> isSame(store, into.get())).findFirst();
    }
    if (stores.size() == 1 && !Files.exists(stores.get(0))) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "The certificate was not put beside its key.",
          "The keystore lies in an archive, where nothing is written: "
              + VisibleText.of(stores.get(0).toString())
              + ".",
          Remedy.of("Name the result.", Action.again().with(Input.INTO, "keystore.p12")));
    }
    if (stores.size() == 1) {
      return Optional.of(stores.get(0));
    }
    throw new SymbolonException(
        stores.isEmpty() ? Reason.INVALID_ARGUMENT : Reason.AMBIGUOUS,
        "The certificate was not put beside its key.",
        stores.isEmpty()
            ? "The key does not lie in a keystore but in " + joined.keyPlaces().get(0) + "."
            : "The key lies in several keystores: "
                + stores.stream()
                    .map(store -> VisibleText.of(store.toString()))
                    .collect(Collectors.joining(", "))
                + ".",
        Remedy.of(
            stores.isEmpty() ? "Name the result." : "Name only one of them, or name the result.",
            Action.again().with(Input.INTO, "keystore.p12")));
  }

  private static boolean isStore(Survey survey, Path path) {
    return survey.files().stream()
        .anyMatch(file -> file.path().equals(path) && StoreEdit.isStore(file));
  }

  private static boolean isSame(Path one, Path other) {
    try {
      return Files.exists(other) && Files.isSameFile(one, other);
    } catch (IOException e) {
      return false;
    }
  }

  /** {@return the keystore as it was read} */
  public StoreEdit edit() {
    return edit;
  }

  /** {@return what is to be written} */
  public Conversion conversion() {
    return conversion;
  }

  /** {@return the alias under which the key waited} */
  public Optional<String> alias() {
    String fingerprint = joined.credential().key().revealFingerprint();
    return conversion.bundle().entries().stream()
        .filter(StoreEntry.KeyEntry.class::isInstance)
        .map(StoreEntry.KeyEntry.class::cast)
        .filter(entry -> entry.key().revealFingerprint().equals(fingerprint))
        .filter(entry -> entry.chain().equals(joined.credential().chain()))
        .map(StoreEntry.KeyEntry::alias)
        .findFirst();
  }
}
