// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue;

import static io.symbolon.fixture.Lanternfish.ISSUING;
import static io.symbolon.fixture.Lanternfish.NOW;
import static io.symbolon.fixture.Lanternfish.file;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.limit.Limits;
import io.symbolon.x509.DistinguishedName;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lists of those that credentials are issued for. */
class ClientListTest {
  private static final DistinguishedName COMMON =
      DistinguishedName.parse("O=Lanternfish Observatory,C=IS");

  @TempDir Path temp;

  private ClientList read(String text) {
    return ClientList.read(file(temp, "list.txt", text), COMMON);
  }

  private SymbolonException refused(String text) {
    return assertThrows(SymbolonException.class, () -> read(text));
  }

  @Test
  void namesUserIdsAndWholeSubjectsAreUnderstood() {
    ClientList list =
        read(
            """
            \uFEFF# the fleet

            buoy-017 L00417
              buoy-018,L00418\r
            buoy-019 ; L00419
            CN=Kelp Forest,O=Reef
            UID=L00420
            buoy-021
            """);
    assertEquals(List.of(3, 4, 5, 6, 7, 8), list.clients().stream().map(c -> c.line()).toList());
    assertEquals(
        List.of("buoy-017", "buoy-018", "buoy-019"),
        list.clients().stream().limit(3).map(ClientList.Client::file).toList());
    DistinguishedName first = list.clients().get(0).subject();
    assertEquals("buoy-017", first.commonName().orElseThrow());
    assertTrue(first.toString().contains("UID=L00417") && first.toString().contains("C=IS"));
    assertEquals(DistinguishedName.parse("CN=Kelp Forest,O=Reef"), list.clients().get(3).subject());
    assertEquals("l00420", list.clients().get(4).file(), "without a common name its user id");
    assertEquals(temp.resolve("list.txt"), list.file());
    List<SigningOrder> orders = list.orders(Use.CLIENT, Lifetime.days(9));
    assertEquals(6, orders.size());
    assertEquals(Use.CLIENT, orders.get(5).draft().use());
    assertEquals(Lifetime.days(9), orders.get(5).lasts());
    assertEquals(list.clients().get(5).subject(), orders.get(5).draft().subject());
    list.check(ISSUING, orders, NOW);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "buoy-1 L1 L2|Line 1: There are 3 words",
        "// x/buoy-1/buoy-1|Line 3: The name buoy-1 is there twice.",
        "buoy-1/CN=|Line 2: ",
        "O=Reef|Line 1: It gives no name for a file.",
        "// nobody|Line 1: It names nobody.",
      })
  void aLineWithoutMeaningIsNamed(String text, String seen) {
    SymbolonException e = refused(text.replace("//", "#").replace("/", "\n"));
    assertTrue(e.seen().startsWith(seen), e.seen());
  }

  @Test
  void whatIsNoListIsRefused() throws Exception {
    Path absent = temp.resolve("absent");
    SymbolonException none =
        assertThrows(SymbolonException.class, () -> ClientList.read(absent, COMMON));
    assertEquals("There is no such file.", none.seen());
    Path latin = temp.resolve("latin");
    Files.write(latin, "b\u00f6je".getBytes(StandardCharsets.ISO_8859_1));
    SymbolonException text =
        assertThrows(SymbolonException.class, () -> ClientList.read(latin, COMMON));
    assertTrue(text.seen().contains("not text in UTF-8"), text.seen());
    assertEquals(Reason.UNREADABLE, text.reason());
    String most =
        IntStream.range(0, Limits.CLIENT_LIST_LINES)
            .mapToObj(i -> "b" + i)
            .collect(Collectors.joining("\n"));
    assertEquals(Limits.CLIENT_LIST_LINES, read(most).clients().size());
    assertEquals(Reason.LIMIT_PASSED, refused(most + "\nmore").reason());
    String all = "#" + "x".repeat(Limits.CLIENT_LIST_BYTES - 2) + "\n";
    assertEquals(Reason.NOT_FOUND, refused(all).reason(), "as long as it may be");
    assertEquals(Reason.LIMIT_PASSED, refused(all + "a").reason());
  }

  @Test
  void whatTheAuthorityWouldNotSignIsNamedWithItsLine() {
    ClientList list = read("buoy-1\nCN=buoy-2,C=UK\n");
    SymbolonException e =
        assertThrows(
            SymbolonException.class,
            () -> list.check(ISSUING, list.orders(Use.CLIENT, Lifetime.days(9)), NOW));
    assertTrue(e.seen().startsWith("Line 2: 'UK' is not a country code"), e.seen());
  }
}
