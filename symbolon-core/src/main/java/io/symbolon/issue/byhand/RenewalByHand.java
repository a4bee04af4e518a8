// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.byhand;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.SafeRead;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Match;
import io.symbolon.survey.Survey;
import io.symbolon.text.FailureMessages;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * How far the renewal of a certificate is that a person's authority signs: nothing was asked for
 * yet, the request waits for its reply, or the reply is there and not yet in use.
 */
public enum RenewalByHand {
  /** There is no request for a new key, or only that of the certificate that ends. */
  NOT_BEGUN,
  /** A new key waits for its certificate. */
  WAITS,
  /** The new key has its certificate, which does not lie in its place yet. */
  ANSWERED;

  /**
   * {@return how far it is}
   *
   * @param certificate the certificate that ends
   * @param request the file of the request
   * @param next the files of the new key and of its request, where they are there
   * @throws SymbolonException if there is a request and no key for it, or for another subject
   */
  public static RenewalByHand of(Certificate certificate, Path request, Optional<Survey> next) {
    List<Match> matches = next.map(Survey::matches).orElse(List.of());
    for (Match match : matches) {
      for (Holding.Request asked : match.requests()) {
        if (asked.request().publicKey().equals(certificate.publicKey())) {
          return NOT_BEGUN; // it was answered by the certificate that ends now
        }
        if (asked.request().subject().equals(certificate.subject())) {
          return match.certificates().isEmpty() || match.isWaiting() ? WAITS : ANSWERED;
        }
        throw unfit(
            request, "It asks for another subject: " + asked.request().subject().shortText() + ".");
      }
    }
    if (next.isPresent() && !isOf(next.get(), certificate.publicKey())) {
      next.get().failures().stream()
          .findFirst()
          .ifPresent(
              failure -> {
                throw failure.restated("The new key beside it can't be read.");
              });
      throw unfit(request, "The key for it does not lie beside it.");
    }
    return NOT_BEGUN;
  }

  /**
   * Refuses files that somebody else could have put there: a request that is not ours would have
   * the authority certify a stranger's key.
   *
   * @param file the file of a request, or of the key for it
   * @param credential the file with the key that is used now; whoever owns it may have made them
   * @throws SymbolonException if it is of another account than root, this one and that owner, or a
   *     link
   */
  public static void checkOwner(Path file, Path credential) {
    try {
      if (Files.isSymbolicLink(file)) {
        throw unfit(file, "It is a link.");
      }
      if (!SafeRead.isOfRootOrUs(file)
          && !Files.getOwner(file, LinkOption.NOFOLLOW_LINKS).equals(Files.getOwner(credential))) {
        throw unfit(
            file,
            "It belongs to the account "
                + VisibleText.of(Files.getOwner(file, LinkOption.NOFOLLOW_LINKS).getName())
                + ".");
      }
    } catch (IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The file " + VisibleText.of(file.toString()) + " can't be looked at.",
          FailureMessages.of(e),
          "Check its folder.",
          e);
    }
  }

  private static boolean isOf(Survey next, SubjectPublicKeyInfo half) {
    return next.requests().stream()
        .anyMatch(one -> one.request().request().publicKey().equals(half));
  }

  private static SymbolonException unfit(Path request, String seen) {
    return new SymbolonException(
        Reason.DOES_NOT_FIT,
        "No request was made: " + VisibleText.of(request.toString()) + " is there already.",
        seen,
        "Move the files of that name away, and give the command again.");
  }
}
