package io.symbolon.cli;

import io.symbolon.Finding;
import io.symbolon.convert.Conversion;
import io.symbolon.convert.Encoded;
import io.symbolon.convert.Target;
import io.symbolon.convert.Wrapping;
import io.symbolon.file.Existing;
import io.symbolon.file.FileSet;
import io.symbolon.file.Privacy;
import io.symbolon.key.KeyForm;
import io.symbolon.store.Pkcs12Strength;
import io.symbolon.store.StoreEntry;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * What a command has written.
 *
 * @param destination where to
 * @param conversion what
 * @param files the files, and where older ones were put aside
 * @param sealed how it is sealed, in words; empty where it is open
 * @param findings what is to be said about it
 */
record Result(
    Destination destination,
    Conversion conversion,
    List<Written> files,
    String sealed,
    List<Finding> findings) {
  /**
   * A file that was written.
   *
   * @param aside where the file is kept that was there before
   */
  record Written(Path path, boolean secret, Optional<Path> aside) {}

  /**
   * Asks for the passwords that are needed, encodes, proves and writes: all of it or nothing.
   *
   * @param existing what to do about files that are there
   */
  static Result write(
      Invocation invocation, Destination destination, Conversion conversion, Existing existing) {
    KeyForm form = invocation.keyForm();
    Pkcs12Strength strength = invocation.strength(destination.target());
    boolean open = open(invocation, destination, conversion);
    boolean mayLieOpen = conversion.holdsKeys() && !destination.target().isStore();
    if (mayLieOpen
        && !open
        && invocation.value("seal").isEmpty()
        && !invocation.session().errIsTerminal()) {
      throw Invocation.usage(
          "It is not said how the private key in " + destination.shown() + " shall be protected.",
          "Add --seal new=PATH to have it sealed with a strong password (or file=PATH, env=NAME,"
              + " ask), or --unsealed to let it lie open.");
    }
    Optional<Seal> seal =
        conversion.needsSeal() && !open ? Optional.of(invocation.seal()) : Optional.empty();
    if (seal.isEmpty() && invocation.value("seal").isPresent()) {
      throw Invocation.usage(
          "There is nothing to seal: "
              + (open ? "--unsealed is said." : "no private key is written, and no keystore."),
          "Leave --seal out.");
    }
    return write(invocation, destination, conversion, existing, seal, form, strength);
  }

  /** The same with a password that is known. */
  static Result write(
      Invocation invocation,
      Destination destination,
      Conversion conversion,
      Existing existing,
      Optional<Seal> seal,
      KeyForm form,
      Pkcs12Strength strength) {
    Optional<Seal> sealKey =
        invocation.value("seal-key").isPresent()
            ? Optional.of(invocation.sealKey())
            : Optional.empty();
    if (sealKey.isPresent() && !(destination.target().isStore() && conversion.holdsKeys())) {
      throw Invocation.usage(
          "--seal-key is for keys in a keystore, and no such thing is written.",
          "Leave it out; --seal protects a private key in a file of its own.");
    }
    Wrapping wrapping =
        new Wrapping(form, strength, seal.map(Seal::secret), sealKey.map(Seal::secret));
    SecureRandom random = new SecureRandom();
    List<Encoded> encoded =
        destination.folder()
            ? conversion.encodeEach(wrapping, random)
            : List.of(
                conversion.encode(
                    String.valueOf(destination.path().getFileName()), wrapping, random));
    List<Written> written;
    try {
      written = write(destination, encoded, existing, seal, sealKey);
    } finally {
      encoded.forEach(file -> Arrays.fill(file.content(), (byte) 0));
    }
    List<Finding> findings = new ArrayList<>(conversion.findings());
    findings.addAll(ResultFindings.of(destination, conversion, strength, seal, sealKey));
    String sealed = seal.map(s -> sealed(s, sealKey, destination.target(), strength)).orElse("");
    return new Result(destination, conversion, written, sealed, findings);
  }

  /** Whether private keys shall lie open, which only some formats allow. */
  private static boolean open(
      Invocation invocation, Destination destination, Conversion conversion) {
    if (!invocation.has("unsealed")) {
      return false;
    }
    if (destination.target().isStore()) {
      throw Invocation.usage(
          "A " + destination.target().title() + " always has a password.",
          "Leave --unsealed out, or say --seal empty.");
    }
    if (!conversion.holdsKeys()) {
      throw Invocation.usage(
          "There is no private key in the result that could lie open.", "Leave --unsealed out.");
    }
    return true;
  }

  private static List<Written> write(
      Destination destination,
      List<Encoded> encoded,
      Existing existing,
      Optional<Seal> seal,
      Optional<Seal> sealKey) {
    boolean made = destination.folder() && FileSet.makeFolder(destination.path());
    List<FileSet.Item> items = new ArrayList<>();
    seal.flatMap(Seal::item).ifPresent(items::add);
    sealKey.flatMap(Seal::item).ifPresent(items::add);
    int first = items.size();
    for (Encoded file : encoded) {
      items.add(
          new FileSet.Item(
              destination.folder() ? destination.path().resolve(file.name()) : destination.path(),
              file.content(),
              file.secret() ? Privacy.OWNER_ONLY : Privacy.SYSTEM_DEFAULT,
              existing));
    }
    try {
      List<Optional<Path>> asides = FileSet.write(items);
      List<Written> written = new ArrayList<>();
      for (int i = first; i < items.size(); i++) {
        written.add(
            new Written(items.get(i).target(), encoded.get(i - first).secret(), asides.get(i)));
      }
      return written;
    } catch (RuntimeException e) {
      if (made) {
        deleteQuietly(destination.path());
      }
      throw e;
    } finally {
      items.subList(0, first).forEach(item -> Arrays.fill(item.content(), (byte) 0));
    }
  }

  private static void deleteQuietly(Path folder) {
    try {
      Files.deleteIfExists(folder);
    } catch (IOException e) {
      // It was empty before and does no harm; why nothing was written matters more.
    }
  }

  private static String sealed(
      Seal seal, Optional<Seal> sealKey, Target target, Pkcs12Strength strength) {
    String how =
        switch (target) {
          case PKCS12 ->
              strength.description() + ", " + HoldingText.count(strength.rounds(), "round");
          case JKS -> "SHA-1";
          case JCEKS -> "MD5 and 3DES for keys, SHA-1";
          default ->
              "PBES2, AES-256, PBKDF2-HMAC-SHA-256, "
                  + HoldingText.count(Pkcs12Strength.STRONG.rounds(), "round");
        };
    return "with "
        + seal.description()
        + sealKey.map(key -> ", the keys with " + key.description()).orElse("")
        + " ("
        + how
        + ")";
  }

  /** The entries that were written. */
  List<StoreEntry> entries() {
    return conversion.bundle().entries();
  }
}
