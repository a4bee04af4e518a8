// SPDX-License-Identifier: Apache-2.0
package io.symbolon.file;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.google.common.jimfs.Configuration;
import com.google.common.jimfs.Jimfs;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystem;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.AclFileAttributeView;
import java.nio.file.attribute.UserPrincipal;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * A file system with Windows' rules: drives, names without case, access lists instead of modes, no
 * handles for folders. What it can't show (another program that holds a file open, inheritance of
 * access lists) is said in docs/security.md.
 */
class WindowsRulesTest {
  private static final byte[] KEY = "a key".getBytes(StandardCharsets.UTF_8);

  private FileSystem windows;
  private Path folder;

  @BeforeEach
  void drive() throws IOException {
    windows =
        Jimfs.newFileSystem(
            Configuration.windows().toBuilder()
                .setAttributeViews("basic", "owner", "acl", "dos")
                .build());
    folder = Files.createDirectories(windows.getPath("C:\\Lanternfish\\conf"));
  }

  @AfterEach
  void close() throws IOException {
    windows.close();
  }

  private UserPrincipal account(String name) throws IOException {
    return windows.getUserPrincipalLookupService().lookupPrincipalByName(name);
  }

  private static List<AclEntry> list(Path file) throws IOException {
    return Files.getFileAttributeView(file, AclFileAttributeView.class).getAcl();
  }

  private static AclEntry allow(UserPrincipal who, AclEntryPermission... what) {
    return AclEntry.newBuilder()
        .setType(AclEntryType.ALLOW)
        .setPrincipal(who)
        .setPermissions(what)
        .build();
  }

  @Test
  void aPrivateFileIsBornWithAnAccessListOfItsOwnerAlone() throws IOException {
    Path key = folder.resolve("key.pem");
    WrittenItem written =
        FileSet.write(List.of(new FileItem(key, KEY, Privacy.OWNER_ONLY, Existing.KEEP))).get(0);
    assertArrayEquals(KEY, Files.readAllBytes(key));
    List<AclEntry> entries = list(key);
    assertEquals(1, entries.size());
    assertEquals(account(System.getProperty("user.name")), entries.get(0).principal());
    assertEquals(EnumSet.allOf(AclEntryPermission.class), entries.get(0).permissions());
    assertTrue(written.aside().isEmpty());
    try (Stream<Path> files = Files.list(folder)) {
      assertEquals(List.of(key), files.toList());
    }
  }

  /** A service under an account of its own goes on reading its key when that is renewed. */
  @Test
  void anAccountThatReadsAKeyStillReadsTheNextOne() throws IOException {
    Path key = folder.resolve("key.pem");
    UserPrincipal service = account("NT SERVICE\\Tomcat10");
    FileSet.write(
        List.of(
            new FileItem(key, KEY, Privacy.OWNER_ONLY, Existing.KEEP)
                .withOwner(Optional.of(Owner.parse("NT SERVICE\\Tomcat10")))));
    assertEquals(service, list(key).get(1).principal());
    assertTrue(list(key).get(1).permissions().contains(AclEntryPermission.READ_DATA));
    assertFalse(list(key).get(1).permissions().contains(AclEntryPermission.WRITE_DATA));
    AclFileAttributeView view = Files.getFileAttributeView(key, AclFileAttributeView.class);
    List<AclEntry> more = new java.util.ArrayList<>(view.getAcl());
    more.add(allow(account("Everyone"), AclEntryPermission.READ_DATA));
    more.add(allow(account("backup"), AclEntryPermission.values()));
    view.setAcl(more);
    SafeFile.write(key, KEY, Privacy.OWNER_ONLY, Existing.REPLACE);
    assertEquals(
        List.of(account(System.getProperty("user.name")), service, account("backup")),
        list(key).stream().map(AclEntry::principal).toList());
    assertFalse(list(key).get(2).permissions().contains(AclEntryPermission.WRITE_DATA));
  }

