// SPDX-License-Identifier: Apache-2.0
package io.symbolon.survey;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Exposure;
import io.symbolon.file.NotAFileException;
import io.symbolon.file.SafeRead;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.finding.Level;
import io.symbolon.format.Ability;
import io.symbolon.format.Format;
import io.symbolon.limit.Limits;
import io.symbolon.limit.WorkBudget;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Remedy;
import io.symbolon.remedy.Task;
import io.symbolon.seal.Secret;
import io.symbolon.text.VisibleText;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Reads one file from disk: never more of it than could matter. */
final class FileReader {
  private final ContentReader contents;
  private final WorkBudget budget;
  private final Optional<Attachments> mails;
  private Optional<List<FileSurvey>> inArchive = Optional.empty(); // if the last file was one

  FileReader(List<Secret> unlock, Optional<Attachments> mails, WorkBudget budget) {
    this.mails = mails;
    this.budget = budget;
    this.contents = new ContentReader(unlock, budget);
  }

  /** How a file came to be read. */
  enum ContentSource {
    /** It was named: holding nothing is a failure. */
    NAMED,
    /** It was found in a folder. */
    FOUND,
    /** A link to it was found in a folder. */
    LINKED
  }

  /**
   * Reads a file, and of an archive every file in it; whatever is wrong is in the results. A path
   * may lead into an archive as into a folder.
   */
  List<FileSurvey> readAll(Path path, ContentSource source) {
    if (source == ContentSource.NAMED && !Files.exists(path, LinkOption.NOFOLLOW_LINKS)) {
      for (Path up = path.getParent(); up != null; up = up.getParent()) {
        if (Files.isRegularFile(up)) {
          return inside(up, path);
        }
      }
    }
    inArchive = Optional.empty();
    FileSurvey whole = read(path, source);
    if (inArchive.isEmpty()) {
      return List.of(whole);
    }
    List<FileSurvey> all = inArchive.get();
    if (whole.failure().isPresent() || !whole.findings().isEmpty()) {
      all.add(0, whole);
    }
    return all;
  }

  /** What an archive has below a path that leads into it. */
  private List<FileSurvey> inside(Path file, Path path) {
    List<FileSurvey> all = readAll(file, ContentSource.NAMED);
    List<FileSurvey> inside = all.stream().filter(one -> one.path().startsWith(path)).toList();
    if (!inside.isEmpty()) {
      return inside;
    }
    List<FileSurvey> failed = all.stream().filter(one -> one.path().equals(file)).toList();
    if (inArchive.isPresent() && !failed.isEmpty()) {
      return failed; // the archive itself, which was not read to its end
    }
    FoundInFile reading = new FoundInFile(path, budget);
    reading.failed(
        FindingKind.UNREADABLE, unreadable(path, new NoSuchFileException(path.toString())));
    return List.of(reading.done(Format.UNKNOWN));
  }

  /** Looks into an archive; its files are results of their own. */
  private FileSurvey archive(Path path, byte[] octets, FoundInFile reading, ContentSource source) {
    boolean named = source == ContentSource.NAMED;
    boolean mail = !Archive.isZip(octets);
    String what = mail ? "a saved mail" : "a zip archive";
    List<FileSurvey> all = new ArrayList<>();
    inArchive = Optional.of(all);
    int[] seen = {0};
    Optional<SymbolonException> failure =
        Archive.read(
            path,
            octets,
            mails,
            file -> {
              seen[0]++;
              FoundInFile inside = new FoundInFile(file.path(), budget);
              FileSurvey survey =
                  byMail(mail, content(file.path(), path, file.octets(), inside, false));
              // Of programs and documents that are archives as well, only what tells something.
              if ((named && !file.aside()) || survey.isTelling()) {
                all.add(survey);
              }
            });
    boolean nothing = all.stream().noneMatch(FileSurvey::isTelling);
    if (failure.isPresent() && (named || !nothing)) {
      Reason reason = failure.get().reason();
      reading.failed(
          reason == Reason.LOCKED
              ? FindingKind.LOCKED
              : reason == Reason.LIMIT_PASSED ? FindingKind.LIMIT_PASSED : FindingKind.DAMAGED,
          failure.get());
    } else if (nothing) {
      all.clear();
      if (mail) {
        // A mail that can't be taken apart may still show its blocks of PEM.
        FileSurvey text = contents.read(path, octets);
        if (!text.isEmpty()) {
          inArchive = Optional.empty();
          return checked(text, path);
        }
      }
      nothing(
          reading,
          FindingKind.NOTHING_KNOWN,
          failure
              .map(why -> "It is " + what + " that was not read to its end. " + why.seen())
              .orElse(
                  "It is "
                      + what
                      + " with "
                      + seen[0]
                      + (seen[0] == 1 ? " part" : " parts")
                      + " and no key or certificate in "
                      + (seen[0] == 1 ? "it." : "them.")),
          named);
    }
    return reading.done(Format.UNKNOWN);
  }

