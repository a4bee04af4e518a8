// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.key.Fit;
import io.symbolon.key.KeyForm;
import io.symbolon.key.SubjectPublicKeyInfo;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.survey.CertificateVerdict;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Place;
import io.symbolon.survey.Survey;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A conversion that is planned: what will be written, and what the format can't hold. Nothing is
 * written before somebody has had the chance to read that.
 */
public final class Conversion {
  /** What a file says of itself that whoever converts it has to know. */
  private static final Set<FindingKind> TOLD =
      Set.of(
          FindingKind.UNKNOWN_BLOCK,
          FindingKind.NOT_READ_TO_ITS_END,
          FindingKind.INTEGRITY_NOT_CHECKED,
          FindingKind.NO_INTEGRITY_CHECK);

  private final Bundle bundle;
  private final Format target;
  private final List<Finding> findings;

  private Conversion(Bundle bundle, Format target, List<Finding> findings) {
    this.bundle = bundle;
    this.target = target;
    this.findings = List.copyOf(findings);
  }

  /**
   * Plans a conversion.
   *
   * @param survey what the files hold
   * @param options what of it is wanted
   * @param target the format
   * @param form the structure of private keys, where the format leaves a choice
   * @param where the name of what will be written, for findings
   * @return the conversion
   * @throws SymbolonException if a file could not be read or unlocked, nothing that is wanted is
   *     there, or a name belongs to no entry
   */
  public static Conversion plan(
      Survey survey, ConvertOptions options, Format target, KeyForm form, String where) {
    List<Finding> findings = new ArrayList<>();
    unread(survey, options, findings);
    PackedContents contents = Chooser.choose(Arranger.arrange(survey), options);
    Packer packer = new Packer(contents, options, survey.now());
    Bundle wanted = packer.pack().withPublicPoints();
    if (wanted.isEmpty()) {
      throw nothing(contents, options);
    }
    for (Place place : packer.withoutHalf()) {
      findings.add(
          Finding.of(
              FindingKind.PUBLIC_KEY_UNKNOWN,
              place.toString(),
              "The public half of this private key is not known: no certificate is here, and this"
                  + " Java can't compute it.",
              "Add the certificate of the key to the files."));
    }
    if (target.isStore()) {
      packer.aliasesMade().forEach((place, alias) -> findings.add(named(place, alias)));
    }
    FormatFitting.Fitted fitted = FormatFitting.fit(wanted, target, where, form);
    if (fitted.bundle().isEmpty()) {
      throw withoutPlace(fitted, target);
    }
    if (contents.secretKeys() > 0 && options.wants(ContentPart.EVERYTHING)) {
      findings.add(
          Finding.of(
              FindingKind.LEFT_OUT,
              where,
              "Secret keys are left out: they are listed and never opened.",
              "Move them with the program that uses them."));
    }
    Set<Certificate> roots = packer.rootsLeftOut();
    if (!roots.isEmpty()) {
      findings.add(
          Finding.of(
              FindingKind.ROOT_LEFT_OUT,
              where,
              "The root is left out of the chain: "
                  + roots.stream()
                      .map(root -> root.subject().shortText())
                      .collect(Collectors.joining(", "))
                  + ".",
              Remedy.of(
                  "Whoever trusts it has it already. It can be put in.",
                  Action.again(Input.ROOT))));
    }
    findings.addAll(fitted.findings());
    findings.addAll(strangers(fitted.bundle(), where));
    CertificateVerdict.of(survey, fitted.bundle().certificates()).stream()
        .filter(finding -> finding.level() == Level.PROBLEM)
        .forEach(findings::add);
    return new Conversion(fitted.bundle(), target, findings);
  }

  /** An entry without an alias gets one; who knew it by a number has to know. */
  private static Finding named(Place place, String alias) {
    return Finding.of(
        FindingKind.ALIAS_MADE,
        place.toString(),
        "The entry has no alias there, and is '" + VisibleText.of(alias) + "' in the result.",
        Remedy.of(
            "Java calls an entry without an alias by a number, such as 1. If a program was told the"
                + " number, tell it the new alias, or give the entry the number again.",
            Action.again().with(Input.RENAME, alias + "=1")));
  }

  /** Keys that lie with a certificate of another key: they are kept so, and named. */
  private static List<Finding> strangers(Bundle bundle, String where) {
    List<Finding> findings = new ArrayList<>();
    for (StoreEntry.KeyEntry credential : bundle.credentials()) {
      if (credential.chain().isEmpty()) {
        continue;
      }
      SubjectPublicKeyInfo certified = credential.chain().get(0).publicKey();
      boolean sameHalf = credential.key().publicHalf().filter(certified::equals).isPresent();
      if (!sameHalf && Fit.of(credential.key(), certified) == Fit.DOES_NOT_FIT) {
        findings.add(
            Finding.of(
                FindingKind.KEY_DOES_NOT_FIT,
                where,
                "The private key '"
                    + VisibleText.of(credential.alias())
                    + "' lies with the certificate of "
                    + credential.chain().get(0).subject().shortText()
                    + ", which belongs to another key.",
                Remedy.of(
                    "Look for the certificate of this key, and join them.", Action.of(Task.JOIN))));
      }
    }
    return findings;
  }

