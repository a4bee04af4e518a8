// SPDX-License-Identifier: Apache-2.0
package io.symbolon.explain;

import io.symbolon.finding.FindingKind;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * What stops a server or a client at its start, before any handshake: the file of a key or a
 * certificate, its form, its password, the entry in it, or a line of the configuration. Most of
 * these messages are said of any file; they count where the line speaks of one of ours.
 */
final class StartFailures {
  private static final Action SURVEY = Action.of(Task.SURVEY);
  private static final Action CONVERT = Action.of(Task.CONVERT).with(Input.FORMAT);

  /** A line about a file with keys or certificates, or about a setting of TLS. */
  private static final Pattern OURS =
      Pattern.compile(
          "\\.(p12|pfx|jks|jceks|pem|crt|cer|der|key|crl|p7b|keystore|truststore)\\b"
              + "|key-?_?store|trust-?_?store|certificate|private.?key|ssl|tls|\\bcrl\\b|x509|pkcs|alias|derinput|pass ?(word|phrase)");

  /** Settings of servers that speak of TLS, by how their names begin. */
  private static final Pattern SETTING =
      Pattern.compile(
          "\\[emerg\\]|syntax error on line|invalid command '|\\[alert\\].*parsing"
              + "|\\bssl_[a-z_]+|\\bssl[a-z]*(engine|certificate|protocol|verify|cipher)"
              + "|\\btls-[a-z-]+|saxparseexception|bad configuration|configuration error");

  private static final KnownFailure SETTING_WRONG =
      known(
          FindingKind.SETTING_WRONG,
          "A program does not take its configuration: a word in it has no meaning to the program, or"
              + " something is missing or too much. The line names it.",
          Remedy.of(
              "Correct the setting that the line names. Compare it with the manual of the program."),
          "unknown directive",
          "invalid value",
          "invalid command '",
          "is not terminated by",
          "unexpected end of file",
          "unexpected \"",
          "saxparseexception",
          "illegal protocol",
          "no such protocol",
          "illegalargumentexception: unsupported protocol",
          "illegalargumentexception: unsupported ciphersuite",
          "unknown keyword",
          "unexpected parameter",
          "bad configuration option",
          "duplicate",
          "takes one argument",
          "takes exactly one");

