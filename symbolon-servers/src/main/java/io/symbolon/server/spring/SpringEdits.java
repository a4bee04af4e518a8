// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.spring;

import io.symbolon.lossless.DottedText;
import io.symbolon.lossless.Edits;
import io.symbolon.lossless.PropertiesText;
import io.symbolon.lossless.SourceText;
import io.symbolon.lossless.YamlText;
import io.symbolon.server.Installation;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.text.SettingEdits;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Settings of a program where each of them counts: replaced where it stands, else put into the file
 * that counts most, else into a new one.
 */
final class SpringEdits {
  private SpringEdits() {}

  /**
   * The files that change.
   *
   * @param wanted names with their values
   * @param unwanted names that are to be gone, where they stand in a file that can be changed
   */
  static List<FileChange> of(
      Installation installation,
      SpringFiles files,
      Map<String, String> wanted,
      List<String> unwanted) {
    SettingEdits edits = new SettingEdits();
    Map<String, String> fresh = new LinkedHashMap<>();
    wanted.forEach(
        (name, value) -> {
          Optional<SpringFiles.Setting> there = files.setting(name);
          boolean same = there.filter(one -> one.named().value().equals(value)).isPresent();
          if (there.isPresent() && !same && files.isWritable(there.get().document())) {
            there
                .get()
                .document()
                .replace(edits.of(there.get().document().source()), there.get().named(), value);
          } else if (!same) {
            fresh.put(name, value);
          }
        });
    Map<DottedText, List<DottedText.Named>> away = new LinkedHashMap<>();
    for (String name : unwanted) {
      files.all(name).stream()
          .filter(one -> files.isWritable(one.document()))
          .filter(one -> !wanted.containsKey(name))
          .forEach(
              one ->
                  away.computeIfAbsent(one.document(), document -> new ArrayList<>())
                      .add(one.named()));
    }
    List<FileChange> changes = new ArrayList<>();
    Optional<DottedText> main = files.main();
    if (!fresh.isEmpty() && main.isPresent()) {
      away.computeIfAbsent(main.get(), document -> new ArrayList<>());
    } else if (!fresh.isEmpty()) {
      changes.add(made(installation, fresh));
    }
    away.forEach(
        (document, old) ->
            document.change(
                edits.of(document.source()),
                old,
                main.filter(one -> one == document).isPresent() ? fresh : Map.of()));
    changes.addAll(edits.changes(files.files()::octets, files.files()::snapshot));
    return changes;
  }

  /** A new file beside the jar. */
  private static FileChange made(Installation installation, Map<String, String> fresh) {
    boolean properties = installation.main().toString().endsWith(".properties");
    SourceText empty = SpringFiles.text(installation.main(), new byte[0]);
    Edits edits = new Edits(empty);
    DottedText document = properties ? PropertiesText.read(empty) : YamlText.read(empty);
    document.change(edits, List.of(), fresh);
    return FileChange.newSettings(
        installation.main(), edits.apply().getBytes(StandardCharsets.UTF_8));
  }
}
