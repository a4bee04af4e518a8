// SPDX-License-Identifier: Apache-2.0
package io.symbolon.describe;

import io.symbolon.describe.Description.WantedFile;
import io.symbolon.format.Format;
import io.symbolon.key.KeyForm;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Reads which files a described server is given. */
final class FilesReader {
  private static final Map<String, Format> FORMATS =
      Map.of(
          "pem", Format.PEM,
          "der", Format.DER,
          "pkcs12", Format.PKCS12,
          "jks", Format.JKS,
          "jceks", Format.JCEKS,
          "pkcs7", Format.PKCS7);
  private static final Map<String, KeyForm> FORMS =
      Map.of("pkcs8", KeyForm.PKCS8, "pkcs1", KeyForm.PKCS1, "sec1", KeyForm.SEC1);

  private final Mistakes mistakes;

  FilesReader(Mistakes mistakes) {
    this.mistakes = mistakes;
  }

  Map<String, WantedFile> read(YamlPart whole) {
    Map<String, WantedFile> files = new LinkedHashMap<>();
    Optional<YamlPart> all = whole.part("files");
    for (String name : all.map(YamlPart::names).orElse(List.of())) {
      if (!name.matches("[a-z][a-z0-9-]{0,39}")) {
        all.orElseThrow().wrong(name, "A name is of small letters, digits and dashes.");
      }
      all.flatMap(one -> one.part(name)).ifPresent(part -> files.put(name, file(name, part)));
    }
    if (files.values().stream().noneMatch(one -> one.holds().contains(Holds.KEY))) {
      whole.wrong("files", "No file holds the key: a server needs one.");
    }
    if (files.values().stream().noneMatch(one -> one.holds().contains(Holds.CERTIFICATE))) {
      whole.wrong("files", "No file holds the certificate: a server needs one.");
    }
    return files;
  }

  private WantedFile file(String name, YamlPart part) {
    part.only(
        "holds",
        "as",
        "name",
        "sealed",
        "key-password",
        "key-form",
        "alias",
        "alias-case",
        "keeps-others",
        "read-by",
        "owner",
        "group",
        "mode");
    Format format = part.word("as", FORMATS.keySet()).map(FORMATS::get).orElse(Format.PEM);
    boolean store = format.isStore();
    List<Holds> holds = holds(part, format);
    boolean sealed = store || part.yes("sealed");
    if (part.has("sealed") && !sealed && store) {
      part.wrong("sealed", "A store always has a password.");
    }
    if (sealed && !store && !holds.contains(Holds.KEY)) {
      part.wrong("sealed", "Only a key can be sealed.");
    }
    if (sealed && format == Format.DER) {
      part.wrong("sealed", "A sealed key is written as PEM or into a store.");
    }
    for (String only : List.of("alias", "alias-case", "key-password", "keeps-others")) {
      if (part.has(only) && !store) {
        part.wrong(only, YamlPart.quoted(only) + " is for keystores.");
      }
    }
    return new WantedFile(
        name,
        holds,
        format,
        path(part),
        sealed,
        part.word("key-password", Set.of("same", "other")).orElse("same").equals("other"),
        form(part, sealed),
        template(part, "alias", Set.of("host", "short", "server")),
        part.word("alias-case", Set.of("lower", "upper")).map("upper"::equals),
        part.yes("keeps-others"),
        part.word("read-by", Set.of("account", "root")).orElse("account").equals("root"),
        part.text("owner"),
        part.text("group"),
        mode(part, holds, sealed));
  }

  private List<Holds> holds(YamlPart part, Format format) {
    Map<String, Holds> known =
        java.util.Arrays.stream(Holds.values())
            .collect(Collectors.toMap(Holds::word, one -> one, (a, b) -> a, LinkedHashMap::new));
    List<Holds> holds = new ArrayList<>();
    for (String word : part.list("holds")) {
      Holds one = known.get(word);
      if (one == null) {
        part.wrong(
            "holds",
            YamlPart.quoted(word) + " is not one of " + String.join(", ", known.keySet()) + ".");
      } else if (holds.contains(one)) {
        part.wrong("holds", YamlPart.quoted(word) + " is there twice.");
      } else {
        holds.add(one);
      }
    }
    if (holds.isEmpty()) {
      part.wrong("holds", "'holds' is missing: what is in the file, in order.");
    }
    boolean server = holds.stream().anyMatch(Holds::isOfServer);
    boolean clients = holds.contains(Holds.TRUST);
    if (clients && holds.contains(Holds.KEY)) {
      part.wrong("holds", "Do not put trusted authorities into a file with a private key.");
    } else if (clients && server) {
      part.wrong("holds", "Whom the server trusts stands in a file of its own.");
    }
    if (format == Format.DER && holds.size() > 1) {
      part.wrong("holds", "DER holds one thing.");
    }
    if (format == Format.PKCS7 && holds.contains(Holds.KEY)) {
      part.wrong("holds", "PKCS#7 holds no key.");
    }
    if (format.isStore() && holds.contains(Holds.KEY) && !holds.contains(Holds.CERTIFICATE)) {
      part.wrong("holds", "A keystore holds a key with its certificate.");
    }
    if (format.isStore() && holds.contains(Holds.LISTS)) {
      part.wrong("holds", "Revocation lists stand in a file of their own.");
    }
    return holds;
  }

  private Template path(YamlPart part) {
    String name = part.needed("name");
    SettingsReader.outside(name).ifPresent(what -> part.wrong("name", what));
    return template(part, "name", Set.of("host", "short", "server", "home"))
        .orElse(Template.of(""));
  }

  private static KeyForm form(YamlPart part, boolean sealed) {
    KeyForm form = part.word("key-form", FORMS.keySet()).map(FORMS::get).orElse(KeyForm.PKCS8);
    if (sealed && form != KeyForm.PKCS8) {
      part.wrong("key-form", "A sealed key is written as PKCS#8.");
    }
    return form;
  }

  private Optional<Template> template(YamlPart part, String name, Set<String> known) {
    Optional<String> text = part.text(name);
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Template.mistake(text.get()).ifPresent(what -> part.wrong(name, what));
    Template template = Template.of(text.get());
    for (String each : template.names()) {
      if (!known.contains(each)) {
        mistakes.add(
            part.line(name),
            "{"
                + each
                + "} is not one of "
                + String.join(", ", new java.util.TreeSet<>(known))
                + ".");
      }
    }
    return Optional.of(template);
  }

  /** Whether its owner alone, and perhaps its group, may read it. */
  private static boolean mode(YamlPart part, List<Holds> holds, boolean sealed) {
    boolean secret = sealed || holds.contains(Holds.KEY);
    Optional<String> mode = part.text("mode");
    if (mode.isEmpty()) {
      return secret;
    }
    String octal = mode.get().replaceFirst("^0", "");
    if (!Set.of("600", "640", "644").contains(octal)) {
      part.wrong("mode", YamlPart.quoted(mode.get()) + " is not 0600, 0640 or 0644.");
    } else if (octal.equals("644") && secret) {
      part.wrong("mode", "A file with a key is not for everybody: 0600, or 0640 with a group.");
    } else if (octal.equals("640") != part.has("group")) {
      part.wrong("mode", "0640 goes with a group, and a group with 0640.");
    }
    return !octal.equals("644");
  }
}
