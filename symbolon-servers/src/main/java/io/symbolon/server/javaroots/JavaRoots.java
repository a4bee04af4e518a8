// SPDX-License-Identifier: Apache-2.0
package io.symbolon.server.javaroots;

import io.symbolon.convert.SealOptions;
import io.symbolon.convert.StoreEdit;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.file.Privacy;
import io.symbolon.finding.Finding;
import io.symbolon.finding.FindingKind;
import io.symbolon.join.Aliases;
import io.symbolon.remedy.Input;
import io.symbolon.seal.Secret;
import io.symbolon.server.ClientKind;
import io.symbolon.server.ClientProposal;
import io.symbolon.server.machine.FileChange;
import io.symbolon.server.machine.FileView;
import io.symbolon.server.machine.JavaHome;
import io.symbolon.server.machine.Machine;
import io.symbolon.server.place.FileRole;
import io.symbolon.server.place.Origin;
import io.symbolon.server.place.UsedFile;
import io.symbolon.server.wish.ClientWish;
import io.symbolon.survey.Surveyor;
import io.symbolon.text.VisibleText;
import io.symbolon.x509.Certificate;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.SecureRandom;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The truststore of a whole Java: one authority more, and everything else as it is. */
public final class JavaRoots implements ClientKind {
  /** Made by the registry of clients. */
  public JavaRoots() {}

  @Override
  public String name() {
    return "java-roots";
  }

  @Override
  public String title() {
    return "All programs of a Java";
  }

  @Override
  public ClientProposal propose(Machine machine, ClientWish wish, Surveyor surveyor) {
    if (wish.credential().isPresent()) {
      throw new SymbolonException(
          Reason.INVALID_ARGUMENT,
          "Nothing was changed.",
          "Programs of a Java share whom they trust, not what they show.",
          "Leave "
              + Input.CREDENTIAL.mention()
              + " out, or give it to one program: symbolon configure java.");
    }
    Path roots = JavaHome.roots(machine, wish.home());
    Secret usual = Secret.of("changeit".toCharArray(), "its usual password");
    StoreEdit edit = StoreEdit.open(roots, surveyor.withMoreUnlock(usual));
    byte[] before =
        machine
            .files()
            .read(roots, io.symbolon.limit.Limits.FILE_BYTES)
            .map(FileView.ReadFile::octets)
            .orElseThrow();
    boolean there = edit.trusted().containsAll(wish.trust());
    byte[] after =
        there
            ? before
            : edit.withTrusted(added(edit, wish))
                .encode(
                    roots.toString(),
                    SealOptions.sealed(edit.password()).with(edit.strength()),
                    new SecureRandom())
                .content();
    if (!there) {
      checkReadable(roots, after, edit.trusted().size());
    }
    FileChange change =
        new FileChange(
            roots,
            Optional.of(before),
            Optional.of(edit.snapshot()),
            after,
            false,
            "what was there, and the new authorities",
            Privacy.SYSTEM_DEFAULT,
            Optional.empty());
    return new ClientProposal(
        roots,
        List.of(change),
        List.of(),
        List.of(
            UsedFile.of(FileRole.TRUST, roots, "truststore of the Java", new Origin(roots, 1))
                .withPasswords(List.of(edit.password()))),
        List.of(),
        Optional.empty(),
        managed(machine, roots));
  }

  /** Those that are not there yet, under aliases that are free. */
  private static Map<String, Certificate> added(StoreEdit edit, ClientWish wish) {
    Set<String> taken = new HashSet<>();
    edit.aliases().forEach(alias -> taken.add(alias.toLowerCase(Locale.ROOT)));
    Map<String, Certificate> added = new LinkedHashMap<>();
    for (Certificate one : wish.trust()) {
      if (!edit.trusted().contains(one)) {
        added.put(Aliases.unique(one, taken), one);
      }
    }
    return added;
  }

  /** A Java opens this file without a password: what it sees then must be all of it. */
  private static void checkReadable(Path roots, byte[] store, int least) {
    int seen;
    try {
      KeyStore read = KeyStore.getInstance("JKS"); // it opens PKCS#12 as well
      read.load(new ByteArrayInputStream(store), null);
      seen = read.size();
    } catch (GeneralSecurityException | IOException e) {
      seen = 0;
    }
    if (seen <= least) {
      throw new SymbolonException(
          Reason.NOT_WRITABLE,
          "The truststore " + VisibleText.of(roots.toString()) + " was not changed.",
          "It has no password, and a Java would not see all of its entries with one.",
          "Give the authority to one program: symbolon configure java.");
    }
  }

  /** Systems make this file anew from their own list of authorities. */
  private static List<Finding> managed(Machine machine, Path roots) {
    boolean debian = roots.startsWith(machine.path("/etc/ssl/certs"));
    boolean other = roots.startsWith(machine.path("/etc/pki"));
    return debian || other
        ? List.of(
            Finding.of(
                FindingKind.MANAGED_ELSEWHERE,
                VisibleText.of(roots.toString()),
                "The system makes this file anew from its own list of authorities, and every Java"
                    + " that links to it is changed.",
                debian
                    ? "Put the authority into /usr/local/share/ca-certificates as well, or give it"
                        + " to one program: symbolon configure java."
                    : "Put the authority into /etc/pki/ca-trust/source/anchors as well, or give it"
                        + " to one program: symbolon configure java."))
        : List.of();
  }
}
