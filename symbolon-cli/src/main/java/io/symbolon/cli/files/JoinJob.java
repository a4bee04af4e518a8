// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.files;

import io.symbolon.cli.frame.Destination;
import io.symbolon.cli.frame.GivenOptions;
import io.symbolon.cli.frame.ResultOptions;
import io.symbolon.cli.frame.SecretSource;
import io.symbolon.cli.frame.Usage;
import io.symbolon.join.JoinOptions;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What is to be joined, and where it goes.
 *
 * @param files the files to read
 * @param unlock the sources of passwords to try on them
 * @param options how the credential is chosen and its chain completed
 * @param into where the result goes; nothing where a waiting key gets its certificate in its place
 * @param format the format that was said, where one was
 * @param result how it is written
 */
record JoinJob(
    List<Path> files,
    List<SecretSource> unlock,
    JoinOptions options,
    Optional<Destination> into,
    Optional<String> format,
    ResultOptions result) {
  static JoinJob of(GivenOptions given) {
    Optional<Destination> into =
        given.has("into") ? Optional.of(destination(given)) : Optional.empty();
    if (into.isEmpty() && !given.has("replace")) {
      throw Usage.wrong(
          "No output file is given.",
          "Name the file with --into, such as --into keystore.p12; or say --replace alone if the key"
              + " waits for its certificate in a keystore and must get it there.");
    }
    return new JoinJob(
        given.paths(),
        given.unlock(),
        options(given),
        into,
        given.value("as"),
        ResultOptions.of(given));
  }

  /** The files that this changes or may change. */
  List<Path> changed() {
    List<Path> changed = new ArrayList<>();
    into.ifPresent(destination -> changed.add(destination.path()));
    if (result.replaces()) {
      changed.addAll(files);
    }
    return changed;
  }

  private static Destination destination(GivenOptions given) {
    Destination destination = Destination.of(given);
    if (!destination.target().holdsKeys()) {
      throw Usage.wrong(
          destination.target().title() + " has no place for the private key of a credential.",
          "Write pkcs12, jks, jceks or pem; or take the certificates alone with symbolon convert.");
    }
    return destination;
  }

  private static JoinOptions options(GivenOptions given) {
    JoinOptions options = JoinOptions.standard();
    if (given.value("alias").isPresent()) {
      options = options.withAlias(given.value("alias").get());
    }
    if (given.has("with-root")) {
      options = options.with(JoinOptions.Root.INCLUDED);
    }
    return given.chains(options);
  }
}
