// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.survey.Holding;
import io.symbolon.survey.Labels;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Chooses entries by name and gives them new ones. */
final class Chooser {
  private static final int LISTED = 12;

  private final ConvertOptions options;
  private final Set<String> unused;
  private final Set<String> unusedLeftOut;
  private final Set<String> unusedRenames;

  private Chooser(ConvertOptions options) {
    this.options = options;
    this.unused = new LinkedHashSet<>(options.aliases());
    this.unusedLeftOut = new LinkedHashSet<>(options.leftOut());
    this.unusedRenames = new LinkedHashSet<>(options.renames().keySet());
  }

  /**
   * The entries that are wanted, under their new names.
   *
   * @throws SymbolonException if a name belongs to no entry; the message lists those there are
   */
  static PackedContents choose(PackedContents contents, ConvertOptions options) {
    return new Chooser(options).choose(contents);
  }

  private PackedContents choose(PackedContents contents) {
    List<FoundKey> keys = new ArrayList<>();
    for (FoundKey key : contents.keys()) {
      boolean leftOut = isLeftOut(contents, key.labels(), key.names());
      if (isWanted(key.names()) && !leftOut) {
        keys.add(key.with(renamed(key.labels(), key.names())));
      }
    }
    List<Holding.Cert> certificates = new ArrayList<>();
    for (Holding.Cert cert : contents.certificates()) {
      boolean leftOut = isLeftOut(contents, cert.labels(), names(cert));
      if (isWanted(names(cert)) && !leftOut) {
        certificates.add(
            new Holding.Cert(
                cert.place(), renamed(cert.labels(), names(cert)), cert.certificate()));
      }
    }
    List<Holding.Request> requests =
        contents.requests().stream()
            .filter(r -> isWanted(r.request().subject().commonName().stream().toList()))
            .toList();
    boolean all = options.aliases().isEmpty();
    missing(contents, unused);
    missing(contents, unusedLeftOut);
    missing(contents, unusedRenames);
    return new PackedContents(
        keys,
        certificates,
        requests,
        all ? contents.publicKeys() : List.of(),
        all ? contents.revocationLists() : List.of(),
        all ? contents.secretKeys() : 0,
        contents.names(),
        contents.stores());
  }

  private static List<String> names(Holding.Cert cert) {
    List<String> names = new ArrayList<>(cert.alias().stream().toList());
    cert.certificate().subject().commonName().ifPresent(names::add);
    return names;
  }

  private boolean isWanted(List<String> names) {
    if (options.aliases().isEmpty()) {
      return true;
    }
    boolean wanted = false;
    for (String alias : options.aliases()) {
      if (names.stream().anyMatch(alias::equalsIgnoreCase)) {
        unused.remove(alias);
        wanted = true;
      }
    }
    return wanted;
  }

  /** An alias names one entry; a common name may be that of several, and counts only without it. */
  private boolean isLeftOut(PackedContents contents, Labels labels, List<String> names) {
    boolean leftOut = false;
    for (String name : options.leftOut()) {
      boolean isAlias =
          contents.keys().stream().anyMatch(key -> isNamed(key.labels(), name))
              || contents.certificates().stream().anyMatch(cert -> isNamed(cert.labels(), name));
      if (isAlias ? isNamed(labels, name) : names.stream().anyMatch(name::equalsIgnoreCase)) {
        unusedLeftOut.remove(name);
        leftOut = true;
      }
    }
    return leftOut;
  }

  private static boolean isNamed(Labels labels, String name) {
    return labels.alias().filter(name::equalsIgnoreCase).isPresent();
  }

  private Labels renamed(Labels labels, List<String> names) {
    for (Map.Entry<String, String> rename : options.renames().entrySet()) {
      if (names.stream().anyMatch(rename.getKey()::equalsIgnoreCase)) {
        unusedRenames.remove(rename.getKey());
        return new Labels(
            Optional.of(rename.getValue()),
            labels.localKeyId(),
            labels.created(),
            labels.trusted(),
            labels.entry());
      }
    }
    return labels;
  }

  private static void missing(PackedContents contents, Set<String> unused) {
    if (unused.isEmpty()) {
      return;
    }
    Set<String> there = new LinkedHashSet<>();
    contents.keys().forEach(key -> there.add(key.names().get(0)));
    contents.certificates().forEach(cert -> names(cert).stream().findFirst().ifPresent(there::add));
    String listed =
        there.stream()
            .limit(LISTED)
            .map(name -> "'" + VisibleText.of(name) + "'")
            .collect(Collectors.joining(", "));
    String wanted = unused.iterator().next();
    throw new SymbolonException(
        Reason.NOT_FOUND,
        "There is no entry '" + VisibleText.of(wanted) + "' among the files.",
        there.isEmpty()
            ? "No entry has a name."
            : "There are "
                + listed
                + (there.size() > LISTED ? " and " + (there.size() - LISTED) + " more" : "")
                + ".",
        "Name one of these; upper and lower case do not count.");
  }

  /** The heads of chains: certificates that issued none of the others. */
  static List<Certificate> heads(List<Certificate> certificates) {
    Set<Object> issuers = new java.util.HashSet<>();
    for (Certificate certificate : certificates) {
      if (!certificate.isSelfSigned()) {
        issuers.add(certificate.issuer());
      }
    }
    List<Certificate> heads =
        certificates.stream().filter(c -> !issuers.contains(c.subject())).toList();
    return heads.isEmpty() ? certificates : heads;
  }
}
