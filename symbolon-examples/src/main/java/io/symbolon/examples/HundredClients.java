// SPDX-License-Identifier: Apache-2.0
package io.symbolon.examples;

import io.symbolon.Keystores;
import io.symbolon.chain.Credential;
import io.symbolon.entry.Pkcs12Strength;
import io.symbolon.file.Existing;
import io.symbolon.file.Privacy;
import io.symbolon.file.SafeFile;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.issue.record.UndeliveredBatchException;
import io.symbolon.key.KeyKind;
import io.symbolon.seal.Secret;
import io.symbolon.x509.DistinguishedName;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * A hundred client credentials from an authority in a folder, each in a keystore with a password of
 * its own. Run it with a folder, and how many; without arguments it makes 100 in a temporary
 * folder.
 */
public final class HundredClients {
  private HundredClients() {}

  /** Founds the authority, issues, writes. */
  public static void main(String[] arguments) throws IOException {
    Path folder =
        arguments.length > 0 ? Path.of(arguments[0]) : Files.createTempDirectory("lanternfish");
    int clients = arguments.length > 1 ? Integer.parseInt(arguments[1]) : 100;
    Path stores = Files.createDirectories(folder.resolve("buoys"));
    SecureRandom random = new SecureRandom();
    try (Secret seal = Secret.random("the authority's own")) {
      SigningAuthority fleet =
          SigningAuthority.found(
              folder.resolve("fleet"),
              AuthorityPlan.of(
                  DistinguishedName.parse("CN=Lanternfish Fleet,O=Lanternfish Observatory"),
                  KeyKind.EC_P256,
                  Lifetime.years(5)),
              Optional.empty(),
              seal,
              random,
              Clock.systemUTC());
      List<SigningOrder> orders =
          IntStream.rangeClosed(1, clients)
              .mapToObj(number -> String.format("CN=buoy-%03d,OU=buoys", number))
              .map(DistinguishedName::parse)
              .map(name -> RequestDraft.of(name, List.of(), Use.CLIENT))
              .map(draft -> new SigningOrder(draft, Lifetime.days(90)))
              .toList();
      try {
        fleet.issue(orders, KeyKind.EC_P256, batch -> batch.forEach(one -> write(stores, one)));
      } catch (UndeliveredBatchException e) {
        // On record, but not all of them written: their keys are in e.credentials().
        System.out.println(e.statement() + " " + e.seen());
        System.exit(1);
      }
      System.out.println(
          "on record: " + fleet.folder().reconcile().issued().size() + ", in " + stores);
    }
  }

  /**
   * One store and its password. Sealing a store strongly costs some tenths of a second of processor
   * time: that makes guessing slow, and it is the larger part of what this program does.
   */
  private static void write(Path stores, Credential credential) {
    String name = credential.certificate().subject().commonName().orElseThrow();
    try (Secret password = Secret.random("a new password")) {
      byte[] store = Keystores.pkcs12(credential, name, password, Pkcs12Strength.STRONG);
      SafeFile.write(stores.resolve(name + ".p12"), store, Privacy.OWNER_ONLY, Existing.KEEP);
      byte[] text = password.revealUtf8();
      SafeFile.write(stores.resolve(name + ".pass"), text, Privacy.OWNER_ONLY, Existing.KEEP);
      Arrays.fill(text, (byte) 0);
    }
  }

  /** What a test reads a password of the example with. */
  static char[] password(Path store) throws IOException {
    Path file = Path.of(store.toString().replace(".p12", ".pass"));
    return Files.readString(file, StandardCharsets.UTF_8).toCharArray();
  }
}
