// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.text;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Snapshot;
import io.symbolon.limit.Limits;
import io.symbolon.lossless.SourceText;
import io.symbolon.remedy.Input;
import io.symbolon.server.machine.FileView;
import io.symbolon.text.VisibleText;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.function.Supplier;

/** The settings files of one server, each read once, and no more of them than is sound. */
public final class SettingsFiles {
  private final FileView files;
  private final String server;
  private final Map<Path, SourceText> sources = new LinkedHashMap<>();
  private final Map<Path, FileView.ReadFile> read = new HashMap<>();

  /**
   * None yet.
   *
   * @param files how they are read
   * @param server the server's name, for messages
   */
  public SettingsFiles(FileView files, String server) {
    this.files = files;
    this.server = server;
  }

  /**
   * {@return the text of a file; nothing if there is none}
   *
   * @param path the file
   * @throws SymbolonException if it can't be read, or there are too many
   */
  public Optional<SourceText> find(Path path) {
    return find(path, SourceText::of);
  }

  /**
   * {@return the text of a file; nothing if there is none}
   *
   * @param path the file
   * @param decoding makes text of its octets
   * @throws SymbolonException if it can't be read, or there are too many
   */
  public Optional<SourceText> find(Path path, BiFunction<Path, byte[], SourceText> decoding) {
    SourceText known = sources.get(path);
    if (known != null) {
      return Optional.of(known);
    }
    if (sources.size() >= Limits.SETTINGS_FILES) {
      throw tooMany();
    }
    Optional<FileView.ReadFile> content = files.read(path);
    if (content.isEmpty()) {
      return Optional.empty();
    }
    SourceText source = decoding.apply(path, content.get().octets());
    sources.put(path, source);
    read.put(path, content.get());
    return Optional.of(source);
  }

  /**
   * {@return the text of a file that must be there}
   *
   * @param path the file
   * @throws SymbolonException if it is not there or can't be read
   */
  public SourceText get(Path path) {
    return find(path)
        .orElseThrow(
            () ->
                new SymbolonException(
                    Reason.NOT_FOUND,
                    "The settings of " + server + " can't be read.",
                    "The file " + VisibleText.of(path.toString()) + " is not there.",
                    "Check the include lines, or name the settings with "
                        + Input.HOME.mention()
                        + "."));
  }

  /**
   * {@return the files of settings that are there, the main one first: whoever can change one of
   * them tells the server's program what to do}
   *
   * @param main the main file
   * @param all reads the settings; what can't be read names no file
   */
  public static List<Path> judged(Path main, Supplier<List<Path>> all) {
    Set<Path> files = new LinkedHashSet<>(List.of(main));
    try {
      files.addAll(all.get());
    } catch (SymbolonException e) {
      return List.of(main); // the server's own check says what is wrong with them
    }
    files.removeIf(file -> !file.equals(main) && !Files.exists(file));
    return List.copyOf(files);
  }

  /** {@return the files, in the order in which they were read} */
  public List<Path> paths() {
    return List.copyOf(sources.keySet());
  }

  /**
   * {@return what a file holds}
   *
   * @param source its text
   */
  public byte[] octets(SourceText source) {
    FileView.ReadFile content = read.get(source.path());
    return content == null ? new byte[0] : content.octets();
  }

  /**
   * {@return what tells that a file is still the one that was read}
   *
   * @param path the file
   */
  public Optional<Snapshot> snapshot(Path path) {
    FileView.ReadFile content = read.get(path);
    return content == null ? Optional.empty() : content.snapshot();
  }

  /** {@return the failure of settings with too many files} */
  public SymbolonException tooMany() {
    return new SymbolonException(
        Reason.LIMIT_PASSED,
        "The settings of " + server + " can't be read.",
        "They include more than " + Limits.SETTINGS_FILES + " files.",
        "Check the include lines.");
  }

  /**
   * {@return the failure of a file that includes itself}
   *
   * @param path the file
   */
  public SymbolonException loop(Path path) {
    return new SymbolonException(
        Reason.NOT_UNDERSTOOD,
        "The settings of " + server + " can't be read. Nothing was changed.",
        "The file " + VisibleText.of(path.toString()) + " includes itself.",
        "Take that include away, and give the command again.");
  }
}
