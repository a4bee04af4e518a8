// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** Finds out which of several private keys is meant. */
public final class KeyChooser {
  private static final int LISTED = 10; // choices named in a message

  private KeyChooser() {}

  /**
   * The key that is meant: the one that the name names, or the only one, or the only one with a
   * certificate. A name that names none may be that of the result.
   *
   * @param survey the files
   * @param name an alias, common name or file name, where one is given
   * @return the key; nothing where there is none at all
   * @throws SymbolonException if several could be meant; it names them
   */
  public static Optional<Match> choose(Survey survey, Optional<String> name) {
    List<Match> matches = survey.matches();
    List<Match> named = named(matches, name);
    if (named.size() == 1) {
      return Optional.of(named.get(0));
    }
    if (matches.size() < 2) {
      return matches.stream().findFirst();
    }
    List<Match> certified = certified(named.isEmpty() ? matches : named);
    if (certified.size() == 1) {
      return Optional.of(certified.get(0));
    }
    throw ambiguous(matches, name);
  }

  /**
   * Those that a name names.
   *
   * @param matches keys
   * @param name the name, where one is given
   * @return none where no name is given
   */
  public static List<Match> named(List<Match> matches, Optional<String> name) {
    return matches.stream().filter(match -> name.filter(match::isNamed).isPresent()).toList();
  }

  /**
   * The keys with a certificate. Where one of them waited for a reply that is now here, it is the
   * one that is meant, whatever else its keystore holds.
   */
  private static List<Match> certified(List<Match> matches) {
    List<Match> certified =
        matches.stream().filter(m -> !m.certificates().isEmpty() && !m.isWaiting()).toList();
    List<Match> answered =
        certified.stream()
            .filter(m -> !m.certificates().get(0).isSelfSigned())
            .filter(m -> m.certificates().stream().anyMatch(Certificate::isSelfSigned))
            .toList();
    return answered.size() == 1 ? answered : certified;
  }

  private static SymbolonException ambiguous(List<Match> matches, Optional<String> name) {
    String choices =
        matches.stream().limit(LISTED).map(Match::description).collect(Collectors.joining(", "));
    if (matches.size() > LISTED) {
      choices += " and " + (matches.size() - LISTED) + " more";
    }
    return new SymbolonException(
        Reason.AMBIGUOUS,
        name.isPresent()
            ? "No single private key goes by the name '" + VisibleText.of(name.get()) + "'."
            : "It is not clear which private key is meant.",
        "There are " + matches.size() + ": " + choices + ".",
        Remedy.of("Name only the files of one, or choose one.", Action.again(Input.ALIAS)));
  }
}
