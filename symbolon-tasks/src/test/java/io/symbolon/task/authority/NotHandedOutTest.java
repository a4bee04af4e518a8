// SPDX-License-Identifier: Apache-2.0
package io.symbolon.task.authority;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import io.symbolon.chain.Credential;
import io.symbolon.failure.Reason;
import io.symbolon.failure.SymbolonException;
import io.symbolon.fixture.Lanternfish;
import io.symbolon.issue.AuthorityPlan;
import io.symbolon.issue.Lifetime;
import io.symbolon.issue.RequestDraft;
import io.symbolon.issue.SigningOrder;
import io.symbolon.issue.Use;
import io.symbolon.issue.record.Signed;
import io.symbolon.issue.record.SigningAuthority;
import io.symbolon.key.KeyKind;
import io.symbolon.x509.NameConstraints;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A disk that is full just after something was recorded, and a folder that can't be written. */
class NotHandedOutTest {
  private final SymbolonException full =
      new SymbolonException(
          Reason.NOT_WRITABLE,
          "The file a.p12 was not written.",
          "The disk is full.",
          "Make room.");

  @TempDir Path folder;

  private Signed<Credential> signed() {
    SigningAuthority authority =
        SigningAuthority.found(
            folder.resolve("root"),
            new AuthorityPlan(
                Lanternfish.name("Root"),
                KeyKind.EC_P256,
                Lifetime.years(5),
                OptionalInt.empty(),
                new NameConstraints(List.of(), List.of())),
            Optional.empty(),
            Lanternfish.secret("nautilus-ballast-17"),
            Lanternfish.RANDOM,
            Clock.systemUTC());
    return authority.issueUnrecorded(
        new SigningOrder(
            RequestDraft.of(Lanternfish.name("buoy-17"), List.of(), Use.CLIENT), Lifetime.days(9)),
        KeyKind.EC_P256);
  }

  @Test
  void whatIsOnRecordAndLostIsNamedSoThatItCanBeRevoked() {
    Signed<Credential> signed = signed();
    var certificate = signed.value().certificate();
    assertSame(full, NotHandedOut.credentials(signed, List.of(certificate), full));
    signed.record();
    SymbolonException told = NotHandedOut.credentials(signed, List.of(certificate), full);
    assertEquals(full.reason(), told.reason());
    assertTrue(told.statement().contains("1 certificate"), told.statement());
    assertTrue(told.seen().contains("The disk is full."), told.seen());
    assertTrue(told.remedy().advice().contains(certificate.serialHex()), told.remedy().advice());
  }

  @Test
  void whatCouldNotBeRecordedIsNotOnRecordAndCanBeTriedAgain() throws Exception {
    Signed<Credential> signed = signed();
    Path root = folder.resolve("root");
    Path away = Files.move(root, folder.resolve("away"));
    assertThrows(SymbolonException.class, signed::record);
    assertFalse(signed.isRecorded());
    Files.move(away, root);
    signed.record();
    assertTrue(signed.isRecorded());
  }
}
