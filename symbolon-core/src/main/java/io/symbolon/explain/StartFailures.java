// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What it means when a server or a client stops at its start, before any handshake: the file of a
 * key or a certificate, its form, its password, the entry in it, or a line of the configuration.
 */
final class StartFailures {
  private static final Action SURVEY = Action.of(Task.SURVEY);
  private static final Action CONVERT = Action.of(Task.CONVERT).with(Input.FORMAT);

  private static final KnownFailure SETTING_WRONG =
      known(
          FindingKind.SETTING_WRONG,
          "A program does not take its configuration: a word in it has no meaning to the program, or"
              + " something is missing or too much. The line names it.",
          Remedy.of(
              "Correct the setting that the line names. Compare it with the manual of the program."));

  private static final List<KnownFailure> ALL =
      List.of(
          known(
              FindingKind.PASSWORD_ABSENT,
              "A keystore or key is sealed, and the program was given no password for it.",
              Remedy.of(
                  "Give the password in the program's settings; or write the key anew as the program"
                      + " wants it.",
                  Action.of(Task.CONVERT))),
          known(
              FindingKind.ALIAS_NOT_FOUND,
              "The keystore has no private key under the alias that the program looks for.",
              Remedy.of(
                  "See the aliases, and correct the setting; or give the entry the alias that is"
                      + " wanted.",
                  SURVEY,
                  Action.of(Task.CONVERT))),
          known(
              FindingKind.PEM_NOT_READ,
              "A PEM file is broken: two blocks are glued together on one line, a block is cut off, or"
                  + " an editor changed it.",
              Remedy.of(
                  "See on which line, and write the file anew.", SURVEY, Action.of(Task.CONVERT))),
          known(
              FindingKind.OTHER_FORMAT_WANTED,
              "A program does not find what it expects in a file: PEM where it wants a keystore or DER"
                  + " where it wants PEM, a certificate where it wants a key or the other way round,"
                  + " another type of keystore than its setting says, or an empty or broken file.",
              Remedy.of(
                  "See what the file is, and correct the setting of the type; or write it in the form"
                      + " that is wanted.",
                  SURVEY,
                  CONVERT)),
          known(
              FindingKind.FILE_ABSENT,
              "A file that the program was told to use is not there. Some programs say the same of one"
                  + " that is empty, or that they may not read.",
              Remedy.of(
                  "Check the name in the settings. A name that does not begin with / is looked for in"
                      + " the folder of the program.")),
          known(
              FindingKind.FILE_NOT_READABLE,
              "The account that the program runs with may not read a file that it was told to use.",
              Remedy.of(
                  "Let that account read the file, and every folder above it; a private key is for it"
                      + " alone. A survey says who may read it.",
                  SURVEY)));

  /**
   * What a server says when it could not use its files, often beside a line that tells why: then
   * that line counts.
   */
  private static final KnownFailure FILES_NOT_USED =
      known(
          FindingKind.SERVER_FILES_NOT_USED,
          "A server could not use its certificate or its private key: it does not start, or it serves"
              + " without TLS. The line does not say why. The file may be no PEM or broken, sealed"
              + " with a password that the server was not told, of another pair, in the wrong order,"
              + " or not readable for the server's account.",
          Remedy.of(
              "See what the files are and whether they fit, and rehearse with them.",
              SURVEY,
              Action.of(Task.REHEARSE).with(Input.SERVER)));

  private StartFailures() {}

  private static KnownFailure known(FindingKind kind, String statement, Remedy remedy) {
    return new KnownFailure(kind, statement, remedy);
  }

  static Optional<KnownFailure> ofKind(FindingKind kind) {
    return Stream.concat(ALL.stream(), Stream.of(SETTING_WRONG, FILES_NOT_USED))
        .filter(known -> known.kind() == kind)
        .findFirst();
  }
}
