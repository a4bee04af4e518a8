// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.cli.output.Output;
import io.symbolon.file.Existing;
import io.symbolon.format.Format;
import io.symbolon.join.TrustSelector.Choice;
import io.symbolon.survey.Surveyor;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Which certificates become a truststore, or go into one.
 *
 * @param files the files to read
 * @param unlock the sources of passwords to try on them
 * @param choice which of the certificates are meant
 * @param add whether they are added to what is there
 * @param destination the truststore
 * @param result how it is written
 */
record TruststoreJob(
    List<Path> files,
    List<SecretSource> unlock,
    Choice choice,
    boolean add,
    Destination destination,
    ResultOptions result) {
  static TruststoreJob of(GivenOptions given) {
    boolean add = given.has("add");
    Destination destination = add ? present(given) : Destination.of(given);
    if (add && (destination.folder() || !Files.exists(destination.path()))) {
      throw Usage.wrong(
          "There is no truststore " + Output.shown(destination.path()) + " to add to.",
          "Check the name, or leave --add out to make a new one.");
    }
    return new TruststoreJob(
        given.paths(),
        given.unlock(),
        given.has("all") ? Choice.ALL : Choice.AUTHORITIES,
        add,
        destination,
        ResultOptions.of(given));
  }

  /** A truststore that is there has its format, whatever it is called. */
  private static Destination present(GivenOptions given) {
    Optional<Path> into = given.pathOf("into");
    if (given.has("as") || into.isEmpty() || !Files.isRegularFile(into.get())) {
      return Destination.of(given);
    }
    Format format = Surveyor.create().survey(List.of(into.get())).files().get(0).format();
    return Format.written().contains(format)
        ? new Destination(into.get(), format, false).ownedBy(given.owner())
        : Destination.of(given);
  }

  /** What to do about a file that is there: what is added to is replaced by what it becomes. */
  Existing existing() {
    return add ? Existing.REPLACE : result.existing();
  }
}
