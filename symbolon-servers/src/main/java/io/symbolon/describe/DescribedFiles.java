// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.PemText;
import io.symbolon.chain.Credential;
import io.symbolon.convert.Bundle;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.Encoder;
import io.symbolon.convert.SealOptions;
import io.symbolon.convert.StoreEdit;
import io.symbolon.describe.Description.WantedFile;
import io.symbolon.entry.StoreEntry;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.format.Format;
import io.symbolon.join.Aliases;
import io.symbolon.key.KeyForm;
import io.symbolon.limit.Limits;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.files.PemFiles;
import io.symbolon.server.files.SameContent;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.wish.ClientTrust;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** What the files of a described server are to hold. */
final class DescribedFiles {
  private final Machine machine;
  private final Credential credential;
  private final Optional<ClientTrust> trust;

  DescribedFiles(Machine machine, Credential credential, Optional<ClientTrust> trust) {
    this.machine = machine;
    this.credential = credential;
    this.trust = trust;
  }

  private List<Certificate> intermediates() {
    List<Certificate> chain = credential.withoutRoot().chain();
    return chain.subList(1, chain.size());
  }

  private Certificate root() {
    Certificate last = credential.chain().get(credential.chain().size() - 1);
    if (!last.isSelfSigned() || credential.chain().size() == 1) {
      throw new SymbolonException(
          Reason.INCOMPLETE,
          "Nothing was changed.",
          "The server wants the root in its file, and it is not among the files.",
          "Name its file as well: " + Input.CREDENTIAL.mention("FILE..."));
    }
    return last;
  }

  private List<Certificate> certificates(WantedFile file) {
    List<Certificate> all = new ArrayList<>();
    for (Holds one : file.holds()) {
      switch (one) {
        case CERTIFICATE -> all.add(credential.certificate());
        case INTERMEDIATES -> all.addAll(intermediates());
        case ROOT -> all.add(root());
        case TRUST -> trust.ifPresent(known -> all.addAll(known.certificates()));
        case KEY, LISTS -> {}
      }
    }
    return all;
  }

  /** The words for what a file holds. */
  String holds(WantedFile file) {
    List<String> words = new ArrayList<>();
    for (Holds one : file.holds()) {
      words.add(
          switch (one) {
            case KEY -> "the private key";
            case CERTIFICATE -> "the certificate";
            case INTERMEDIATES -> "its chain";
            case ROOT -> "the root";
            case TRUST -> "the authorities of the clients";
            case LISTS -> "the revocation lists for clients";
          });
    }
    int last = words.size() - 1;
    return last == 0
        ? words.get(0)
        : String.join(", ", words.subList(0, last)) + " and " + words.get(last);
  }

  /** The alias of its entry. */
  Optional<String> alias(WantedFile file, Map<String, String> values) {
    return file.alias()
        .flatMap(template -> template.fill(name -> Optional.ofNullable(values.get(name))))
        .map(
            alias ->
                file.aliasInUpperCase().isEmpty()
                    ? alias
                    : file.aliasInUpperCase().get()
                        ? alias.toUpperCase(Locale.ROOT)
                        : alias.toLowerCase(Locale.ROOT));
  }

  /** Whether the file at a place holds the same already, under these passwords and this alias. */
  boolean isThere(WantedFile file, Path path, List<Secret> passwords, Optional<String> alias) {
    try {
      Optional<byte[]> octets =
          machine.files().read(path, Limits.FILE_BYTES).map(FileView.ReadFile::octets);
      if (octets.isEmpty() || passwords.isEmpty()) {
        return false;
      }
      FileSurvey there = Surveyor.create().withUnlock(passwords).read(path, octets.get());
      boolean named =
          alias.isEmpty()
              || there.holdings().stream()
                  .filter(Holding.PrivateKey.class::isInstance)
                  .anyMatch(one -> one.alias().equals(alias));
      boolean same =
          file.holds().contains(Holds.TRUST)
              ? SameContent.holds(there, certificates(file))
              : file.keepsOthers()
                  ? SameContent.includes(there, wanted(file))
                  : SameContent.holds(there, wanted(file));
      return !there.locked() && there.format() == file.as() && named && same;
    } catch (SymbolonException e) {
      return false; // it is made anew, and the old one kept for undo
    }
  }

  private Credential wanted(WantedFile file) {
    return Credential.of(credential.key(), ordered(file));
  }

  /** The chain in a keystore: the certificate first, whatever order was described. */
  private List<Certificate> ordered(WantedFile file) {
    List<Certificate> all = certificates(file);
    all.remove(credential.certificate());
    all.add(0, credential.certificate());
    return all;
  }

