// SPDX-License-Identifier: Apache-2.0
package io.symbolon;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Remedy;
import io.symbolon.seal.Secret;
import io.symbolon.survey.FileSurvey;
import io.symbolon.survey.Surveyor;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;

/**
 * Reads {@link Material}. The settings are immutable: every {@code with} method gives a new reader.
 * Thread-safe.
 */
public final class MaterialReader {
  /** The password of a store that lives only inside one call. */
  private static final String PASSING = "inside one call";

  private final Surveyor surveyor;
  private final List<Secret> passwords;

  private MaterialReader(Surveyor surveyor, List<Secret> passwords) {
    this.surveyor = surveyor;
    this.passwords = List.copyOf(passwords);
  }

  static MaterialReader standard() {
    return new MaterialReader(Surveyor.create(), List.of());
  }

  /**
   * With passwords to try on whatever is protected.
   *
   * @param more the passwords; they stay the caller's to close, when nothing is converted any more
   *     that has a key with a password of its own
   * @return a changed copy
   */
  public MaterialReader withPasswords(Secret... more) {
    List<Secret> all = new ArrayList<>(passwords);
    all.addAll(List.of(more));
    return new MaterialReader(surveyor.withUnlock(all), all);
  }

  /**
   * With a clock that says what is expired; the system's otherwise.
   *
   * @param clock the clock that tells what is expired
   * @return a changed copy
   */
  public MaterialReader withClock(Clock clock) {
    return new MaterialReader(surveyor.withClock(clock), passwords);
  }

  /**
   * With another threshold for what is said to expire soon.
   *
   * @param before how long before its end; 30 days otherwise
   * @return a changed copy
   * @throws IllegalArgumentException if it is negative
   */
  public MaterialReader withExpiryWarning(Duration before) {
    return new MaterialReader(surveyor.withExpiryWarning(before), passwords);
  }

  /**
   * Reads files, and everything in folders. What can't be read does not end the reading: it is
   * among the {@link Material#findings()}.
   *
   * @param paths files and folders, at least one
   * @return the material
   * @throws IllegalArgumentException if there is none
   */
  public Material read(Path... paths) {
    if (paths.length == 0) {
      throw new IllegalArgumentException("nothing to read");
    }
    return new Material(surveyor.survey(List.of(paths)));
  }

  /**
   * {@return the same}
   *
   * @param paths files and folders
   */
  public Material read(Collection<Path> paths) {
    return read(paths.toArray(Path[]::new));
  }

  /**
   * Reads octets that lie in no file: PEM, DER, PKCS#12, PKCS#7, JKS or JCEKS.
   *
   * @param name what to call them in findings
   * @param content the octets; not kept
   * @return the material
   */
  public Material read(String name, byte[] content) {
    return read(Map.of(name, content));
  }

  /**
   * Reads several pieces of octets as if they were files.
   *
   * @param contents the octets by the names that they have in findings
   * @return the material
   */
  public Material read(Map<String, byte[]> contents) {
    List<FileSurvey> files = new ArrayList<>();
    contents.forEach((name, content) -> files.add(surveyor.read(Path.of(name), content)));
    return new Material(surveyor.together(files));
  }

  /**
   * Reads a keystore of the platform, of any kind whose keys can be taken out. Secret keys, which
   * have no certificates, are not read.
   *
   * @param keystore the keystore, loaded
   * @param keyPassword the password of its keys; not kept
   * @return the material
   * @throws SymbolonException if the platform does not hand its keys out
   */
  public Material read(KeyStore keystore, char[] keyPassword) {
    char[] passing = PASSING.toCharArray();
    byte[] content = new byte[0];
    try (Secret secret = Secret.of(passing, "memory")) {
      KeyStore copy = KeyStore.getInstance("PKCS12");
      copy.load(null, passing);
      for (String alias : java.util.Collections.list(keystore.aliases())) {
        if (keystore.isCertificateEntry(alias)) {
          copy.setCertificateEntry(alias, keystore.getCertificate(alias));
        } else if (keystore.isKeyEntry(alias) && keystore.getCertificateChain(alias) != null) {
          copy.setKeyEntry(
              alias,
              keystore.getKey(alias, keyPassword),
              passing,
              keystore.getCertificateChain(alias));
        }
      }
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      copy.store(out, passing);
      content = out.toByteArray();
      return withPasswords(secret).read("the keystore in memory", content);
    } catch (GeneralSecurityException | IOException e) {
      throw new SymbolonException(
          Reason.UNREADABLE,
          "The keystore in memory can't be read.",
          String.valueOf(e.getMessage()),
          Remedy.of("Check the password of its keys, and whether its keys may leave it."),
          e);
    } finally {
      Arrays.fill(content, (byte) 0);
      Arrays.fill(passing, '\0');
    }
  }
}
