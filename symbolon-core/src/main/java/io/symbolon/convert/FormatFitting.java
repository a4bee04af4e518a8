// SPDX-License-Identifier: Apache-2.0
package io.symbolon.convert;

import io.symbolon.entry.StoreEntry;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.format.Format;
import io.symbolon.join.Aliases;
import io.symbolon.key.KeyForm;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import io.symbolon.remedy.Remedy;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Fits a bundle to a format: leaves out what the format has no place for, and says so. It is said
 * before anything is written.
 */
final class FormatFitting {
  private final Format target;
  private final String where;
  private final List<Finding> findings = new ArrayList<>();

  private FormatFitting(Format target, String where) {
    this.target = target;
    this.where = where;
  }

  /**
   * A bundle that a format can hold.
   *
   * @param findings what was left out of it, or changed
   */
  record Fitted(Bundle bundle, List<Finding> findings) {}

  static Fitted fit(Bundle bundle, Format target, String where, KeyForm form) {
    FormatFitting fitting = new FormatFitting(target, where);
    Bundle fitted = WrittenFormat.of(target).fit().fit(fitting, bundle, form);
    return new Fitted(fitted, List.copyOf(fitting.findings));
  }

  Bundle bare(Bundle bundle, KeyForm form) {
    labels(bundle, "the aliases");
    List<StoreEntry.KeyEntry> keys = bundle.credentials();
    if (keys.stream().anyMatch(key -> key.own().isPresent())) {
      note(
          FindingKind.KEY_PASSWORD_LEFT,
          "A key's own password is not kept: all keys get the same one.");
    }
    if (form != KeyForm.PKCS8 && keys.stream().anyMatch(key -> key.key().hasExtras())) {
      note(
          FindingKind.KEY_ATTRIBUTES_LEFT_OUT,
          form.title() + " has no place for the attributes that stand beside the private key.");
    }
    return bundle;
  }

  Bundle pkcs12(Bundle bundle) {
    leaveOut(bundle.requests().size(), "request");
    leaveOut(bundle.publicKeys().size(), "public key");
    long dated =
        bundle.entries().stream()
            .filter(e -> e instanceof StoreEntry.Trusted t && t.created().isPresent())
            .count();
    if (dated > 0) {
      note(
          FindingKind.DATES_LEFT_OUT,
          "PKCS#12 has no place for the dates at which trusted certificates were added.");
    }
    ownPasswords(bundle);
    return new Bundle(bundle.entries(), List.of(), List.of(), bundle.names());
  }

  private void ownPasswords(Bundle bundle) {
    for (StoreEntry.KeyEntry key : bundle.credentials()) {
      key.own()
          .ifPresent(
              own ->
                  findings.add(
                      Finding.of(
                          FindingKind.KEY_PASSWORD_KEPT,
                          where,
                          "The key '"
                              + VisibleText.of(key.alias())
                              + "' keeps the password of its own (from "
                              + VisibleText.of(own.source())
                              + ").",
                          Remedy.of(
                              "It can be given another.", Action.again(Input.KEY_PASSWORD)))));
    }
  }

