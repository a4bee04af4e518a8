// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli;

import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.YEAR;
import static io.symbolon.fixture.Lanternfish.issuing;
import static io.symbolon.fixture.Lanternfish.keyPem;
import static io.symbolon.fixture.Lanternfish.pem;
import static io.symbolon.fixture.Lanternfish.root;

import io.symbolon.chain.Credential;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.Authority;
import io.symbolon.issue.Use;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.HostName;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Keys, chains and trust that made settings name, and the clients that ask. */
final class MadeFiles {
  static final List<String> NAMES =
      List.of(
          "ingest.lanternfish.example",
          "catalogue.lanternfish.example",
          "archive.lanternfish.example");
  private static final Authority STRANGER =
      Authority.root(Lanternfish.name("Reef Root"), KeyKind.EC_P256, NOW, YEAR, Lanternfish.RANDOM);
  static final Map<String, Credential> CLIENTS =
      Map.of(
          "own",
          ISSUING.issue(
              Lanternfish.name("buoy-17"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR),
          "reef",
          STRANGER.issue(
              Lanternfish.name("reef-3"), KeyKind.EC_P256, List.of(), Use.CLIENT, NOW, YEAR));

  /** A credential in files: key, chain, and both in one. */
  record Shown(String name, boolean ec, Path key, Path chain, Path both, String leaf) {}

  private final Path folder;
  private final Map<String, Shown> shown = new HashMap<>();
  private final Map<String, String> leaves = new HashMap<>();
  private int fresh;

  MadeFiles(Path folder) throws IOException {
    this.folder = Files.createDirectories(folder);
    Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
    write("own.pem", pem(issuing(), root()));
    write("reef.pem", pem(STRANGER.certificate()));
    write("all.pem", pem(root(), issuing(), STRANGER.certificate()));
    for (String name : NAMES) {
      for (boolean ec : new boolean[] {false, true}) {
        shown.put(
            name + ec, made(name, ec, name.substring(0, name.indexOf('.')) + (ec ? "-ec" : "")));
      }
    }
  }

  Shown of(String name, boolean ec) {
    return Objects.requireNonNull(shown.get(name + ec));
  }

  /** The name and the kind of key of a certificate. */
  String kindOf(String leaf) {
    return leaves.getOrDefault(leaf, leaf);
  }

  /** A new credential for a name, as after a renewal. */
  Shown fresh(String name, boolean ec) throws IOException {
    return made(name, ec, "fresh-" + ++fresh);
  }

  /** {@code own}, {@code reef} or {@code all}. */
  Path trust(String whose) {
    return folder.resolve(whose + ".pem");
  }

  private Shown made(String name, boolean ec, String file) throws IOException {
    Credential credential =
        ISSUING.issue(
            Lanternfish.name(name),
            ec ? KeyKind.EC_P256 : KeyKind.RSA_2048,
            List.of(HostName.parse(name), HostName.parse("*.lanternfish.example")),
            Use.SERVER,
            NOW.minusSeconds(60),
            YEAR);
    byte[] chain = pem(credential.certificate(), issuing());
    ByteArrayOutputStream both = new ByteArrayOutputStream();
    both.writeBytes(chain);
    both.writeBytes(keyPem(credential));
    leaves.put(credential.certificate().sha256(), name + (ec ? " EC" : " RSA"));
    return new Shown(
        name,
        ec,
        write(file + ".key", keyPem(credential)),
        write(file + ".pem", chain),
        write(file + "-both.pem", both.toByteArray()),
        credential.certificate().sha256());
  }

  private Path write(String name, byte[] content) throws IOException {
    Path file = Files.write(folder.resolve(name), content);
    Files.setPosixFilePermissions(
        file,
        PosixFilePermissions.fromString(
            name.endsWith(".key") || name.endsWith("-both.pem") ? "rw-------" : "rw-r--r--"));
    return file;
  }
}
