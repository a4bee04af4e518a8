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
import io.symbolon.finding.FindingKind;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.AclEntry;
import java.nio.file.attribute.AclEntryPermission;
import java.nio.file.attribute.AclEntryType;
import java.nio.file.attribute.FileOwnerAttributeView;
import java.nio.file.attribute.GroupPrincipal;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermissions;
import java.nio.file.attribute.UserPrincipal;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is read and written, who may see it, and what is refused. */
@EnabledOnOs({OS.LINUX, OS.MAC})
class FileRulesTest {
  private static final byte[] TEXT = "17 buoys".getBytes(StandardCharsets.UTF_8);

  @TempDir Path temp;

  private static void mode(Path path, String mode) throws IOException {
    Files.setPosixFilePermissions(path, PosixFilePermissions.fromString(mode));
  }

  private static String mode(Path path) throws IOException {
    return PosixFilePermissions.toString(Files.getPosixFilePermissions(path));
  }

  private UserPrincipal nobody() throws IOException {
    assumeTrue(Files.getOwner(Path.of("/proc/self")).getName().equals("root"), "needs root");
    return temp.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName("nobody");
  }

  private static SymbolonException refused(Path target, Existing existing) {
    return assertThrows(SymbolonException.class, () -> SafeFile.check(target, existing));
  }

  @Test
  void whatCouldNotBeWrittenIsToldBeforeTheWork() throws IOException {
    Path file = Files.write(temp.resolve("a"), TEXT);
    SafeFile.check(file, Existing.REPLACE);
    SafeFile.check(temp.resolve("new"), Existing.KEEP);
    SafeFile.checkPrivate(file, Existing.REPLACE, Optional.empty());
    SafeFile.checkPrivate(temp.resolve("new"), Existing.KEEP, Optional.empty());
    assertEquals(Reason.EXISTS, refused(file, Existing.KEEP).reason());
    assertEquals("It is a folder.", refused(temp, Existing.REPLACE).seen());
    assertTrue(refused(temp.resolve("no/x"), Existing.KEEP).seen().contains("does not exist"));
    assertTrue(refused(Path.of("/dev/null"), Existing.REPLACE).seen().contains("a device"));
    Files.createSymbolicLink(temp.resolve("nowhere"), temp.resolve("absent"));
    assertEquals(Reason.EXISTS, refused(temp.resolve("nowhere"), Existing.KEEP).reason());
    assertEquals(temp.resolve("a"), TargetName.whole(temp.resolve("a/./.")));
    assertThrows(SymbolonException.class, () -> TargetName.last(temp.resolve("..")));
    assertThrows(SymbolonException.class, () -> TargetName.last(Path.of("/")));
    assertEquals(Path.of("/"), TargetName.folder(Path.of("/")));
    assertEquals(
        "FileSystem: it is full", NotWritten.message(new FileSystemException("it is full")));
    assertEquals("NoSuchFile", NotWritten.message(new NoSuchFileException(null)));
  }