  /**
   * Plans the writing of a bundle that is at hand.
   *
   * @param bundle what is written
   * @param where the place to name, such as a file; may be empty
   * @return the conversion
   * @throws SymbolonException if the format has no place for any of it
   */
  public static Conversion of(Bundle bundle, Format target, KeyForm form, String where) {
    FormatFitting.Fitted fitted = FormatFitting.fit(bundle, target, where, form);
    if (fitted.bundle().isEmpty()) {
      throw withoutPlace(fitted, target);
    }
    return new Conversion(fitted.bundle(), target, fitted.findings());
  }

  private static SymbolonException withoutPlace(FormatFitting.Fitted fitted, Format target) {
    return new SymbolonException(
        Reason.INVALID_ARGUMENT,
        "Nothing was written as " + target.title() + ".",
        "It has no place for any of this: "
            + fitted.findings().stream().map(Finding::statement).collect(Collectors.joining(" ")),
        Remedy.of("Choose another format, such as PEM.", Action.again().with(Input.FORMAT, "pem")));
  }

  /** Nothing may be lost unnoticed: only what is not wanted may stay closed. */
  private static void unread(Survey survey, ConvertOptions options, List<Finding> findings) {
    for (FileSurvey file : survey.files()) {
      file.findings().stream().filter(told -> TOLD.contains(told.kind())).forEach(findings::add);
    }
    for (SymbolonException failure : survey.failures()) {
      boolean keyOnly = failure.reason() == Reason.LOCKED && !options.wantsKeys();
      if (!keyOnly || survey.certificates().isEmpty()) {
        throw failure;
      }
      findings.add(Finding.of(failure, Level.WARNING));
    }
  }

  private static SymbolonException nothing(PackedContents contents, ConvertOptions options) {
    String parts =
        options.parts().stream().map(ContentPart::word).sorted().collect(Collectors.joining(", "));
    return new SymbolonException(
        Reason.NOT_FOUND,
        "There is nothing to convert.",
        options.wants(ContentPart.EVERYTHING)
            ? "The files hold no key, certificate, request or revocation list."
            : "Of the parts asked for ("
                + parts
                + ") the files hold none; they hold "
                + contents.keys().size()
                + " private keys with their certificates, "
                + contents.certificates().size()
                + " other certificates and "
                + contents.requests().size()
                + " requests.",
        Remedy.of("Check what is there.", Action.of(Task.SURVEY)));
  }

  /** {@return what will be written} */
  public Bundle bundle() {
    return bundle;
  }

  /** {@return the format} */
  public Format target() {
    return target;
  }

  /** {@return what is left out or changed, to be read before anything is written} */
  public List<Finding> findings() {
    return findings;
  }

  /** {@return whether a private key will be written} */
  public boolean holdsKeys() {
    return !bundle.credentials().isEmpty();
  }

  /** {@return whether a password is needed, for a keystore or for private keys} */
  public boolean needsSeal() {
    return target.isStore() || holdsKeys();
  }

  /**
   * Refuses several private keys in one file of a format that programs read one key from.
   *
   * @throws SymbolonException if more than one would get into it without having been asked for
   */
  public void checkOneKey() {
    if (target.can(Ability.READ_FOR_ONE_KEY) && bundle.credentials().size() > 1) {
      throw new SymbolonException(
          Reason.AMBIGUOUS,
          "It is not clear which private key is meant.",
          "There are "
              + bundle.credentials().size()
              + ": "
              + bundle.credentials().stream()
                  .limit(10)
                  .map(key -> "'" + VisibleText.of(key.alias()) + "'")
                  .collect(Collectors.joining(", "))
              + "; most programs read only the first of a PEM file.",
          Remedy.of(
              "Choose one, or name a folder for one file each.",
              Action.again(Input.ALIAS),
              Action.again().with(Input.INTO, "folder/")));
    }
  }

  /**
   * {@return one file with all of it, proven to read the same again}
   *
   * @param wrapping how it is sealed
   * @param random where random numbers come from
   */
  public EncodedFile encode(String name, SealOptions wrapping, SecureRandom random) {
    byte[] content = new Encoder(wrapping, random).encode(bundle, target);
    EncodedFile file = new EncodedFile(name, content, holdsKeys());
    ReadBackProof.check(List.of(file), bundle, wrapping);
    return file;
  }

  /**
   * {@return a file for each object, proven to read the same again}
   *
   * @param wrapping how it is sealed
   * @param random where random numbers come from
   */
  public List<EncodedFile> encodeEach(SealOptions wrapping, SecureRandom random) {
    List<EncodedFile> files = new Encoder(wrapping, random).encodeEach(bundle, target);
    ReadBackProof.check(files, bundle, wrapping);
    return files;
  }
}
