// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.limit.Limits;
import io.symbolon.lossless.SourceText;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Enumeration;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;

/**
 * A program packaged with Spring Boot, and what of its settings stands inside.
 *
 * @param file the jar
 * @param version the version of Spring Boot in it, where it tells
 * @param settings the settings files inside; they can't be changed there
 */
record PackagedJar(Path file, Optional<String> version, List<SourceText> settings) {
  private static final Pattern LIBRARY =
      Pattern.compile("BOOT-INF/lib/spring-boot-(\\d+\\.\\d+\\.\\d+)[^/]*\\.jar");
  private static final int MOST_ENTRIES = 50_000;

  /** The program in a jar; nothing where it is none of Spring Boot, or can't be read. */
  static Optional<PackagedJar> of(Path file) {
    try (ZipFile zip = new ZipFile(file.toFile())) {
      Optional<String> version = Optional.empty();
      boolean packaged = false;
      Enumeration<? extends ZipEntry> entries = zip.entries();
      for (int i = 0; entries.hasMoreElements() && i < MOST_ENTRIES; i++) {
        String name = entries.nextElement().getName();
        packaged |= name.startsWith("BOOT-INF/");
        Matcher library = LIBRARY.matcher(name);
        if (library.matches()) {
          version = Optional.of(library.group(1));
        }
      }
      return packaged
          ? Optional.of(new PackagedJar(file, version, inside(file, zip)))
          : Optional.empty();
    } catch (IOException | UnsupportedOperationException e) {
      return Optional.empty();
    }
  }

  private static List<SourceText> inside(Path file, ZipFile zip) throws IOException {
    List<SourceText> texts = new ArrayList<>();
    for (String name : SpringFiles.NAMES) {
      ZipEntry entry = zip.getEntry("BOOT-INF/classes/" + name);
      if (entry != null) {
        try (InputStream in = zip.getInputStream(entry)) {
          byte[] octets = in.readNBytes(Limits.SETTINGS_BYTES);
          texts.add(SpringFiles.text(Path.of(file + "!/" + name), octets));
        }
      }
    }
    return texts;
  }

  /** Whether it has what the settings that are written need: bundles that are reloaded. */
  boolean hasBundles() {
    if (version.isEmpty()) {
      return true;
    }
    String[] parts = version.get().split("\\.", -1);
    int major = Integer.parseInt(parts[0]);
    return major > 3 || (major == 3 && Integer.parseInt(parts[1]) >= 2);
  }
}