  Bundle javaStore(Bundle bundle) {
    leaveOut(bundle.requests().size(), "request");
    leaveOut(bundle.publicKeys().size(), "public key");
    leaveOut(bundle.revocationLists().size(), "revocation list");
    List<String> lost = new ArrayList<>();
    if (bundle.credentials().stream().anyMatch(FormatFitting::hasIdOfItsOwn)) {
      lost.add("local key ids");
    }
    if (!bundle.names().isEmpty()) {
      lost.add("names of certificates inside a chain");
    }
    if (!lost.isEmpty()) {
      note(
          FindingKind.NAMES_LEFT_OUT,
          target.title() + " has no place for " + String.join(" and ", lost) + ".");
    }
    ownPasswords(bundle);
    Set<String> taken = new HashSet<>();
    List<String> lowered = new ArrayList<>();
    for (StoreEntry entry : bundle.entries()) {
      if (entry instanceof StoreEntry.KeyEntry || entry instanceof StoreEntry.Trusted) {
        String alias = entry.name().orElse("");
        taken.add(alias.toLowerCase(Locale.ENGLISH));
        if (!alias.equals(alias.toLowerCase(Locale.ENGLISH))) {
          lowered.add(VisibleText.of(alias));
        }
      }
    }
    if (!lowered.isEmpty()) {
      note(
          FindingKind.ALIAS_IN_LOWER_CASE,
          "Java looks for aliases in lower case; so they are written: "
              + lowered.stream().limit(5).collect(Collectors.joining(", "))
              + (lowered.size() > 5 ? " and " + (lowered.size() - 5) + " more" : "")
              + ".");
    }
    List<StoreEntry> entries = new ArrayList<>();
    int madeTrusted = 0;
    for (StoreEntry entry : bundle.entries()) {
      if (entry instanceof StoreEntry.Plain plain) {
        String alias =
            plain
                .name()
                .filter(name -> !name.isBlank() && taken.add(name.toLowerCase(Locale.ENGLISH)))
                .orElseGet(() -> Aliases.unique(plain.certificate(), taken));
        entries.add(new StoreEntry.Trusted(alias, plain.certificate()));
        madeTrusted++;
      } else if (!(entry instanceof StoreEntry.Crl)) {
        entries.add(entry);
      }
    }
    if (madeTrusted > 0) {
      note(
          FindingKind.BECOMES_TRUSTED,
          count(madeTrusted, "certificate")
              + (madeTrusted == 1 ? " that was" : " that were")
              + " only there without being trusted: in "
              + target.title()
              + " every certificate without a key is a trusted one.");
    }
    return new Bundle(entries, List.of(), List.of(), Map.of());
  }

  /** A local key id that is more than the moment at which the entry was made. */
  private static boolean hasIdOfItsOwn(StoreEntry.KeyEntry key) {
    return key.localKeyId().isPresent() && key.created().isEmpty();
  }

  Bundle pkcs7(Bundle bundle) {
    leaveOut(bundle.credentials().size(), "private key");
    leaveOut(bundle.requests().size(), "request");
    leaveOut(bundle.publicKeys().size(), "public key");
    labels(bundle, "the aliases");
    List<StoreEntry> entries = new ArrayList<>();
    for (Certificate certificate : bundle.certificates()) {
      entries.add(
          new StoreEntry.Plain(
              java.util.Optional.empty(), certificate, java.util.Optional.empty()));
    }
    entries.addAll(bundle.revocationLists());
    return Bundle.of(entries);
  }

  /** Aliases that come from a store are worth a word; those made up here are not. */
  private void labels(Bundle bundle, String what) {
    boolean dates =
        bundle.entries().stream()
            .anyMatch(
                e ->
                    (e instanceof StoreEntry.KeyEntry c && c.created().isPresent())
                        || (e instanceof StoreEntry.Trusted t && t.created().isPresent()));
    boolean ids = bundle.credentials().stream().anyMatch(FormatFitting::hasIdOfItsOwn);
    if (dates || ids) {
      note(
          FindingKind.NAMES_LEFT_OUT,
          target.title()
              + " has no place for "
              + what
              + (dates ? " and the dates of entries" : "")
              + (ids ? " and local key ids" : "")
              + ".");
    }
  }

  private void leaveOut(int count, String what) {
    if (count > 0) {
      findings.add(
          Finding.of(
              FindingKind.LEFT_OUT,
              where,
              count(count, what)
                  + (count == 1 ? " is" : " are")
                  + " left out: "
                  + target.title()
                  + " has no place for "
                  + (count == 1 ? "it." : "them."),
              Remedy.of(
                  "Write PEM to have everything, or choose which parts you want.",
                  Action.again(Input.PART))));
    }
  }

  private void note(FindingKind kind, String statement) {
    findings.add(Finding.of(kind, where, statement, ""));
  }

  private static String count(int count, String what) {
    return count + " " + what + (count == 1 ? "" : "s");
  }
}
