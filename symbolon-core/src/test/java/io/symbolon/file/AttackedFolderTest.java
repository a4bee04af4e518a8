// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.remedy.Action;
import io.symbolon.remedy.Input;
import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermissions;
import java.nio.file.attribute.UserPrincipal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * Root writes into a folder of another account, which swaps whatever it can between any two steps.
 * The account acts here through root's own hands, at exactly the moment that a race would have to
 * hit, and does only what the owner of a folder may.
 */
class AttackedFolderTest {
  private static final byte[] KEY = "the private key".getBytes(StandardCharsets.UTF_8);

  @TempDir Path temp;
  private UserPrincipal service;
  private Path app;
  private Path precious;
  private Path vault;

  @BeforeEach
  void folders() throws IOException {
    assumeTrue(Files.getOwner(Path.of("/proc/self")).getName().equals("root"), "needs root");
    service = temp.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("nobody");
    Files.setPosixFilePermissions(temp, PosixFilePermissions.fromString("rwxr-xr-x"));
    app = Files.createDirectory(temp.resolve("app"));
    vault = Files.createDirectory(temp.resolve("vault"));
    Files.setPosixFilePermissions(vault, PosixFilePermissions.fromString("rwx------"));
    precious = Files.writeString(vault.resolve("precious"), "root's own");
    Files.setPosixFilePermissions(precious, PosixFilePermissions.fromString("rw-------"));
    Files.setOwner(app, service);
  }

  private Path keystore() throws IOException {
    Path store = Files.writeString(app.resolve("keystore.p12"), "the old one");
    Files.setPosixFilePermissions(store, PosixFilePermissions.fromString("rw-------"));
    Files.setOwner(store, service);
    return store;
  }

  /** What the account does between two steps. */
  private enum Attack {
    LINK_FOR_NEW_NAMES {
      @Override
      void now(AttackedFolderTest test) throws IOException {
        for (Path one : test.names(test.app)) {
          if (one.getFileName().toString().startsWith(".symbolon-")) {
            test.replaceByLink(one, test.precious);
          }
        }
      }
    },
    LINK_TO_FOLDER_FOR_NEW_NAMES {
      @Override
      void now(AttackedFolderTest test) throws IOException {
        for (Path one : test.names(test.app)) {
          if (one.getFileName().toString().startsWith(".symbolon-")) {
            test.replaceByLink(one, test.vault);
          }
        }
      }
    },
    HARD_LINK_FOR_NEW_NAMES {
      @Override
      void now(AttackedFolderTest test) throws IOException {
        for (Path one : test.names(test.app)) {
          if (one.getFileName().toString().startsWith(".symbolon-")) {
            test.moveAway(one);
            Files.createLink(one, test.precious);
          }
        }
      }
    },
    LINK_FOR_TARGET {
      @Override
      void now(AttackedFolderTest test) throws IOException {
        test.replaceByLink(test.app.resolve("keystore.p12"), test.precious);
      }
    },
    LINK_FOR_FOLDER {
      @Override
      void now(AttackedFolderTest test) throws IOException {
        // The folder around it is the account's as well, in this case.
        test.replaceByLink(test.app, test.vault);
      }
    };

    abstract void now(AttackedFolderTest test) throws IOException;
  }

