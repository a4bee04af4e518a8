package io.symbolon.cli.write;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.Invocation;
import io.symbolon.cli.output.Output;
import io.symbolon.convert.StoreEdit;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Existing;
import io.symbolon.join.Joined;
import io.symbolon.store.StoreEntry;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Place;
import io.symbolon.survey.Survey;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Gives a key its certificate in the keystore in which it waits; all else in it stays. */
public final class InPlace {
  private InPlace() {}

  /**
   * The keystore that is meant: the one that is named as the result and holds the key already, or,
   * where none is named, the one that holds it.
   */
  public static Optional<Path> keystore(Joined joined, Survey survey, Optional<Destination> into) {
    List<Path> stores =
        joined.keyPlaces().stream()
            .map(Place::file)
            .distinct()
            .filter(path -> isStore(survey, path))
            .toList();
    if (into.isPresent()) {
      return stores.stream().filter(store -> isSame(store, into.get().path())).findFirst();
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
                + stores.stream().map(Output::shown).collect(Collectors.joining(", "))
                + ".",
        stores.isEmpty()
            ? "Name the result with --into, such as --into keystore.p12."
            : "Name only one of them, or the result with --into.");
  }

  private static boolean isStore(Survey survey, Path path) {
    return survey.files().stream()
        .filter(file -> file.path().equals(path))
        .anyMatch((FileSurvey file) -> StoreEdit.isStore(file));
  }

  private static boolean isSame(Path one, Path other) {
    try {
      return Files.exists(other) && Files.isSameFile(one, other);
    } catch (IOException e) {
      return false;
    }
  }

  public static WrittenResult complete(Invocation invocation, Joined joined, Path store) {
    StoreEdit edit = StoreEdit.open(store, invocation.surveyor(invocation.unlock()));
    Optional<String> word = invocation.value("as");
    if (word.isPresent() && !word.get().equals(edit.target().word())) {
      throw Invocation.usage(
          Output.shown(store) + " is " + edit.target().title() + " and stays so.",
          "Leave --as out, or name another file with --into.");
    }
    Destination destination =
        new Destination(store, edit.target(), false)
            .ownedBy(invocation.owner())
            .expecting(edit.snapshot());
    return WrittenResult.write(
        destination,
        edit.completed(joined.credential().key(), joined.credential().chain()),
        Existing.REPLACE,
        OutputProtection.of(invocation, destination, edit),
        List.of());
  }

  /** The alias under which the key waited. */
  public static Optional<String> alias(WrittenResult result, Joined joined) {
    String fingerprint = joined.credential().key().revealFingerprint();
    return result.entries().stream()
        .filter(StoreEntry.KeyEntry.class::isInstance)
        .map(StoreEntry.KeyEntry.class::cast)
        .filter(entry -> entry.key().revealFingerprint().equals(fingerprint))
        .filter(entry -> entry.chain().equals(joined.credential().chain()))
        .map(StoreEntry.KeyEntry::alias)
        .findFirst();
  }
}