  /** A private key that lies open in a mail was seen by all that carried the mail. */
  private static FileSurvey byMail(boolean mail, FileSurvey survey) {
    return mail && hasOpenKey(survey)
        ? survey.with(
            Finding.of(
                FindingKind.KEY_BY_MAIL,
                VisibleText.of(survey.path().toString()),
                "The private key lies open in a mail: every server that carried it could read it.",
                "Make a new key, and have the certificate issued for that one."))
        : survey;
  }

  /** Reads a file; whatever is wrong with it is in the result. */
  private FileSurvey read(Path path, ContentSource source) {
    boolean named = source == ContentSource.NAMED;
    FoundInFile reading = new FoundInFile(path, budget);
    SafeRead.Content content;
    try {
      content =
          source == ContentSource.FOUND
              ? SafeRead.walked(path, Limits.FILE_BYTES, Limits.HEAD_BYTES)
              : SafeRead.named(path, Limits.FILE_BYTES, Limits.HEAD_BYTES);
    } catch (NotAFileException e) {
      return passedOver(reading, e, source);
    } catch (IOException e) {
      reading.failed(FindingKind.UNREADABLE, unreadable(path, e));
      return reading.done(Format.UNKNOWN);
    }
    byte[] bytes = content.octets();
    budget.wasRead(bytes.length);
    if (!content.whole()) {
      return tooLarge(reading, bytes, content.size(), named);
    }
    if (Archive.isOne(bytes, mails)) {
      FileSurvey survey = archive(path, bytes, reading, source);
      Arrays.fill(bytes, (byte) 0);
      return survey;
    }
    return content(path, path, bytes, reading, named);
  }

  /**
   * What a content holds.
   *
   * @param onDisk the file that it lies in: whose rights count
   */
  private FileSurvey content(
      Path path, Path onDisk, byte[] bytes, FoundInFile reading, boolean named) {
    if (bytes.length == 0) {
      return nothing(reading, FindingKind.EMPTY_FILE, "It is empty.", named);
    }
    FileSurvey survey = contents.read(path, bytes);
    if (survey.format().can(Ability.TEXT)) {
      // What was in the blocks lies decoded elsewhere; the text may hold a key that lies open.
      Arrays.fill(bytes, (byte) 0);
    }
    boolean nothing = survey.isEmpty() && survey.failure().isEmpty();
    if (nothing && survey.format().can(Ability.CONTAINER)) {
      return checked(survey.with(emptyStore(reading.name(), survey.format())), onDisk);
    }
    if (nothing) {
      String seen =
          survey.format().can(Ability.TEXT)
              ? "It is PEM, but holds no key, certificate, request or revocation list."
              : "It is not PEM, not DER and not a keystore; it " + beginning(bytes) + ".";
      return nothing(reading, FindingKind.NOTHING_KNOWN, seen, named);
    }
    return checked(survey, onDisk);
  }

  private static FileSurvey passedOver(
      FoundInFile reading, NotAFileException e, ContentSource source) {
    if (source == ContentSource.NAMED) {
      reading.failed(
          FindingKind.NOT_A_FILE,
          new SymbolonException(
              Reason.UNREADABLE,
              "The file " + reading.name() + " was not read.",
              "It is " + e.what() + ".",
              "Name an ordinary file, or the path that the link leads to.",
              e));
    } else {
      reading.add(
          Finding.of(
              FindingKind.NOT_A_FILE,
              Level.NOTE,
              reading.name(),
              "It was passed over: it is " + e.what() + ".",
              ""));
    }
    return reading.done(Format.UNKNOWN);
  }

  private static Finding emptyStore(String name, Format format) {
    return Finding.of(
        FindingKind.EMPTY_STORE,
        name,
        "It is " + format.title() + " and holds nothing: no key, no certificate.",
        "Check that this is the file you mean; whoever trusts what is in it trusts nobody.");
  }

  private static String beginning(byte[] bytes) {
    if (bytes.length >= 3 && (bytes[0] & 0xFF) == 0xFF && (bytes[1] & 0xFF) == 0xD8) {
      return "has the marks of a JPEG picture";
    }
    if (bytes.length >= 4 && bytes[1] == 'P' && bytes[2] == 'N' && bytes[3] == 'G') {
      return "has the marks of a PNG picture";
    }
    if (bytes.length >= 4 && bytes[0] == '%' && bytes[1] == 'P' && bytes[2] == 'D') {
      return "has the marks of a PDF document";
    }
    if (SavedMail.isOne(bytes)) {
      return "is a saved mail, whose attachments are not looked at here";
    }
    if (bytes.length >= 4 && (bytes[0] & 0xFF) == 0xD0 && (bytes[1] & 0xFF) == 0xCF) {
      return "has the marks of an office document, or of a mail saved as .msg: save that as .eml";
    }
    // Nothing of it is repeated: it may be a password, or the raw octets of a key.
    int length = Math.min(512, bytes.length);
    boolean text = true;
    for (int i = 0; i < length; i++) {
      text &= bytes[i] >= 0x20 || bytes[i] < 0 || (bytes[i] >= '\t' && bytes[i] <= '\r');
    }
    return text ? "is ordinary text" : "is made of octets that mean nothing here";
  }