  @Test
  void aFolderThatOthersCanChangeIsRefusedBeforeAKeyIsMade() throws IOException {
    nobody();
    Path open = Files.createDirectory(temp.resolve("open"));
    mode(open, "rwxrwxrwx");
    Path key = open.resolve("k.p12");
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> SafeFile.checkPrivate(key, Existing.KEEP, Optional.empty()));
    assertTrue(e.seen().contains("can be changed by everybody on this machine"), e.seen());
    Files.setAttribute(open, "unix:mode", 01777);
    SafeFile.checkPrivate(key, Existing.KEEP, Optional.empty());
    Files.write(key, TEXT);
    SafeFile.checkPrivate(key, Existing.REPLACE, Optional.empty());
    Files.setOwner(key, nobody());
    assertThrows(
        SymbolonException.class,
        () -> SafeFile.checkPrivate(key, Existing.REPLACE, Optional.empty()),
        "somebody placed it there");
    Files.setOwner(open, nobody());
    assertThrows(
        SymbolonException.class,
        () -> SafeFile.checkPrivate(open.resolve("b"), Existing.KEEP, Optional.empty()));
    SafeFile.checkPrivate(open.resolve("b"), Existing.KEEP, Optional.of(Owner.parse("nobody")));
  }

  @Test
  void aFileThatGrowsIsCutWhereItCounts() throws IOException {
    Path file = temp.resolve("register");
    SafeFile.append(file, 0, TEXT, true);
    SafeFile.append(file, 3, "whales".getBytes(StandardCharsets.UTF_8), false);
    assertEquals("17 whales", Files.readString(file));
    Files.createSymbolicLink(temp.resolve("link"), file);
    assertThrows(IOException.class, () -> SafeFile.append(temp.resolve("link"), 0, TEXT, true));
    assertEquals("17 whales", Files.readString(file));
  }

  @Test
  void publicFoldersAreMadeAndRemoved() throws IOException {
    Path folder = temp.resolve("well-known");
    assertTrue(PublicFolders.make(folder));
    assertFalse(PublicFolders.make(folder), "it is there");
    assertEquals(mode(Files.createDirectory(temp.resolve("ordinary"))), mode(folder));
    Path file = Files.write(folder.resolve("token"), TEXT);
    assertFalse(PublicFolders.remove(folder), "something is in it");
    assertTrue(Files.exists(file));
    assertTrue(PublicFolders.remove(file));
    assertFalse(Files.exists(file));
    assertTrue(PublicFolders.remove(file), "it is gone already");
    assertTrue(PublicFolders.remove(folder));
    assertFalse(Files.exists(folder));
    assertTrue(PublicFolders.remove(temp.resolve("never/there")));
    try (var left = Files.list(temp)) {
      assertEquals(List.of("ordinary"), left.map(p -> p.getFileName().toString()).toList());
    }
  }

  @Test
  void whatIsReadIsBounded() throws IOException {
    Path file = Files.write(temp.resolve("a"), TEXT);
    SafeRead.Content whole = SafeRead.named(file, TEXT.length, 3);
    assertArrayEquals(TEXT, whole.octets());
    assertTrue(whole.whole());
    assertEquals(TEXT.length, whole.size());
    SafeRead.Content head = SafeRead.named(file, TEXT.length - 1, 3);
    assertFalse(head.whole());
    assertEquals(3, head.octets().length);
    assertEquals(TEXT.length, head.size());
    assertArrayEquals(TEXT, SafeRead.walked(file, 100, 3).octets());
    assertTrue(SafeRead.isOfRootOrUs(file));
    Path link = Files.createSymbolicLink(temp.resolve("link"), Path.of("./sub/../a"));
    Files.createDirectory(temp.resolve("sub"));
    assertArrayEquals(TEXT, SafeRead.named(link, 100, 3).octets());
    NotAFileException walked =
        assertThrows(NotAFileException.class, () -> SafeRead.walked(link, 100, 3));
    assertEquals("a link that was put there just now", walked.what());
    Files.createSymbolicLink(temp.resolve("loop"), temp.resolve("loop"));
    assertThrows(IOException.class, () -> SafeRead.named(temp.resolve("loop"), 100, 3));
    assertThrows(IOException.class, () -> SafeRead.named(temp.resolve("absent"), 100, 3));
  }

  @Test
  @EnabledOnOs(OS.LINUX)
  void whatTheSystemMakesUpIsNotRead() {
    NotAFileException e =
        assertThrows(
            NotAFileException.class,
            () -> SafeRead.named(Path.of("/proc/self/status"), 10_000, 100));
    assertTrue(e.what().contains("the system makes it up"), e.what());
    assertThrows(NotAFileException.class, () -> SafeRead.walked(Path.of("/dev/null"), 10_000, 100));
  }

  @Test
  void aLinkOfAnotherAccountLeadsOnlyToThatAccountsFiles() throws IOException {
    UserPrincipal nobody = nobody();
    Path own = Files.write(temp.resolve("own"), TEXT);
    Path deep = Files.createDirectories(temp.resolve("a/b"));
    // A link of root's leads to a folder, in which one of nobody's leads back up and on.
    Path on = Files.createSymbolicLink(deep.resolve("on"), Path.of("../../a/./link"));
    Path link = Files.createSymbolicLink(temp.resolve("a/link"), own);
    Files.getFileAttributeView(link, FileOwnerAttributeView.class, LinkOption.NOFOLLOW_LINKS)
        .setOwner(nobody);
    for (Path way : List.of(link, on, temp.resolve("a/b/../link"))) {
      NotAFileException e =
          assertThrows(NotAFileException.class, () -> SafeRead.named(way, 100, 3), way.toString());
      assertEquals("reached by a link of the account nobody, and belongs to root", e.what());
    }
    Files.setOwner(own, nobody);
    assertArrayEquals(TEXT, SafeRead.named(on, 100, 3).octets(), "it could have put it there");
    assertFalse(SafeRead.isOfRootOrUs(own));
    assertTrue(SafeRead.isOfRootOrUs(on));
  }

  @ParameterizedTest
  @CsvSource({
    "rw-------, '', '', false",
    "rw-r-----, 'the group', '', false",
    "rw-rw----, 'the group', 'the group', false",
    "rw-r--r--, every user of this machine, '', true",
    "rw--w--w-, '', every user of this machine, true",
    "rw--w----, '', 'the group', false",
  })
  void whoCanDoSomethingWithAFileIsTold(
      String mode, String readers, String writers, boolean everybody) throws IOException {
    Path file = Files.write(temp.resolve("key"), TEXT);
    mode(file, mode);
    Optional<Exposure> exposure = Exposure.of(file);
    if (readers.isEmpty() && writers.isEmpty()) {
      assertEquals(Optional.empty(), exposure);
      return;
    }
    Exposure told = exposure.orElseThrow();
    assertTrue(told.readers().orElse("").startsWith(readers), told.toString());
    assertEquals(readers.isEmpty(), told.readers().isEmpty());
    assertEquals(writers.isEmpty(), told.writers().isEmpty());
    assertEquals(everybody, told.everybody());
    boolean root = Files.getOwner(file).getName().equals("root");
    assertEquals(root && mode.equals("rw-r-----"), told.forService());
    assertEquals(FindingKind.PASSWORD_FILE_OPEN, told.ofPassword().kind());
    String sentence = told.ofPassword().statement();
    assertTrue(sentence.contains(writers.isEmpty() ? "can be read by" : "can be changed by"));
    assertTrue(sentence.contains(writers.isEmpty() ? readers : writers), sentence);
    Path link = Files.createSymbolicLink(temp.resolve("link"), file);
    assertEquals(told.readers(), Exposure.of(link).orElseThrow().readers());
    assertEquals(Optional.empty(), Exposure.of(temp));
    assertEquals(Optional.empty(), Exposure.of(temp.resolve("absent")));
  }

  @Test
  void whoMayReadAResultIsTold() throws IOException {
    Access.Readers[] expected = {
      Access.Readers.OWNER, Access.Readers.GROUP, Access.Readers.EVERYBODY
    };
    String[] modes = {"rw-------", "rw-r-----", "rw-r--r--"};
    Path file = Files.write(temp.resolve("key"), TEXT);
    for (int i = 0; i < modes.length; i++) {
      mode(file, modes[i]);
      Access access = Access.of(Rights.of(file), Optional.of("somebody"));
      assertEquals(expected[i], access.readers());
      assertEquals(Files.getOwner(file).getName(), access.owner());
      assertEquals(
          Files.readAttributes(file, PosixFileAttributes.class).group().getName(), access.group());
      assertEquals(Optional.of("somebody"), access.lost());
    }
    UserPrincipal us = () -> "buoy";
    UserPrincipal other = () -> "reef";
    AclEntry own = entry(us, AclEntryType.ALLOW, AclEntryPermission.READ_DATA);
    AclEntry denied = entry(other, AclEntryType.DENY, AclEntryPermission.READ_DATA);
    AclEntry writer = entry(other, AclEntryType.ALLOW, AclEntryPermission.WRITE_DATA);
    AclEntry reader = entry(other, AclEntryType.ALLOW, AclEntryPermission.READ_DATA);
    assertEquals(Access.Readers.OWNER, readers(us, own, denied, writer));
    assertEquals(Access.Readers.UNKNOWN, readers(us, reader, own));
    assertEquals(Access.Readers.UNKNOWN, Access.of(new Rights.None(), Optional.empty()).readers());
  }

  private static Access.Readers readers(UserPrincipal owner, AclEntry... entries) {
    return Access.of(new Rights.AccessList(owner, List.of(entries)), Optional.empty()).readers();
  }

  private static AclEntry entry(UserPrincipal who, AclEntryType type, AclEntryPermission... all) {
    return AclEntry.newBuilder().setType(type).setPrincipal(who).setPermissions(all).build();
  }

  @Test
  void anOwnerIsAUserAndPerhapsAGroup() {
    assertEquals(new Owner("tomcat", Optional.empty()), Owner.parse("tomcat"));
    assertEquals(new Owner("root", Optional.of("tomcat")), Owner.parse("root:tomcat"));
    for (String wrong : List.of("", ":", "root:", ":tomcat")) {
      assertThrows(SymbolonException.class, () -> Owner.parse(wrong), wrong);
    }
    for (String unknown : List.of("no-such-account", "root:no-such-group")) {
      SymbolonException e =
          assertThrows(
              SymbolonException.class,
              () ->
                  FileSet.write(
                      List.of(
                          new FileItem(temp.resolve("x"), TEXT, Privacy.OWNER_ONLY, Existing.KEEP)
                              .withOwner(Optional.of(Owner.parse(unknown))))));
      assertTrue(e.seen().contains("This machine has no "), e.seen());
      assertFalse(Files.exists(temp.resolve("x")));
    }
  }

  /** A group in which nobody else is may do what its one member may. */
  @Test
  void groupsWithOthersInThemAreStrangers() throws IOException {
    var accounts = temp.getFileSystem().getUserPrincipalLookupService();
    UserPrincipal root = accounts.lookupPrincipalByName("root");
    UserPrincipal daemon = accounts.lookupPrincipalByName("daemon");
    GroupPrincipal rootGroup = accounts.lookupPrincipalByGroupName("root");
    GroupPrincipal daemonGroup = accounts.lookupPrincipalByGroupName("daemon");
    assertTrue(SystemAccounts.isAlone(rootGroup, root));
    assertTrue(SystemAccounts.isAlone(rootGroup, daemon), "root may everything anyway");
    assertTrue(SystemAccounts.isAlone(daemonGroup, daemon));
    boolean own = SystemAccounts.us().getName().equals("daemon");
    assertEquals(own, SystemAccounts.isAlone(daemonGroup, root), "daemon is in it");
    GroupPrincipal unknown = () -> "no-such-group";
    assertFalse(SystemAccounts.isAlone(unknown, root));
    assertTrue(SystemAccounts.isRoot(root));
    assertFalse(SystemAccounts.isRoot(daemon));
    assertTrue(SystemAccounts.isRootOrUs(SystemAccounts.us()));
    assertTrue(SystemAccounts.isUs(SystemAccounts.us()));
  }

  @Test
  void aFileGivenAwayIsReadByItsAccountAndGroup() throws IOException {
    UserPrincipal nobody = nobody();
    Path file = temp.resolve("x");
    FileItem item = new FileItem(file, TEXT, Privacy.OWNER_ONLY, Existing.REPLACE);
    FileSet.write(List.of(item.withOwner(Optional.of(Owner.parse("nobody:daemon")))));
    assertEquals("rw-r-----", mode(file));
    assertEquals(nobody, Files.getOwner(file));
    PosixFileAttributes given = Files.readAttributes(file, PosixFileAttributes.class);
    assertEquals("daemon", given.group().getName());
    // The next one keeps both; an account alone takes the group's right away.
    WrittenItem kept = FileSet.write(List.of(item)).get(0);
    assertEquals("rw-r-----", mode(file));
    assertEquals(Access.Readers.GROUP, kept.access().readers());
    assertEquals(Optional.empty(), kept.access().lost());
    FileSet.write(List.of(item.withOwner(Optional.of(Owner.parse("nobody")))));
    assertEquals("rw-------", mode(file));
    mode(file, "rw-r--r--");
    WrittenItem narrowed = FileSet.write(List.of(item)).get(0);
    assertEquals(Optional.of("everybody on this machine"), narrowed.access().lost());
    assertEquals("rw-------", mode(file));
    mode(file, "r--------");
    FileSet.write(List.of(item));
    assertEquals("r--------", mode(file), "as it was for its owner");
    mode(file, "rw----r--");
    assertEquals(
        Optional.of("everybody on this machine"),
        FileSet.write(List.of(item)).get(0).access().lost());
  }

  @Test
  void rightsOfAnotherAccountAreLostToWhoMayNotGiveFilesAway() throws IOException {
    Rights.Posix made = (Rights.Posix) Rights.of(Files.write(temp.resolve("x"), TEXT));
    GroupPrincipal other = () -> "reef";
    UserPrincipal buoy = () -> "buoy";
    Rights.Posix wanted =
        new Rights.Posix(buoy, other, PosixFilePermissions.fromString("rw-r-----"));
    ResultRights own = new ResultRights(wanted, Optional.empty()).own(made);
    assertEquals(Optional.of("the account buoy and the group reef"), own.lost());
    Rights.Posix got = (Rights.Posix) own.rights();
    assertEquals(made.owner(), got.owner());
    assertEquals("rw-------", PosixFilePermissions.toString(got.permissions()));
    ResultRights same =
        new ResultRights(
                new Rights.Posix(buoy, made.group(), wanted.permissions()), Optional.of("all"))
            .own(made);
    assertEquals(Optional.of("all, the account buoy"), same.lost());
    assertEquals(
        "rw-r-----", PosixFilePermissions.toString(((Rights.Posix) same.rights()).permissions()));
    ResultRights none = new ResultRights(new Rights.None(), Optional.empty());
    assertEquals(none, none.own(made));
  }
}