  private static final List<KnownFailure> ALL =
      List.of(
          known(
              FindingKind.PASSWORD_ABSENT,
              "A keystore or key is sealed, and the program was given no password for it.",
              Remedy.of(
                  "Give the password in the program's settings; or write the key anew as the program"
                      + " wants it.",
                  Action.of(Task.CONVERT)),
              "password must not be null",
              "password can't be null",
              "no password provided",
              "password not provided",
              "keystore password is null",
              "no password was provided",
              "password required",
              "needs a passphrase",
              "passphrase is required",
              "passphrase required",
              "can't read without password",
              "problems getting password",
              "no passphrase",
              "enter pem pass phrase",
              "interrupted or cancelled"),
          known(
              FindingKind.ALIAS_NOT_FOUND,
              "The keystore has no private key under the alias that the program looks for.",
              Remedy.of(
                  "See the aliases, and correct the setting; or give the entry the alias that is"
                      + " wanted.",
                  SURVEY,
                  Action.of(Task.CONVERT)),
              "does not identify a key entry",
              "alias not found",
              "no such alias",
              "does not contain an entry",
              "no key found for alias",
              "no key entry",
              "no aliases for private keys found",
              "does not contain a private key",
              "alias does not exist"),
          known(
              FindingKind.PEM_NOT_READ,
              "A PEM file is broken: two blocks are glued together on one line, a block is cut off, or"
                  + " an editor changed it.",
              Remedy.of(
                  "See on which line, and write the file anew.", SURVEY, Action.of(Task.CONVERT)),
              "bad end line",
              "bad base64 decode",
              "premature end",
              "pem routines::too short",
              "pem routines::short header"),
          known(
              FindingKind.OTHER_FORMAT_WANTED,
              "A program does not find what it expects in a file: PEM where it wants a keystore or DER"
                  + " where it wants PEM, a certificate where it wants a key or the other way round,"
                  + " another type of keystore than its setting says, or an empty or broken file.",
              Remedy.of(
                  "See what the file is, and correct the setting of the type; or write it in the form"
                      + " that is wanted.",
                  SURVEY,
                  CONVERT),
              "invalid keystore format",
              "toderinputstream rejects tag type",
              "derinputstream.getlength",
              "der input, integer tag error",
              "unrecognized keystore format",
              "no start line",
              "no valid pem",
              "expecting: trusted certificate",
              "expecting: any private key",
              "expecting: certificate",
              "keystore type",
              "not a pkcs12",
              "not pkcs12",
              "wrong tag",
              "asn1 encoding routines",
              "unable to parse pem",
              "not in pem format",
              "could not parse certificate",
              "invalidkeyspecexception",
              "unsupported key format",
              "jks not found",
              "keystoreexception: pem not found",
              "empty input"),
          known(
              FindingKind.FILE_ABSENT,
              "A file that the program was told to use is not there. Some programs say the same of one"
                  + " that is empty, or that they may not read.",
              Remedy.of(
                  "Check the name in the settings. A name that does not begin with / is looked for in"
                      + " the folder of the program."),
              "no such file or directory",
              "filenotfoundexception",
              "nosuchfileexception",
              "file not found",
              "does not exist",
              "could not open file",
              "cannot find the file",
              "cannot find the path"),
          known(
              FindingKind.FILE_NOT_READABLE,
              "The account that the program runs with may not read a file that it was told to use.",
              Remedy.of(
                  "Let that account read the file, and every folder above it; a private key is for it"
                      + " alone. A survey says who may read it.",
                  SURVEY),
              "permission denied",
              "accessdeniedexception",
              "access is denied",
              "operation not permitted"));

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
              Action.of(Task.REHEARSE).with(Input.SERVER)),
          "tls init def ctx failed",
          "failed to setup ssl",
          "unable to get certificate",
          "unable to get private key",
          "failed to configure tls",
          "ah02562",
          "routines::pem lib",
          "ah02564",
          "ah02572",
          "unable to load server certificate",
          "unable to load server key file",
          "unable to load ssl certificate",
          "unable to load ssl private key",
          "no private key found in",
          "can't load ssl certificate",
          "can't load ssl private key",
          "failed to initialize ssl server context",
          "failed to load certificate",
          "failed to load private key",
          "disabling tls support",
          "tls engine unavailable",
          "cannot load certificate",
          "could not load server certificate file",
          "could not load private key file",
          "could not load root certificate file",
          "could not load certificate revocation list file");

  private static final WordSearch SEARCH =
      new WordSearch(ALL.stream().map(KnownFailure::phrases).toList());
  private static final WordSearch SETTINGS = new WordSearch(List.of(SETTING_WRONG.phrases()));
  private static final WordSearch GENERAL = new WordSearch(List.of(FILES_NOT_USED.phrases()));

  private StartFailures() {}

  /** The same for what tells only that a server could not use its files. */
  static Optional<KnownFailure> general(String lower) {
    return GENERAL.first(lower) == 0 ? Optional.of(FILES_NOT_USED) : Optional.empty();
  }

  private static KnownFailure known(
      FindingKind kind, String statement, Remedy remedy, String... phrases) {
    return new KnownFailure(kind, List.of(phrases), statement, remedy);
  }

  static Optional<KnownFailure> ofKind(FindingKind kind) {
    return Stream.concat(ALL.stream(), Stream.of(SETTING_WRONG, FILES_NOT_USED))
        .filter(known -> known.kind() == kind)
        .findFirst();
  }

  /** The failure that a line tells of, in lower case. */
  static Optional<KnownFailure> in(String lower) {
    int first = SEARCH.first(lower);
    if (first >= 0 && OURS.matcher(lower).find()) {
      return Optional.of(ALL.get(first));
    }
    return SETTINGS.first(lower) == 0 && SETTING.matcher(lower).find()
        ? Optional.of(SETTING_WRONG)
        : Optional.empty();
  }
}