  private List<Path> names(Path folder) throws IOException {
    if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
      return List.of();
    }
    try (Stream<Path> files = Files.list(folder)) {
      return files.toList();
    }
  }

  private void moveAway(Path one) throws IOException {
    Files.move(one, temp.resolve("away-" + System.nanoTime()), StandardCopyOption.ATOMIC_MOVE);
  }

  private void replaceByLink(Path one, Path target) throws IOException {
    if (Files.exists(one, LinkOption.NOFOLLOW_LINKS)) {
      moveAway(one);
    }
    Files.createSymbolicLink(one, target);
  }

  @ParameterizedTest
  @EnumSource
  void noSwapAtAnyMomentHandsOverAnotherFile(Attack attack) throws IOException {
    for (int moment = 0; ; moment++) {
      Path root = temp.resolve(".");
      for (Path left : names(root)) {
        if (!left.endsWith("vault") && !left.getFileName().toString().startsWith("away")) {
          deleteAll(left);
        }
      }
      app = Files.createDirectory(temp.resolve("app"));
      Files.setOwner(app, service);
      Path store = keystore();
      int at = moment;
      int[] done = {0};
      WatchedFolder.Watcher watcher =
          name -> {
            if (done[0]++ == at) {
              attack.now(this);
            }
          };
      try {
        FileSet.write(
            List.of(new FileItem(store, KEY, Privacy.OWNER_ONLY, Existing.REPLACE)),
            List.of(),
            () -> {},
            folder -> new WatchedFolder(FolderOpening.open(folder), watcher),
            Instant.now());
      } catch (SymbolonException e) {
        assertTrue(e.reason() == Reason.NOT_WRITABLE || e.reason() == Reason.CHANGED, e.toString());
      }
      nothingWasHandedOver(attack + " at " + moment);
      if (done[0] <= moment) {
        assertTrue(moment > 10, "there are many moments");
        return;
      }
    }
  }

  private void nothingWasHandedOver(String when) throws IOException {
    PosixFileAttributes attributes =
        Files.readAttributes(precious, PosixFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    assertEquals("root", attributes.owner().getName(), when);
    assertEquals("rw-------", PosixFilePermissions.toString(attributes.permissions()), when);
    assertEquals("root's own", Files.readString(precious), when);
    for (Path one : names(vault)) {
      assertTrue(
          one.equals(precious) || (Files.isDirectory(one) && names(one).isEmpty()),
          when + ": " + one);
    }
    try (Stream<Path> files = Files.walk(temp)) {
      for (Path file :
          files.filter(one -> Files.isRegularFile(one, LinkOption.NOFOLLOW_LINKS)).toList()) {
        if (java.util.Arrays.equals(Files.readAllBytes(file), KEY)) {
          String mode = PosixFilePermissions.toString(Files.getPosixFilePermissions(file));
          assertEquals("rw-------", mode, when + ": " + file);
        }
      }
    }
  }

  private static void deleteAll(Path path) throws IOException {
    if (Files.isDirectory(path, LinkOption.NOFOLLOW_LINKS)) {
      try (Stream<Path> files = Files.list(path)) {
        for (Path one : files.toList()) {
          deleteAll(one);
        }
      }
    }
    Files.deleteIfExists(path);
  }

  @Test
  void aReplacedFileOfTheAccountStaysTheAccounts() throws IOException {
    Path store = keystore();
    SafeFile.write(store, KEY, Privacy.OWNER_ONLY, Existing.REPLACE);
    assertEquals(service, Files.getOwner(store));
    assertArrayEquals(KEY, Files.readAllBytes(store));
    assertEquals(List.of(store), names(app), "nothing of Symbolon's lies beside it");
  }

  @Test
  void aNewKeyGoesIntoNoFolderThatOthersCanChangeUnlessItIsTheirs() throws IOException {
    Path store = app.resolve("new.p12");
    SymbolonException refused =
        assertThrows(
            SymbolonException.class,
            () -> SafeFile.write(store, KEY, Privacy.OWNER_ONLY, Existing.KEEP));
    assertEquals(Reason.NOT_WRITABLE, refused.reason());
    assertTrue(refused.seen().contains("belongs to nobody"), refused.seen());
    assertEquals(List.of(Action.again().with(Input.OWNER, "nobody")), refused.remedy().actions());
    assertEquals(List.of(), names(app));
    FileSet.write(
        List.of(
            new FileItem(store, KEY, Privacy.OWNER_ONLY, Existing.KEEP)
                .withOwner(Optional.of(Owner.parse("nobody")))));
    assertEquals(service, Files.getOwner(store));

    Path shared = Files.createDirectory(temp.resolve("shared"));
    for (String mode : List.of("rwxrwxrwx", "rwxrwxr-x")) {
      Files.setPosixFilePermissions(shared, PosixFilePermissions.fromString(mode));
      Files.setAttribute(
          shared,
          "unix:gid",
          Files.getAttribute(Path.of("/etc/group"), "unix:gid").equals(1) ? 2 : 1);
      assertThrows(
          SymbolonException.class,
          () -> SafeFile.write(shared.resolve("k.p12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP));
      SafeFile.write(
          shared.resolve("c-" + mode.hashCode()), KEY, Privacy.SYSTEM_DEFAULT, Existing.KEEP);
    }
  }

  @Test
  void aLinkOfTheAccountIsNotFollowedAndOneOfRootIs() throws IOException {
    Path link = Files.createSymbolicLink(app.resolve("conf"), vault);
    SymbolonException refused =
        assertThrows(
            SymbolonException.class,
            () -> SafeFile.write(link.resolve("x"), KEY, Privacy.SYSTEM_DEFAULT, Existing.KEEP));
    assertTrue(refused.seen().contains("conf"), refused.seen());
    assertEquals(List.of(precious), names(vault));
    Path own = Files.createSymbolicLink(temp.resolve("own"), vault);
    SafeFile.write(own.resolve("x"), KEY, Privacy.OWNER_ONLY, Existing.KEEP);
    assertTrue(Files.exists(vault.resolve("x")));
  }

  @Test
  void whatLiesBesideAFileIsNeverBroughtBack() throws IOException {
    Path store = keystore();
    Path planted = Files.createDirectory(app.resolve(".symbolon-undo"));
    Files.writeString(planted.resolve("20990503T142907.125Z+keystore.p12~"), "planted");
    Files.setPosixFilePermissions(planted, PosixFilePermissions.fromString("rwx------"));
    assertEquals(List.of(), Undo.versions(store));
    SafeFile.write(store, KEY, Privacy.OWNER_ONLY, Existing.REPLACE);
    Undo.Version version = Undo.versions(store).get(0);
    assertEquals(1, Undo.versions(store).size());
    assertEquals("the old one", Files.readString(version.kept()));
    assertFalse(version.kept().startsWith(app));
    Undo.bringBack(version);
    assertEquals("the old one", Files.readString(store));
    assertEquals(service, Files.getOwner(store));
  }

  @Test
  void aKeyThatWasKeptGoesIntoNoFolderThatSomebodyElseHasPutThere() throws IOException {
    Path store = keystore();
    SafeFile.write(store, KEY, Privacy.OWNER_ONLY, Existing.REPLACE);
    Files.move(app, temp.resolve("moved"));
    app = Files.createDirectory(temp.resolve("app"));
    Files.setOwner(app, service);
    Undo.Version version = Undo.versions(app).get(0);
    SymbolonException refused =
        assertThrows(SymbolonException.class, () -> Undo.bringBack(version));
    assertTrue(refused.seen().contains("belongs to the account nobody"), refused.seen());
    assertEquals(List.of(), names(app));
    Files.setOwner(app, Files.getOwner(vault));
    Undo.bringBack(version);
    assertEquals("the old one", Files.readString(store));
  }

  @Test
  void onlyOrdinaryFilesAreReplacedAndRead() throws IOException {
    Path socket = vault.resolve("s");
    try (ServerSocketChannel channel = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
      channel.bind(UnixDomainSocketAddress.of(socket));
      assertThrows(
          SymbolonException.class,
          () -> SafeFile.write(socket, KEY, Privacy.OWNER_ONLY, Existing.REPLACE));
      assertThrows(NotAFileException.class, () -> SafeRead.named(socket, 100, 100));
    }
    assertThrows(NotAFileException.class, () -> SafeRead.named(Path.of("/dev/zero"), 100, 100));
    Path link = Files.createSymbolicLink(app.resolve("link.pem"), precious);
    Files.setAttribute(
        link, "unix:uid", Files.getAttribute(app, "unix:uid"), LinkOption.NOFOLLOW_LINKS);
    assertThrows(NotAFileException.class, () -> SafeRead.named(link, 100, 100));
  }
}