  private static FileSurvey nothing(
      FoundInFile reading, FindingKind kind, String seen, boolean named) {
    if (named) {
      reading.failed(
          kind,
          new SymbolonException(
              Reason.NOT_UNDERSTOOD,
              "The file " + reading.name() + " holds no key and no certificate.",
              seen,
              "Check that this is the file you mean, or ask for it again."));
    } else {
      reading.add(
          Finding.of(
              kind, Level.NOTE, reading.name(), "It holds no key and no certificate. " + seen, ""));
    }
    return reading.done(Format.UNKNOWN);
  }

  private static FileSurvey tooLarge(FoundInFile reading, byte[] head, long size, boolean named) {
    String sized = size / (1 << 20) + " MiB";
    boolean candidate =
        head.length > 10
            && ((head[0] == 0x30 && (head[1] & 0x80) != 0)
                || (head[0] & 0xFF) == 0xFE
                || (head[0] & 0xFF) == 0xCE
                || new String(head, java.nio.charset.StandardCharsets.ISO_8859_1)
                    .contains("-----BEGIN "));
    if (!candidate) {
      return nothing(
          reading,
          FindingKind.NOTHING_KNOWN,
          "It has "
              + sized
              + "; its beginning is no key, certificate or store, and no more was read.",
          named);
    }
    reading.failed(
        FindingKind.LIMIT_PASSED,
        new SymbolonException(
            Reason.LIMIT_PASSED,
            "The file " + reading.name() + " was not read.",
            "It has " + sized + "; files of up to " + (Limits.FILE_BYTES >> 20) + " MiB are read.",
            "Split it into smaller files."));
    return reading.done(Format.UNKNOWN);
  }

  static SymbolonException unreadable(Path path, IOException e) {
    String name = VisibleText.of(path.toString());
    if (e instanceof NoSuchFileException) {
      return new SymbolonException(
          Reason.UNREADABLE,
          "The file " + name + " can't be read.",
          "There is no such file.",
          "Check the name and the folder.",
          e);
    }
    if (e instanceof AccessDeniedException) {
      return new SymbolonException(
          Reason.UNREADABLE,
          "The file " + name + " can't be read.",
          "The system does not let you: its rights are for others.",
          "Run the command as the user who owns it, or ask for the right to read it.",
          e);
    }
    return new SymbolonException(
        Reason.UNREADABLE,
        "The file " + name + " can't be read.",
        "The system says: " + VisibleText.of(String.valueOf(e.getMessage())) + ".",
        "Check the file and the disk or network drive it is on.",
        e);
  }

  /** Adds what the rights of the file say about a private key in it. */
  private static FileSurvey checked(FileSurvey survey, Path onDisk) {
    if (!hasOpenKey(survey)) {
      return survey;
    }
    return rightsFinding(onDisk)
        .map(
            finding -> {
              List<Finding> findings = new java.util.ArrayList<>(survey.findings());
              findings.add(finding);
              return new FileSurvey(
                  survey.path(),
                  survey.format(),
                  survey.holdings(),
                  findings,
                  survey.failure(),
                  survey.locked(),
                  survey.openers(),
                  survey.protections());
            })
        .orElse(survey);
  }

  private static boolean hasOpenKey(FileSurvey survey) {
    return survey.holdings().stream()
        .anyMatch(h -> h instanceof Holding.PrivateKey key && !key.encrypted());
  }

  private static Optional<Finding> rightsFinding(Path path) {
    String name = VisibleText.of(path.toString());
    if (path.getFileSystem().supportedFileAttributeViews().stream()
        .noneMatch(view -> view.equals("posix") || view.equals("acl"))) {
      return Optional.of(
          Finding.of(
              FindingKind.RIGHTS_NOT_CHECKED,
              name,
              "Who may read this private key was not checked: this file system has no such rights.",
              "Check its access list by hand."));
    }
    Optional<Exposure> exposure = Exposure.of(path).filter(one -> one.readers().isPresent());
    if (exposure.isEmpty()) {
      return Optional.empty();
    }
    if (exposure.get().forService()) {
      return Optional.of(
          Finding.of(
              FindingKind.KEY_READ_BY_GROUP,
              name,
              "The private key lies open. Root owns it, and "
                  + exposure.get().readers().orElseThrow()
                  + " may read it, as servers want it that read it under an account of their own.",
              "Make sure that nobody else is in that group."));
    }
    boolean others = exposure.get().everybody();
    return Optional.of(
        Finding.of(
            FindingKind.KEY_READABLE_BY_OTHERS,
            others ? Level.PROBLEM : Level.WARNING,
            name,
            others
                ? "The private key lies open, and every user of this machine may read it."
                : "The private key lies open, and "
                    + exposure.get().readers().orElseThrow()
                    + " may read it.",
            Remedy.of("Let its owner alone read it.", Action.of(Task.CLOSE_FILE, path))));
  }
}