  @Test
  void whatIsReplacedIsKeptInAFolderOfItsOwnerAloneAndComesBack() throws IOException {
    Path store = Files.writeString(folder.resolve("Keystore.p12"), "old");
    // The same file under another spelling of its name.
    Path aside =
        SafeFile.write(folder.resolve("KEYSTORE.P12"), KEY, Privacy.OWNER_ONLY, Existing.REPLACE)
            .orElseThrow();
    assertArrayEquals(KEY, Files.readAllBytes(store));
    assertEquals("old", Files.readString(aside));
    Path undo = java.util.Objects.requireNonNull(aside.getParent());
    assertEquals(1, list(undo).size());
    assertEquals(account(System.getProperty("user.name")), list(undo).get(0).principal());
    Undo.bringBack(Undo.versions(folder).get(0));
    assertEquals("old", Files.readString(store));
  }

  @Test
  void aNameThatIsTakenInAnotherCaseIsTaken() throws IOException {
    Files.writeString(folder.resolve("Key.pem"), "old");
    SymbolonException taken =
        assertThrows(
            SymbolonException.class,
            () ->
                SafeFile.write(folder.resolve("KEY.PEM"), KEY, Privacy.OWNER_ONLY, Existing.KEEP));
    assertEquals(Reason.EXISTS, taken.reason());
    assertEquals("old", Files.readString(folder.resolve("key.pem")));
  }

  @Test
  void aFolderThatAllUsersCanChangeGetsNoKey() throws IOException {
    AclFileAttributeView view = Files.getFileAttributeView(folder, AclFileAttributeView.class);
    for (String broad :
        List.of("Everyone", "BUILTIN\\Users", "NT AUTHORITY\\Authenticated Users")) {
      view.setAcl(List.of(allow(account(broad), AclEntryPermission.WRITE_DATA)));
      SymbolonException refused =
          assertThrows(
              SymbolonException.class,
              () ->
                  SafeFile.write(folder.resolve("k.p12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP));
      assertTrue(refused.seen().contains(broad), refused.seen());
    }
    view.setAcl(List.of(allow(account("BUILTIN\\Users"), AclEntryPermission.READ_DATA)));
    SafeFile.write(folder.resolve("k.p12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP);
  }

  @Test
  void aKeyThatAllUsersCanReadIsTold() throws IOException {
    Path key = Files.writeString(folder.resolve("k.pem"), "x");
    assertEquals(Optional.empty(), Exposure.of(key));
    Files.getFileAttributeView(key, AclFileAttributeView.class)
        .setAcl(List.of(allow(account("BUILTIN\\Users"), AclEntryPermission.READ_DATA)));
    assertEquals(Optional.of("BUILTIN\\Users"), Exposure.of(key).flatMap(Exposure::readers));
  }

  @Test
  void severalFilesAndANewFolderAreOneStep() throws IOException {
    Path made = folder.resolve("buoys");
    FileSet.write(
        List.of(
            new FileItem(made.resolve("a.p12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP),
            new FileItem(
                windows.getPath("C:\\Lanternfish\\a.pass"),
                KEY,
                Privacy.OWNER_ONLY,
                Existing.KEEP)),
        List.of(made));
    assertTrue(Files.exists(made.resolve("a.p12")));
    assertThrows(
        SymbolonException.class,
        () ->
            FileSet.write(
                List.of(
                    new FileItem(folder.resolve("b.p12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP),
                    new FileItem(made.resolve("A.P12"), KEY, Privacy.OWNER_ONLY, Existing.KEEP))));
    assertFalse(Files.exists(folder.resolve("b.p12")));
  }

  @Test
  void aFolderOfThatNameThatIsNotOnRecordStays() throws IOException {
    Path left = Files.createDirectory(folder.resolve(StageFolder.newName()));
    Files.writeString(left.resolve("0.new"), "somebody's");
    FolderWork.holding(List.of(folder.resolve("any")), () -> "");
    assertTrue(Files.exists(left.resolve("0.new")));
  }
}