  /** The octets of a file. */
  byte[] octets(
      WantedFile file,
      Path path,
      Optional<Secret> password,
      Optional<Secret> keyPassword,
      Optional<String> alias) {
    return switch (file.as()) {
      case PEM -> pem(file, password);
      case DER -> der(file);
      case PKCS7 ->
          new Encoder(SealOptions.open(), new SecureRandom())
              .encode(trusted(certificates(file)), Format.PKCS7);
      default -> store(file, path, password.orElseThrow(), keyPassword, alias);
    };
  }

  private byte[] pem(WantedFile file, Optional<Secret> password) {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    for (Holds one : file.holds()) {
      all.writeBytes(
          switch (one) {
            case KEY ->
                password
                    .map(secret -> PemText.sealedKey(credential, secret))
                    .orElseGet(() -> PemText.openKey(credential, form(file)));
            case CERTIFICATE -> text(List.of(credential.certificate()));
            case INTERMEDIATES -> text(intermediates());
            case ROOT -> text(List.of(root()));
            case TRUST -> text(trust.map(ClientTrust::certificates).orElse(List.of()));
            case LISTS ->
                trust
                    .filter(known -> !known.lists().isEmpty())
                    .map(known -> PemFiles.lists(known.lists()).getBytes(StandardCharsets.UTF_8))
                    .orElse(new byte[0]);
          });
    }
    return all.toByteArray();
  }

  private KeyForm form(WantedFile file) {
    KeyForm form = file.form();
    String algorithm = credential.certificate().publicKey().algorithm().toString();
    boolean fits =
        form == KeyForm.PKCS8
            || (form == KeyForm.PKCS1 && algorithm.startsWith("RSA"))
            || (form == KeyForm.SEC1 && algorithm.startsWith("EC"));
    if (!fits) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "Nothing was changed.",
          "The server wants its key as "
              + form.title()
              + ", and a key of the kind "
              + VisibleText.of(algorithm)
              + " has no such form.",
          "Use a key of another kind.");
    }
    return form;
  }

  private static byte[] text(List<Certificate> certificates) {
    return PemText.certificates(certificates).getBytes(StandardCharsets.US_ASCII);
  }

  private byte[] der(WantedFile file) {
    return switch (file.holds().get(0)) {
      case KEY -> credential.key().reveal(form(file));
      case LISTS ->
          one(trust.map(known -> known.lists().size()).orElse(0), "revocation list") == 1
              ? trust.orElseThrow().lists().get(0).encoding()
              : new byte[0];
      default -> {
        List<Certificate> all = certificates(file);
        one(all.size(), "certificate");
        yield all.get(0).encoding();
      }
    };
  }

  private static int one(int count, String what) {
    if (count != 1) {
      throw new SymbolonException(
          Reason.DOES_NOT_FIT,
          "Nothing was changed.",
          "The server takes one " + what + " in DER, and there are " + count + ".",
          "Give the files of one " + what + " alone.");
    }
    return count;
  }

  private byte[] store(
      WantedFile file,
      Path path,
      Secret password,
      Optional<Secret> keyPassword,
      Optional<String> alias) {
    SealOptions seal =
        keyPassword
            .map(own -> SealOptions.sealed(password).withKeySealed(own))
            .orElseGet(() -> SealOptions.sealed(password));
    String where = VisibleText.of(path.toString());
    if (!file.holds().contains(Holds.KEY)) {
      return Conversion.of(trusted(certificates(file)), file.as(), KeyForm.PKCS8, where)
          .encode(where, seal, new SecureRandom())
          .content();
    }
    StoreEntry.KeyEntry entry =
        new StoreEntry.KeyEntry(alias.orElse("server"), credential.key(), ordered(file));
    Conversion conversion =
        file.keepsOthers() && machine.files().exists(path)
            ? StoreEdit.open(path, Surveyor.create().withUnlock(List.of(password))).renewed(entry)
            : Conversion.of(Bundle.of(List.of(entry)), file.as(), KeyForm.PKCS8, where);
    return conversion.encode(where, seal, new SecureRandom()).content();
  }

  private static Bundle trusted(List<Certificate> certificates) {
    Set<String> taken = new HashSet<>();
    List<StoreEntry> entries = new ArrayList<>();
    for (Certificate certificate : certificates) {
      entries.add(new StoreEntry.Trusted(Aliases.unique(certificate, taken), certificate));
    }
    return Bundle.of(entries);
  }
}
